/** Families: a parent type, a base prefab, or a record that others are like, with all that descends from it; what each has of its parent's, and what of its own. */
import { once } from '../helpers/once.js';
import { kindOf, nameOf, rangeOf } from '../model/graph.js';
import { VERBS } from '../model/link.js';
import type { Range } from '../model/piece.js';
import { functionOf } from '../linking/flow.js';
import type { Linked } from '../linking/linked.js';
import { partsRunning } from '../linking/world/parts.js';
import { push } from '../helpers/push.js';
import { topOf, type ValueOnPart, type World, type WorldPart, type WorldType } from '../linking/world/world.js';
import { formerTexts } from './former.js';

export interface FamilySummary {
  /** Piece of the parent type, the prefab, or the record. */
  piece: number;
  kind: 'type' | 'prefab' | 'record';
  name: string;
  file: string;
  /** Children, or instances. */
  members: number;
  /** Objects of scenes that run one of its types, or that are made from the prefab, by way of others too. */
  objects: number;
  /** Members of the parent that a child has replaced, those by nothing among them; values that instances save over it. */
  replaced: number;
  byNothing: number;
}

/**
 * `own`: declared here; `inherited`: the parent's; `calls through`: own, and the parent's runs as well; `masks`: what
 * the prefab said before it was changed, saved over what it says now.
 */
export type Holds =
  'own' | 'inherited' | 'calls through' | 'replaced' | 'by nothing' | 'value' | 'same' | 'masks' | 'never set' | 'none';

export interface FamilyCell {
  is: Holds;
  /** A value, as written; of what calls through, when the parent's runs: `before` its own code, `after` or `amid` it. */
  text: string;
  file: string;
  range: Range | null;
  /** What an edit made here reaches, itself included. Not told of records, and of what is not written here. */
  reach?: { members: number; objects: number };
}

export interface FamilyRow {
  piece: number;
  name: string;
  /** How far below the parent. */
  depth: number;
  objects: number;
  cells: FamilyCell[];
  replaced: number;
}

export interface Family extends FamilySummary {
  columns: { name: string; kind: 'function' | 'field' }[];
  /** The parent first. */
  rows: FamilyRow[];
}

const MOST_COLUMNS = 60;
/** `Gauge 9` before `Gauge 10`. */
const byName = new Intl.Collator('en', { numeric: true });
const NONE: FamilyCell = { is: 'none', text: '', file: '', range: null };

/** All families, those with most replaced first. */
export function familiesOf(linked: Linked): FamilySummary[] {
  const { world } = linked;
  const types = [...childrenOf(world)].map(([parent, children]) => typeSummary(linked, parent, children));
  const prefabs = [...world.prefabs.instanced].map((source) => prefabSummary(linked, source));
  const records = [...likeOf(linked)].map(([parent, children]) => recordSummary(linked, parent, children));
  return [...types, ...prefabs, ...records].sort(
    (a, b) => b.replaced - a.replaced || b.members - a.members || byName.compare(a.name, b.name),
  );
}

/** One family as a grid; undefined when the piece is no parent. */
export function familyOf(linked: Linked, piece: number): Family | undefined {
  const { world, graph } = linked;
  const type = world.types.all.find((one) => one.piece === piece);
  const children = type && childrenOf(world).get(type);
  if (type && children) return typeGrid(linked, type, children);
  const source = kindOf(graph, piece) === 'prefab' ? world.files.piece.indexOf(piece) : -1;
  if (world.prefabs.instanced.has(source)) return prefabGrid(linked, source);
  const like = likeOf(linked).get(piece);
  return like && recordGrid(linked, piece, like);
}

function childrenOf({ types: { all: types } }: World): Map<WorldType, WorldType[]> {
  const children = new Map<WorldType, WorldType[]>();
  for (const type of types)
    for (const parent of type.ancestors) {
      const known = children.get(parent);
      if (known) known.push(type);
      else children.set(parent, [type]);
    }
  return children;
}

// Types --------------------------------------------------------------------------------------------------------------

