/** Families of types: a parent with all that descend from it. */
import { itemAt } from '../helpers/at.js';
import { functionOf } from '../linking/flow.js';
import type { Linked } from '../linking/linked.js';
import { partsRunning } from '../linking/world/parts.js';
import { type World, type WorldType } from '../linking/world/world.js';
import { copiedPieces } from '../model/graph.js';
import {
  type FamilySummary,
  type FamilyCell,
  type FamilyRow,
  type Family,
  MOST_COLUMNS,
  NONE,
  inOrder,
} from './family.js';

export function childrenOf({ types: { all: types } }: World): Map<WorldType, WorldType[]> {
  const children = new Map<WorldType, WorldType[]>();
  for (const type of types)
    for (const parent of type.ancestors) {
      const known = children.get(parent);
      if (known) known.push(type);
      else children.set(parent, [type]);
    }
  return children;
}

export function typeSummary(linked: Linked, parent: WorldType, children: readonly WorldType[]): FamilySummary {
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
    file: itemAt(world.facts, parent.source).file,
    members: children.length,
    objects: objectsThatRun(linked, parent).size,
    replaced,
    byNothing,
  };
}

/** Objects that run a type, or one that descends from it: those of prefabs only where no instance holds a copy. */
function objectsThatRun({ world, graph }: Linked, type: WorldType, isItself = false): Set<number> {
  const parts = partsRunning(world, type).filter((part) => !isItself || part.type === type);
  return new Set(parts.filter(({ piece }) => !copiedPieces(graph).has(piece)).map(({ object }) => object));
}

/** Whether a type has a function that does something: taking the place of an empty one loses nothing. */
function fills({ script, local }: WorldType, name: string): boolean {
  return script.functions.some((code) => code.type === local && code.name === name && !code.isEmpty);
}

function declares({ script, local }: WorldType, name: string): boolean {
  return script.functions.some((code) => code.type === local && code.name === name);
}

export function typeGrid(linked: Linked, parent: WorldType, children: readonly WorldType[]): Family {
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
      ...itemAt(parent.script.types, parent.local).fields.map(({ name }) => name),
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
      const reach = reachOf(column).get(itemAt(chain, row));
      if (reach) itemAt(cells, at).reach = reach;
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
    known.set(column, (reach = new Map<WorldType, { members: number; objects: number }>()));
    chain.forEach((type, at) => {
      for (const writer of writersOf(type, column)) {
        const found = reach.get(writer) ?? { members: 0, objects: 0 };
        reach.set(writer, { members: found.members + 1, objects: found.objects + itemAt(rows, at).objects });
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
    itemAt(script.types, local).fields.some((field) => field.name === name && field.default !== undefined) ||
    script.fieldValues.some((one) => one.type === local && one.field === name && one.value.is !== 'nothing')
  );
}

function functionCell(world: World, parent: WorldType, type: WorldType, name: string): FamilyCell {
  const found = functionOf(type, name);
  if (!found) return NONE;
  const { file } = itemAt(world.facts, found.type.source);
  const cell = { text: '', file, range: found.fact.range };
  if (found.type !== type) return { ...cell, is: 'inherited' };
  if (type === parent || !type.ancestors.some((one) => fills(one, name))) return { ...cell, is: 'own' };
  const { callsParent, isEmpty } = found.fact;
  if (callsParent) return { ...cell, is: 'calls through', text: callsParent };
  return { ...cell, is: isEmpty ? 'by nothing' : 'replaced' };
}

function fieldCell(world: World, parent: WorldType, type: WorldType, name: string, isUsed: boolean): FamilyCell {
  const { script, local, source } = type;
  const { file } = itemAt(world.facts, source);
  const field = itemAt(script.types, local).fields.find((one) => one.name === name);
  if (field?.default !== undefined) return { is: 'value', text: field.default, file, range: field.range };
  if (hasValue(type, name))
    return { is: 'value', text: 'set in code', file, range: field?.range ?? itemAt(script.types, local).range };
  if (partsRunning(world, type).some((part) => part.values.some(({ value }) => value.name === name)))
    return { is: 'value', text: 'saved', file, range: null };
  if (type.ancestors.some((one) => hasValue(one, name))) return { is: 'inherited', text: '', file, range: null };
  return type !== parent && isUsed
    ? { is: 'never set', text: '', file, range: itemAt(script.types, local).range }
    : NONE;
}
