/** What the values in a script came to, from every object that carries it: read off the map, not evaluated again. */
import { groupOf } from '../model/graph.js';
import type { Range } from '../model/piece.js';
import type { Linked } from '../linking/linked.js';
import { partsRunning, type World, type WorldPart, type WorldType } from '../linking/world.js';
import type { Operation, Value } from '../reading/facts.js';
import type { CallRule, Meaning } from '../reading/plan/plan.js';

/** A piece that a value leads to, from one part that runs the code. */
export interface Reached {
  part: WorldPart;
  piece: number;
}

/** The look-ups that a value can come from, through fields that they are kept in. */
export function lookUpsBehind(type: WorldType, value: Value, depth = 0): { type: WorldType; operation: number }[] {
  if (depth > 3) return [];
  if (value.is === 'operation') return [{ type, operation: value.operation }];
  if (value.is === 'any') return value.of.flatMap((one) => lookUpsBehind(type, one, depth));
  if (value.is !== 'field') return [];
  return [type, ...type.ancestors].flatMap((of) =>
    of.script.fieldValues
      .filter(({ type: local, field }) => local === of.local && field === value.name)
      .flatMap((kept) => lookUpsBehind(of, kept.value, depth + 1)),
  );
}

/** Pieces that a value of a type's code leads to: what its look-ups found, and what fills the slot. */
export function reached({ graph, world }: Linked, type: WorldType, value: Value): Reached[] {
  const parts = partsRunning(world, type);
  if (value.is === 'self') return parts.map((part) => ({ part, piece: part.object }));
  const places = new Set(
    lookUpsBehind(type, value).map(({ type: of, operation }) =>
      placeKey(world.facts[of.source].file, of.script.operations[operation].range),
    ),
  );
  const slot = value.is === 'field' ? value.name : undefined;
  const { links, texts } = graph;
  return parts.flatMap((part) =>
    [...groupOf(graph.outgoing, part.piece)].flatMap((link) => {
      const to = links.to[link];
      if (to < 0) return [];
      const file = texts[links.file[link]];
      const isSlot = slot !== undefined && texts[links.label[link]] === slot && !isScript(world, file);
      const at = { line: links.line[link], column: links.column[link] };
      return isSlot || places.has(placeKey(file, at)) ? [{ part, piece: to }] : [];
    }),
  );
}

function isScript(world: World, file: string): boolean {
  return world.facts[world.sourceOf.get(file) ?? -1]?.script !== undefined;
}

export function placeKey(file: string, { line, column }: Pick<Range, 'line' | 'column'>): string {
  return `${file}:${line}:${column}`;
}

/** The object that a piece is, or that it is a part of. */
export function objectOf({ world }: Linked, piece: number): number {
  return world.partByPiece.get(piece)?.object ?? piece;
}

/** Whether a piece is another one or stands below it. */
export function isWithin({ graph }: Linked, piece: number, above: number): boolean {
  for (let at = piece, steps = 0; at >= 0 && steps < 10_000; at = graph.pieces.parent[at], steps++)
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
  return world.types.flatMap((type) =>
    type.script.operations.flatMap((operation) => {
      const rule = world.plan.calls[operation.rule];
      if (operation.type !== type.local || !meanings.includes(rule.means)) return [];
      return [{ type, operation, rule, file: world.facts[type.source].file }];
    }),
  );
}
