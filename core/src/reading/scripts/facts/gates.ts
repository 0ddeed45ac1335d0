/** What the code hangs on: conditions around it, and ways out before it that were not taken. */
import type { Gate } from '../../facts.js';
import { eachInner, type Expression } from '../syntax.js';
import type { OpenGate, Taking } from './taking.js';

/**
 * The ways in which a stretch of code may end, as bits: it runs on behind it, or leaves for somewhere else. What
 * comes behind `if (a) continue;` hangs on `a` to the end of the loop's body; behind `if (a) return;`, to the end of
 * the function.
 */
export const FALLS = 1;
export const PASS = 2;
export const LOOP = 4;
export const TRY = 8;
export const FUNCTION = 16;
export type Ways = number;

/** Longer default values and conditions are cut. */
const LONGEST = 60;
/** Conditions around a call that are told. */
const MOST_GATES = 4;
const UNTOLD: Gate = { words: '', isNegated: false, fields: [] };

/** Does something that hangs on a condition. */
export function within<T>({ here }: Taking, gate: Gate, run: () => T): T {
  const open: OpenGate = { gate, until: 'inside' };
  here.gates.push(open);
  const result = run();
  here.gates.splice(here.gates.indexOf(open), 1);
  return result;
}

/** What comes behind `if (asks)` of which one branch left for `ways` hangs on its not having done so. */
export function guardRest({ here }: Taking, gate: Gate, ways: Ways): void {
  here.gates.push({ gate, until: farthest(ways) });
}

function farthest(ways: Ways): OpenGate['until'] {
  return ways & FUNCTION ? 'function' : ways & TRY ? 'try' : ways & PASS ? 'pass' : 'loop';
}

/**
 * Walks a body that only some ways out lead past: what was asked in it, to leave it that way, is over at its end.
 * A function that may end in it runs on only if it did not.
 * @param over how the gates are called that end here
 */
export function bounded({ here }: Taking, over: readonly OpenGate['until'][], isSure: boolean, walk: () => Ways): Ways {
  const before = new Set(here.gates);
  const ways = walk();
  here.gates = here.gates.filter((open) => before.has(open) || !over.includes(open.until));
  const isTold = here.gates.some((open) => open.until === 'function' && !before.has(open));
  const leavesSurely = isSure && !(ways & (FALLS | PASS | LOOP));
  if (ways & FUNCTION && !isTold && !leavesSurely) here.gates.push({ gate: UNTOLD, until: 'function' });
  return ways;
}

/** The conditions here that can be told, outermost first. */
export function toldGates({ here }: Taking): Gate[] {
  return here.gates
    .map(({ gate }) => gate)
    .filter(({ words }) => words !== '')
    .slice(0, MOST_GATES);
}

export function gateOf(taking: Taking, asks: Expression | undefined): Gate {
  return asks ? { words: wordsOf(taking, asks), isNegated: false, fields: [...new Set(ownFieldsIn(asks))] } : UNTOLD;
}

export function wordsOf({ text }: Taking, { start, end }: { start: number; end: number }): string {
  return shortened(text.slice(start, end));
}

/** Code on one line, cut when it is long. */
export function shortened(written: string): string {
  const line = written.replace(/\s+/g, ' ');
  return line.length > LONGEST ? `${line.slice(0, LONGEST)}…` : line;
}

/** Own fields that an expression looks at. */
function ownFieldsIn(expression: Expression): string[] {
  if (expression.is === 'member' && expression.of.is === 'self') return [expression.name];
  const found: string[] = [];
  eachInner(expression, (inner) => found.push(...ownFieldsIn(inner)));
  return found;
}
