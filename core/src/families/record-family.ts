/** Families of records that extend another one. */
import { cellAt, itemAt, knownIn, must } from '../helpers/at.js';
import type { Linked } from '../linking/linked.js';
import { recordFields, type RecordLevel } from '../linking/records.js';
import { nameOf, rangeOf } from '../model/graph.js';
import { VERBS } from '../model/link.js';
import {
  type FamilySummary,
  type FamilyCell,
  type FamilyRow,
  type Family,
  MOST_COLUMNS,
  NONE,
  inOrder,
} from './family.js';

export const EXTENDS = VERBS.indexOf('extends');

/** What a piece of data says: its values where the plan reads them, or what it keeps of it. */
interface Says {
  /** By name: the text in force, where the piece itself says it, and where it is said last, by itself or a base. */
  fields: Map<string, { text: string; own: RecordLevel | undefined; last: RecordLevel | undefined }>;
}

function saysOf(linked: Linked, piece: number): Says {
  const { world, graph } = linked;
  const fields: Says['fields'] = new Map();
  for (const { name, levels, text, words } of recordFields(world, piece).fields.values()) {
    const last = levels.at(-1);
    const own = last?.piece === piece ? last : undefined;
    const written = last?.value.empty ? '(empty)' : (last?.value.text ?? '(a list)');
    const isPlain = words === undefined && last?.value.joins === 'replaces';
    fields.set(name, { text: isPlain ? written : (text ?? '(not known)'), own, last });
  }
  if (fields.size > 0) return { fields };
  const file = itemAt(graph.texts, cellAt(graph.pieces.file, piece));
  const range = rangeOf(graph.pieces, piece);
  const levelOf = (name: string, text: string): RecordLevel => ({
    ...{ piece, file },
    value: { name, text, empty: false, range, joins: 'replaces' },
  });
  for (const [name, text] of Object.entries(detailsOf(linked, piece)))
    fields.set(name, { text, own: levelOf(name, text), last: undefined });
  return { fields };
}

/** What the plan keeps of a piece of data. */
function detailsOf({ world, graph }: Linked, piece: number): Record<string, string> {
  const source = world.files.sourceOf.get(itemAt(graph.texts, cellAt(graph.pieces.file, piece)));
  const at = source === undefined ? -1 : itemAt(world.trees.pieceOf, source).indexOf(piece);
  return at < 0 ? {} : (itemAt(itemAt(world.facts, must(source)).pieces, at).details ?? {});
}

export function recordSummary(linked: Linked, parent: number, children: readonly number[]): FamilySummary {
  const { graph } = linked;
  const base = saysOf(linked, parent);
  const differing = (child: number): number =>
    [...saysOf(linked, child).fields].filter(([name, { text, own }]) => own && isOther(base, name, text)).length;
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

function isOther({ fields }: Says, name: string, text: string): boolean {
  const there = fields.get(name);
  return there !== undefined && there.text !== text;
}

export function recordGrid(linked: Linked, parent: number, children: readonly number[]): Family {
  const { graph } = linked;
  const says = new Map([parent, ...children].map((piece) => [piece, saysOf(linked, piece)]));
  const names = new Set([...says.values()].flatMap(({ fields }) => [...fields.keys()]));
  const columns = [...names].slice(0, MOST_COLUMNS).map((name) => ({ name, kind: 'field' as const }));
  const base = knownIn(says, parent);
  const rows = [parent, ...children].map((piece): FamilyRow => {
    const { fields } = knownIn(says, piece);
    const cells = columns.map(({ name }): FamilyCell => {
      const said = fields.get(name);
      const from = base.fields.get(name);
      if (!said?.own) {
        // Another base than this one says otherwise.
        if (said?.last && from && said.text !== from.text)
          return { is: 'value', text: said.text, file: said.last.file, range: said.last.value.range };
        // What is kept of data without values is not handed down by name: the base's stands for it.
        const has = said ?? (piece === parent ? undefined : from);
        return has
          ? { ...NONE, is: 'inherited', text: said?.text ?? '' }
          : piece === parent
            ? NONE
            : { ...NONE, is: 'inherited' };
      }
      const cell = { text: said.text, file: said.own.file, range: said.own.value.range };
      if (piece === parent || !from) return { ...cell, is: 'own' };
      return { ...cell, is: from.text === said.text ? 'same' : 'replaced' };
    });
    const replaced = cells.filter(({ is }) => is === 'replaced').length;
    return { piece, name: nameOf(graph, piece), depth: piece === parent ? 0 : 1, objects: 0, cells, replaced };
  });
  return { ...recordSummary(linked, parent, children), columns, rows: inOrder(rows) };
}