function typeSummary(linked: Linked, parent: WorldType, children: readonly WorldType[]): FamilySummary {
  const { world } = linked;
  let replaced = 0;
  let byNothing = 0;
  for (const child of children)
    for (const { type, name, callsParent, isEmpty } of child.script.functions) {
      if (type !== child.local || callsParent || !name || !fills(parent, name)) continue;
      replaced++;
      if (isEmpty) byNothing++;
    }
  return {
    piece: parent.piece,
    kind: 'type',
    name: parent.name,
    file: world.facts[parent.source].file,
    members: children.length,
    objects: objectsThatRun(linked, parent).size,
    replaced,
    byNothing,
  };
}

/** Objects of scenes that run a type, or one that descends from it. */
function objectsThatRun({ world, graph }: Linked, type: WorldType, isItself = false): Set<number> {
  const parts = partsRunning(world, type).filter((part) => !isItself || part.type === type);
  return new Set(parts.map(({ object }) => object).filter((object) => kindOf(graph, topOf(world, object)) === 'scene'));
}

/** Whether a type has a function that does something: taking the place of an empty one loses nothing. */
function fills({ script, local }: WorldType, name: string): boolean {
  return script.functions.some((code) => code.type === local && code.name === name && !code.isEmpty);
}

function declares({ script, local }: WorldType, name: string): boolean {
  return script.functions.some((code) => code.type === local && code.name === name);
}

function typeGrid(linked: Linked, parent: WorldType, children: readonly WorldType[]): Family {
  const { world } = linked;
  const chain = [parent, ...children];
  const functions = [
    ...new Set(
      chain.flatMap(({ script, local }) =>
        script.functions.filter((code) => code.type === local && code.name).map(({ name }) => name),
      ),
    ),
  ].filter((name) => declares(parent, name) || children.filter((child) => declares(child, name)).length > 1);
  const used = new Set(parent.script.fieldReads.filter(({ type }) => type === parent.local).map(({ field }) => field));
  const fields = [
    ...new Set([
      ...parent.script.types[parent.local].fields.map(({ name }) => name),
      ...[...used].filter((name) => !declares(parent, name)),
    ]),
  ];
  const columns = [
    ...functions.map((name) => ({ name, kind: 'function' as const })),
    ...fields.map((name) => ({ name, kind: 'field' as const })),
  ].slice(0, MOST_COLUMNS);
  const rows = chain.map((type): FamilyRow => {
    const cells = columns.map(({ name, kind }) =>
      kind === 'function'
        ? functionCell(world, parent, type, name)
        : fieldCell(world, parent, type, name, used.has(name)),
    );
    return {
      piece: type.piece,
      name: type.name,
      depth: type === parent ? 0 : type.ancestors.indexOf(parent) + 1,
      objects: objectsThatRun(linked, type, true).size,
      cells,
      replaced: cells.filter(({ is }) => is === 'replaced' || is === 'by nothing').length,
    };
  });
  const reachOf = reachIn(chain, rows);
  rows.forEach(({ cells }, row) =>
    columns.forEach((column, at) => {
      const reach = reachOf(column).get(chain[row]);
      if (reach) cells[at].reach = reach;
    }),
  );
  return { ...typeSummary(linked, parent, children), columns, rows: inOrder(rows) };
}

type Reach = Map<WorldType, { members: number; objects: number }>;

/** Of each member: how many members, and objects of them, run or have what stands in it. Worked out once for each column. */
function reachIn(
  chain: readonly WorldType[],
  rows: readonly FamilyRow[],
): (column: Family['columns'][number]) => Reach {
  const known = new Map<Family['columns'][number], Reach>();
  return (column) => {
    let reach = known.get(column);
    if (reach) return reach;
    known.set(column, (reach = new Map()));
    chain.forEach((type, at) => {
      for (const writer of writersOf(type, column)) {
        const found = reach.get(writer) ?? { members: 0, objects: 0 };
        reach.set(writer, { members: found.members + 1, objects: found.objects + rows[at].objects });
      }
    });
    return reach;
  };
}

