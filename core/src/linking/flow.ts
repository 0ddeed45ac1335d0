/** What code does when it is called: what a handler sends in turn, through the functions of its own that it calls. */
import { itemAt } from '../helpers/at.js';
import { once } from '../helpers/once.js';
import type { FunctionFact, Gate, Operation } from '../reading/facts.js';
import type { CallRule } from '../reading/plan/plan.js';
import { eventNames } from './scripts/operations.js';
import { typeNamed } from './world/types.js';
import type { EventEnd } from './linked.js';
import type { World, WorldType } from './world/world.js';

/** A function, with the type whose code it is. */
export interface Code {
  type: WorldType;
  /** Position in the functions of the type's script. */
  index: number;
  fact: FunctionFact;
}

/** Something that the code does, when it runs. */
export interface Deed {
  code: Code;
  /** The type that runs it: a child where the code is its parent's. */
  own: WorldType;
  operation: Operation;
  rule: CallRule;
  /** Names of events, for deeds that send. */
  events: string[];
  /** It is done whenever the code runs. */
  isSure: boolean;
}

const typesByPiece = once(({ types }: World) => new Map(types.all.map((type) => [type.piece, type])));

/** The type that a piece stands for. */
export function typeOfPiece(world: World, piece: number): WorldType | undefined {
  return typesByPiece(world).get(piece);
}

/** The function of a name that runs on a type: its own, or that of the nearest parent. */
export function functionOf(type: WorldType, name: string): Code | undefined {
  for (const one of [type, ...type.ancestors]) {
    const index = one.script.functions.findIndex((code) => code.type === one.local && code.name === name);
    if (index >= 0) return { type: one, index, fact: itemAt(one.script.functions, index) };
  }
  return undefined;
}

/** Functions that make an object, in the languages that are read. */
export function isConstructor(name: string): boolean {
  return name === 'constructor' || name === '__init__' || name === 'new' || name === 'init';
}

/** The functions that an end of an event calls: those of its type, or of the scripts on its object. */
export function handlersOf(world: World, { piece, handler, code }: EventEnd): Code[] {
  const type = typeOfPiece(world, piece);
  const fact = type && code !== undefined ? type.script.functions[code] : undefined;
  if (type && fact && code !== undefined) return [{ type, index: code, fact }];
  if (!handler) return [];
  const types = type ? [type] : (world.trees.partsOf.get(piece) ?? []).flatMap((part) => part.type ?? []);
  return types.flatMap((one) => functionOf(one, handler) ?? []);
}

/**
 * What a function does, in the order of the code, functions of its own that it calls among it.
 * @param isFar goes on in functions of other types that it calls, where the code says which type it is
 */
export function deedsOf(world: World, code: Code, own: WorldType = code.type, isFar = false): Deed[] {
  const deeds: Deed[] = [];
  const seen = new Set<FunctionFact>();
  const visit = (at: Code, own: WorldType, isSure: boolean): void => {
    if (seen.has(at.fact)) return;
    seen.add(at.fact);
    for (const operation of at.type.script.operations) {
      if (operation.function !== at.index) continue;
      const rule = itemAt(world.plan.calls, operation.rule);
      const { event } = operation.arguments;
      const events = rule.means === 'send' && event ? eventNames(world, event, at.type.source, at.type) : [];
      deeds.push({ code: at, own, operation, rule, events, isSure: isSure && !operation.isConditional });
    }
    for (const name of at.fact.calls) {
      const next = functionOf(own, name);
      if (next) visit(next, own, isSure && at.fact.sureCalls.includes(name));
    }
    if (!isFar) return;
    for (const { of, member, how, type, function: index } of at.type.script.uses) {
      if (how !== 'calls' || index !== at.index || type !== at.type.local) continue;
      const other = of && of !== own.name ? typeNamed(world, of, at.type.source) : undefined;
      const next = other && functionOf(other, member);
      // Whether it comes to that, and on which object, is not known.
      if (next) visit(next, other, false);
    }
  };
  visit(code, own, true);
  return deeds;
}

/** The function in which an event is sent or listened to, with what the call hangs on. */
export function codeAt(
  world: World,
  { piece, range }: EventEnd,
): (Code & { isConditional: boolean; gates: readonly Gate[] }) | undefined {
  const type = typeOfPiece(world, piece);
  const operation = type?.script.operations.find(
    (one) => one.type === type.local && one.range.line === range.line && one.range.column === range.column,
  );
  if (!type || !operation || operation.function < 0) return undefined;
  const { function: index, isConditional, gates = [] } = operation;
  return { type, index, fact: itemAt(type.script.functions, index), isConditional, gates };
}
