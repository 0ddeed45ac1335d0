/** What the values in a script came to, from every object that carries it: read off the map, not evaluated again. */
import { cellAt, itemAt } from '../helpers/at.js';
import { oncePair } from '../helpers/once.js';
import { groupOf } from '../model/graph.js';
import type { Range } from '../model/piece.js';
import type { Linked } from '../linking/linked.js';
import { partsRunning } from '../linking/world/parts.js';
import { push } from '../helpers/push.js';
import type { World, WorldPart, WorldType } from '../linking/world/world.js';
import type { Operation, ScriptFacts, Value } from '../reading/facts.js';
import type { Meaning } from '../reading/plan/meanings.js';
import type { CallRule, Plan } from '../reading/plan/plan.js';

/** A piece that a value leads to, from one part that runs the code. */
export interface Reached {
  part: WorldPart;
  piece: number;
}

/** Where a value comes from, through fields that it is kept in: look-ups, the own object. */
export interface Behind {
  lookUps: { type: WorldType; operation: number }[];
  isSelf: boolean;
}

export function behind(world: World, type: WorldType, value: Value, depth = 0): Behind {
  if (value.is === 'self') return { lookUps: [], isSelf: true };
  if (value.is === 'operation') {
    const { rule, receiver } = itemAt(type.script.operations, value.operation);
    if (itemAt(world.plan.calls, rule).means === 'same object') return behind(world, type, receiver, depth);
    return { lookUps: [{ type, operation: value.operation }], isSelf: false };
  }
  const from =
    depth > 3
      ? []
      : value.is === 'any'
        ? value.of.map((one) => behind(world, type, one, depth + 1))
        : value.is === 'field'
          ? [type, ...type.ancestors].flatMap((of) =>
              of.script.fieldValues
                .filter(({ type: local, field }) => local === of.local && field === value.name)
                .map((kept) => behind(world, of, kept.value, depth + 1)),
            )
          : [];
  return { lookUps: from.flatMap(({ lookUps }) => lookUps), isSelf: from.some(({ isSelf }) => isSelf) };
}

/** Pieces that a value of a type's code leads to: what its look-ups found, and what fills the slot. */
export function reached({ graph, world }: Linked, type: WorldType, value: Value): Reached[] {
  const { lookUps, isSelf } = behind(world, type, value);
  const places = new Set(
    lookUps.map(({ type: of, operation }) =>
      placeKey(itemAt(world.facts, of.source).file, itemAt(of.script.operations, operation).range),
    ),
  );
  const slot = value.is === 'field' ? value.name : undefined;
  if (places.size === 0 && slot === undefined && !isSelf) return [];
  const { links, texts } = graph;
  return partsRunning(world, type).flatMap((part) => [
    ...(isSelf ? [{ part, piece: part.object }] : []),
    ...[...groupOf(graph.outgoing, part.piece)].flatMap((link) => {
      const to = cellAt(links.to, link);
      if (to < 0) return [];
      const file = itemAt(texts, cellAt(links.file, link));
      const isSlot = slot !== undefined && texts[cellAt(links.label, link)] === slot && !isScript(world, file);
      const at = { line: cellAt(links.line, link), column: cellAt(links.column, link) };
      return isSlot || places.has(placeKey(file, at)) ? [{ part, piece: to }] : [];
    }),
  ]);
}

function isScript(world: World, file: string): boolean {
  return world.facts[world.files.sourceOf.get(file) ?? -1]?.script !== undefined;
}

export function placeKey(file: string, { line, column }: Pick<Range, 'line' | 'column'>): string {
  return `${file}:${line}:${column}`;
}

/** The object that a piece is, or that it is a part of. */
export function objectOf({ world }: Linked, piece: number): number {
  return world.trees.partByPiece.get(piece)?.object ?? piece;
}

/** Whether a piece is another one or stands below it. */
export function isWithin({ graph }: Linked, piece: number, above: number): boolean {
  for (let at = piece, steps = 0; at >= 0 && steps < 10_000; at = cellAt(graph.pieces.parent, at), steps++)
    if (at === above) return true;
  return false;
}

/** An operation of some type, with what the plan says of it. */
export interface TypeOperation {
  type: WorldType;
  operation: Operation;
  rule: CallRule;
  file: string;
}

/** All operations that mean one of these, with the types whose code they are. */
export function operationsThat(world: World, ...meanings: Meaning[]): TypeOperation[] {
  const { plan, facts } = world;
  const found: TypeOperation[] = [];
  for (const type of world.types.all) {
    const known = meaningsIn(type.script, world.plan);
    const positions = meanings.flatMap((means) => known.get(means) ?? []);
    if (meanings.length > 1) positions.sort((a, b) => a - b);
    for (const position of positions) {
      const operation = itemAt(type.script.operations, position);
      if (operation.type === type.local)
        found.push({
          type,
          operation,
          rule: itemAt(plan.calls, operation.rule),
          file: itemAt(facts, type.source).file,
        });
    }
  }
  return found;
}

/** Positions of a script's operations by what they mean: scripts are many, and hardly one of them changes. */
const meaningsIn = oncePair((script: ScriptFacts, { calls }: Plan): Map<Meaning, number[]> => {
  const positions = new Map<Meaning, number[]>();
  for (const [at, { rule }] of script.operations.entries()) push(positions, itemAt(calls, rule).means, at);
  return positions;
});