/** The types whose function a type runs, or whose value it has: the nearest, and those that it calls through to. */
function writersOf(type: WorldType, { name, kind }: Family['columns'][number]): WorldType[] {
  const writers: WorldType[] = [];
  for (const one of [type, ...type.ancestors]) {
    const { script, local } = one;
    if (kind === 'field') {
      if (hasValue(one, name)) return [one];
      continue;
    }
    const code = script.functions.find((fact) => fact.type === local && fact.name === name);
    if (!code) continue;
    writers.push(one);
    if (!code.callsParent) return writers;
  }
  return writers;
}

/** Whether the code of a type gives a field a value. */
function hasValue({ script, local }: WorldType, name: string): boolean {
  return (
    script.types[local].fields.some((field) => field.name === name && field.default !== undefined) ||
    script.fieldValues.some((one) => one.type === local && one.field === name && one.value.is !== 'nothing')
  );
}

function functionCell(world: World, parent: WorldType, type: WorldType, name: string): FamilyCell {
  const found = functionOf(type, name);
  if (!found) return NONE;
  const { file } = world.facts[found.type.source];
  const cell = { text: '', file, range: found.fact.range };
  if (found.type !== type) return { ...cell, is: 'inherited' };
  if (type === parent || !type.ancestors.some((one) => fills(one, name))) return { ...cell, is: 'own' };
  const { callsParent, isEmpty } = found.fact;
  if (callsParent) return { ...cell, is: 'calls through', text: callsParent };
  return { ...cell, is: isEmpty ? 'by nothing' : 'replaced' };
}

function fieldCell(world: World, parent: WorldType, type: WorldType, name: string, isUsed: boolean): FamilyCell {
  const { script, local, source } = type;
  const { file } = world.facts[source];
  const field = script.types[local].fields.find((one) => one.name === name);
  if (field?.default !== undefined) return { is: 'value', text: field.default, file, range: field.range };
  if (hasValue(type, name))
    return { is: 'value', text: 'set in code', file, range: field?.range ?? script.types[local].range };
  if (partsRunning(world, type).some((part) => part.values.some(({ value }) => value.name === name)))
    return { is: 'value', text: 'saved', file, range: null };
  if (type.ancestors.some((one) => hasValue(one, name))) return { is: 'inherited', text: '', file, range: null };
  return type !== parent && isUsed ? { is: 'never set', text: '', file, range: script.types[local].range } : NONE;
}

/** The parent, then each child below the one it descends from, those that replace most first. */
function inOrder(rows: FamilyRow[]): FamilyRow[] {
  const [parent, ...others] = rows;
  return [parent, ...others.sort((a, b) => b.replaced - a.replaced || byName.compare(a.name, b.name))];
}

// Prefabs ------------------------------------------------------------------------------------------------------------

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
    source[piece] = known.inScenes.has(piece) ? piece : origin[piece] >= 0 ? source[origin[piece]] : -1;
    const from = source[piece];
    if (from >= 0 && kindOf(graph, topOf(world, piece)) === 'scene')
      known.inScenes.set(from, known.inScenes.get(from)! + 1);
  }
  return known;
});

function sum(counts: Iterable<number>): number {
  let all = 0;
  for (const count of counts) all += count;
  return all;
}

function prefabSummary(linked: Linked, source: number): FamilySummary {
  const { world } = linked;
  const { of, inScenes } = instancesIn(linked.world);
  const made = of.get(source) ?? [];
  const replaced = sum(made.map((object) => savedOn(world, object).length));
  const { file, name } = world.facts[source];
  const objects = sum(made.map((object) => inScenes.get(object)!));
  const counts = { members: made.length, objects, replaced, byNothing: 0 };
  return { piece: world.files.piece[source], kind: 'prefab', name, file, ...counts };
}

