/** Families of records that extend another one. */
import { cellAt, itemAt, must } from '../helpers/at.js';
import type { Linked } from '../linking/linked.js';
import { nameOf, rangeOf } from '../model/graph.js';
import { VERBS } from '../model/link.js';
import { type FamilySummary, type FamilyCell, type FamilyRow, type Family, MOST_COLUMNS, inOrder } from './family.js';

export const EXTENDS = VERBS.indexOf('extends');

/** What the plan keeps of a piece of data. */
function detailsOf({ world, graph }: Linked, piece: number): Record<string, string> {
  const source = world.files.sourceOf.get(itemAt(graph.texts, cellAt(graph.pieces.file, piece)));
  const at = source === undefined ? -1 : itemAt(world.trees.pieceOf, source).indexOf(piece);
  return at < 0 ? {} : (itemAt(itemAt(world.facts, must(source)).pieces, at).details ?? {});
}

export function recordSummary(linked: Linked, parent: number, children: readonly number[]): FamilySummary {
  const { graph } = linked;
  const base = detailsOf(linked, parent);
  const differing = (child: number): number =>
    Object.entries(detailsOf(linked, child)).filter(([name, text]) => name in base && base[name] !== text).length;
  return {
    piece: parent,
    kind: 'record',
    name: nameOf(graph, parent),
    file: itemAt(graph.texts, cellAt(graph.pieces.file, parent)),
    members: children.length,
    objects: 0,
    replaced: children.reduce((sum, child) => sum + differing(child), 0),
    byNothing: 0,
  };
}

export function recordGrid(linked: Linked, parent: number, children: readonly number[]): Family {
  const { graph } = linked;
  const names = new Set([parent, ...children].flatMap((piece) => Object.keys(detailsOf(linked, piece))));
  const columns = [...names].slice(0, MOST_COLUMNS).map((name) => ({ name, kind: 'field' as const }));
  const base = detailsOf(linked, parent);
  const rows = [parent, ...children].map((piece): FamilyRow => {
    const own = detailsOf(linked, piece);
    const file = itemAt(graph.texts, cellAt(graph.pieces.file, piece));
    const cells = columns.map(({ name }): FamilyCell => {
      const cell = { text: own[name] ?? '', file, range: rangeOf(graph.pieces, piece) };
      if (!(name in own)) return { ...cell, range: null, is: piece === parent ? 'none' : 'inherited' };
      if (piece === parent || !(name in base)) return { ...cell, is: 'own' };
      return { ...cell, is: own[name] === base[name] ? 'same' : 'replaced' };
    });
    const replaced = cells.filter(({ is }) => is === 'replaced').length;
    return { piece, name: nameOf(graph, piece), depth: piece === parent ? 0 : 1, objects: 0, cells, replaced };
  });
  return { ...recordSummary(linked, parent, children), columns, rows: inOrder(rows) };
}
