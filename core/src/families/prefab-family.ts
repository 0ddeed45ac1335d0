/** Families of prefabs: a prefab with its instances. */
import { cellAt, itemAt, knownIn, must } from '../helpers/at.js';
import { once } from '../helpers/once.js';
import { push } from '../helpers/push.js';
import type { Linked } from '../linking/linked.js';
import { topOf, type ValueOnPart, type World, type WorldPart } from '../linking/world/world.js';
import { kindOf, nameOf } from '../model/graph.js';
import {
  type FamilySummary,
  type FamilyCell,
  type FamilyRow,
  type Family,
  MOST_COLUMNS,
  byName,
  NONE,
  sum,
} from './family.js';
import { formerTexts } from './former.js';
import { EXTENDS } from './record-family.js';

/** What files make from prefabs. Trees stay as they are as long as a world does: gathered once. */
interface Instances {
  /** By prefab: one object for each place that says so. */
  of: Map<number, number[]>;
  /** By such an object: objects of scenes that come of it, itself and its copies inside other prefabs' instances. */
  inScenes: Map<number, number>;
}

const instancesIn = once((world: World): Instances => {
  const { graph } = world.builder;
  const known: Instances = { of: new Map(), inScenes: new Map() };
  for (const made of world.prefabs.madeFrom.values())
    for (const { object, prefab } of made) {
      push(known.of, prefab, object);
      known.inScenes.set(object, 0);
    }
  const { origin } = graph.pieces;
  const source = new Int32Array(graph.pieceCount).fill(-1);
  // A copy stands behind what it was copied from.
  for (let piece = 0; piece < graph.pieceCount; piece++) {
    source[piece] = known.inScenes.has(piece)
      ? piece
      : cellAt(origin, piece) >= 0
        ? cellAt(source, cellAt(origin, piece))
        : -1;
    const from = cellAt(source, piece);
    if (from >= 0 && kindOf(graph, topOf(world, piece)) === 'scene')
      known.inScenes.set(from, knownIn(known.inScenes, from) + 1);
  }
  return known;
});

export function prefabSummary(linked: Linked, source: number): FamilySummary {
  const { world } = linked;
  const { of, inScenes } = instancesIn(linked.world);
  const made = of.get(source) ?? [];
  const replaced = sum(made.map((object) => savedOn(world, object).length));
  const { file, name } = itemAt(world.facts, source);
  const objects = sum(made.map((object) => knownIn(inScenes, object)));
  const counts = { members: made.length, objects, replaced, byNothing: 0 };
  return { piece: itemAt(world.files.piece, source), kind: 'prefab', name, file, ...counts };
}

/** Fields of an instance for which more than the prefab's own value is saved. */
function savedOn(world: World, object: number): { part: WorldPart; name: string }[] {
  return (world.trees.partsOf.get(object) ?? []).flatMap((part) => {
    const names = new Set(
      part.values.filter((one) => one.source !== itemAt(part.values, 0).source).map((one) => one.value.name),
    );
    return [...names].map((name) => ({ part, name }));
  });
}

export function prefabGrid(linked: Linked, source: number): Family {
  const { world, graph } = linked;
  const { of, inScenes } = instancesIn(linked.world);
  const objects = of.get(source) ?? [];
  const root = itemAt(world.trees.children.get(itemAt(world.files.piece, source)) ?? [], 0);
  const names = new Set(
    [root, ...objects].flatMap((object) =>
      (world.trees.partsOf.get(object) ?? []).flatMap((part) => part.values.map((one) => one.value.name)),
    ),
  );
  const columns = [...names].slice(0, MOST_COLUMNS).map((name) => ({ name, kind: 'field' as const }));
  const formerOf = formerTextsOf(linked);
  const rowOf = (object: number, depth: number): FamilyRow => {
    const cells = columns.map(({ name }) => valueCell(world, object, name, depth === 0, formerOf));
    return {
      piece: object,
      name: nameOf(graph, object),
      depth,
      objects: depth === 0 ? 0 : (inScenes.get(object) ?? 0),
      cells,
      replaced: cells.filter(({ is }) => is === 'replaced' || is === 'masks').length,
    };
  };
  const made = objects
    .map((object) => rowOf(object, 1))
    .sort((a, b) => b.replaced - a.replaced || byName.compare(a.name, b.name));
  const base = root === undefined ? [] : [rowOf(root, 0)];
  columns.forEach((_, at) => {
    const following = made.filter(({ cells }) => itemAt(cells, at).is === 'inherited');
    for (const { cells } of base)
      itemAt(cells, at).reach = { members: following.length + 1, objects: sum(following.map((row) => row.objects)) };
    for (const { cells, objects: own } of made)
      if (itemAt(cells, at).is !== 'inherited') itemAt(cells, at).reach = { members: 1, objects: own };
  });
  const rows = [...base, ...made];
  return { ...prefabSummary(linked, source), columns, rows };
}

/** What a value was before, asked once for each place. */
function formerTextsOf(linked: Linked): (value: ValueOnPart) => string[] {
  const known = new Map<string, string[]>();
  return (one) => {
    const key = [one.source, one.pieceFact, one.partFact, one.value.name].join(' ');
    let texts = known.get(key);
    if (!texts) known.set(key, (texts = formerTexts(linked, one).map(({ text }) => text)));
    return texts;
  };
}

function valueCell(
  world: World,
  object: number,
  name: string,
  isBase: boolean,
  formerOf: (value: ValueOnPart) => string[],
): FamilyCell {
  for (const part of world.trees.partsOf.get(object) ?? []) {
    const levels = part.values.filter((one) => one.value.name === name);
    const last = levels.at(-1);
    if (!last) continue;
    const text = last.value.empty ? '(empty)' : (last.value.text ?? '(a list)');
    const cell = { text, file: itemAt(world.facts, last.source).file, range: last.value.range };
    if (isBase) return { ...cell, is: 'own' };
    if (levels.length < 2) return { ...cell, is: 'inherited' };
    const base = must(levels.at(-2));
    if (base.value.text === last.value.text) return { ...cell, is: 'same' };
    const isFormer =
      last.value.text !== undefined && base.value.text !== undefined && formerOf(base).includes(last.value.text);
    return { ...cell, is: isFormer ? 'masks' : 'replaced' };
  }
  return NONE;
}

/** Records, and other pieces of data, that are derived from each, directly or by way of others; a circle ends where it closes. */
export function likeOf({ graph }: Linked): Map<number, number[]> {
  const children = new Map<number, number[]>();
  for (let link = 0; link < graph.linkCount; link++) {
    const { from, to, verb } = graph.links;
    if (verb[link] !== EXTENDS || cellAt(to, link) < 0 || kindOf(graph, cellAt(from, link)) === 'type') continue;
    const known = children.get(cellAt(to, link));
    if (known) known.push(cellAt(from, link));
    else children.set(cellAt(to, link), [cellAt(from, link)]);
  }
  return new Map(
    [...children.keys()].map((parent) => {
      const all: number[] = [];
      const open = [...knownIn(children, parent)];
      for (let piece = open.shift(); piece !== undefined; piece = open.shift()) {
        if (piece === parent || all.includes(piece)) continue;
        all.push(piece);
        open.push(...(children.get(piece) ?? []));
      }
      return [parent, all];
    }),
  );
}