/** Fields of an instance for which more than the prefab's own value is saved. */
function savedOn(world: World, object: number): { part: WorldPart; name: string }[] {
  return (world.trees.partsOf.get(object) ?? []).flatMap((part) => {
    const names = new Set(
      part.values.filter((one) => one.source !== part.values[0].source).map((one) => one.value.name),
    );
    return [...names].map((name) => ({ part, name }));
  });
}

function prefabGrid(linked: Linked, source: number): Family {
  const { world, graph } = linked;
  const { of, inScenes } = instancesIn(linked.world);
  const objects = of.get(source) ?? [];
  const [root] = world.trees.children.get(world.files.piece[source]) ?? [];
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
    const following = made.filter(({ cells }) => cells[at].is === 'inherited');
    for (const { cells } of base)
      cells[at].reach = { members: following.length + 1, objects: sum(following.map((row) => row.objects)) };
    for (const { cells, objects: own } of made)
      if (cells[at].is !== 'inherited') cells[at].reach = { members: 1, objects: own };
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
    const cell = { text, file: world.facts[last.source].file, range: last.value.range };
    if (isBase) return { ...cell, is: 'own' };
    if (levels.length < 2) return { ...cell, is: 'inherited' };
    const base = levels.at(-2)!;
    if (base.value.text === last.value.text) return { ...cell, is: 'same' };
    const isFormer =
      last.value.text !== undefined && base.value.text !== undefined && formerOf(base).includes(last.value.text);
    return { ...cell, is: isFormer ? 'masks' : 'replaced' };
  }
  return NONE;
}

// Records ------------------------------------------------------------------------------------------------------------

/** Records, and other pieces of data, that are derived from each, directly or by way of others; a circle ends where it closes. */
function likeOf({ graph }: Linked): Map<number, number[]> {
  const children = new Map<number, number[]>();
  for (let link = 0; link < graph.linkCount; link++) {
    const { from, to, verb } = graph.links;
    if (verb[link] !== EXTENDS || to[link] < 0 || kindOf(graph, from[link]) === 'type') continue;
    const known = children.get(to[link]);
    if (known) known.push(from[link]);
    else children.set(to[link], [from[link]]);
  }
  return new Map(
    [...children.keys()].map((parent) => {
      const all: number[] = [];
      const open = [...children.get(parent)!];
      for (let piece = open.shift(); piece !== undefined; piece = open.shift()) {
        if (piece === parent || all.includes(piece)) continue;
        all.push(piece);
        open.push(...(children.get(piece) ?? []));
      }
      return [parent, all];
    }),
  );
}

const EXTENDS = VERBS.indexOf('extends');

/** What the plan keeps of a piece of data. */
function detailsOf({ world, graph }: Linked, piece: number): Record<string, string> {
  const source = world.files.sourceOf.get(graph.texts[graph.pieces.file[piece]]);
  const at = source === undefined ? -1 : world.trees.pieceOf[source].indexOf(piece);
  return at < 0 ? {} : (world.facts[source!].pieces[at].details ?? {});
}

function recordSummary(linked: Linked, parent: number, children: readonly number[]): FamilySummary {
  const { graph } = linked;
  const base = detailsOf(linked, parent);
  const differing = (child: number): number =>
    Object.entries(detailsOf(linked, child)).filter(([name, text]) => name in base && base[name] !== text).length;
  return {
    piece: parent,
    kind: 'record',
    name: nameOf(graph, parent),
    file: graph.texts[graph.pieces.file[parent]],
    members: children.length,
    objects: 0,
    replaced: children.reduce((sum, child) => sum + differing(child), 0),
    byNothing: 0,
  };
}

function recordGrid(linked: Linked, parent: number, children: readonly number[]): Family {
  const { graph } = linked;
  const names = new Set([parent, ...children].flatMap((piece) => Object.keys(detailsOf(linked, piece))));
  const columns = [...names].slice(0, MOST_COLUMNS).map((name) => ({ name, kind: 'field' as const }));
  const base = detailsOf(linked, parent);
  const rows = [parent, ...children].map((piece): FamilyRow => {
    const own = detailsOf(linked, piece);
    const file = graph.texts[graph.pieces.file[piece]];
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
