/** Whether the code asks for a thing before it uses it. */
import type { Value } from '../../facts.js';
import type { Expression } from '../syntax.js';
import { wordsOf } from './gates.js';
import type { Scope } from './scope.js';
import { noteFlag } from './uses.js';
import { thingKey, type Taking } from './taking.js';

/** Operators that ask whether something is there. */
const ASKING = new Set(['!', 'not', '==', '!=', '===', '!==', 'is', 'is not', '&&', 'in', 'instanceof']);

/** Evaluates what an `if` or a loop asks. */
export function condition(taking: Taking, expression: Expression, scope: Scope): void {
  const { here } = taking;
  const outer = here.asking;
  here.asking ??= wordsOf(taking, expression);
  test(taking, expression, scope);
  here.asking = outer;
}

/** Evaluates a condition, or an operand of one. */
export function test(taking: Taking, expression: Expression, scope: Scope): Value {
  const value = taking.evaluate(taking, expression, scope);
  asked(taking, value);
  // A flag that was kept under another name, or given back by a function, is asked for here.
  if (value.is === 'field' && expression.is !== 'member')
    noteFlag(taking, { ...expression, name: value.name }, 'reads');
  // What is kept in a field and asked for in the same function counts for the field as well.
  if (expression.is === 'member' && expression.of.is === 'self')
    taking.notes.askedFields.add(`${taking.here.type}/${expression.name}`);
  return value;
}

/** Notes that the code asks whether this value is there. */
export function asked(taking: Taking, value: Value): void {
  const { here, notes, facts } = taking;
  const operation = value.is === 'operation' ? facts.operations[value.operation] : undefined;
  if (operation) operation.guarded = true;
  else if (value.is === 'operation') notes.askedAhead.add(value.operation);
  else if (value.is === 'any') value.of.forEach((one) => asked(taking, one));
  else if (value.is === 'field') notes.askedFields.add(`${here.type}/${value.name}`);
  const key = thingKey(value);
  if (key) notes.askedIn.add(`${here.function} ${key}`);
}

export function isAsking(operator: string): boolean {
  return ASKING.has(operator);
}
