/** Calls and properties against the call table of the plan. */
import { UNKNOWN, type Operation, type Value } from '../../facts.js';
import type { Role } from '../../plan/call-pattern.js';
import { MEANING, type Meaning } from '../../plan/meanings.js';
import { matchCalls, matchHandedOn, type Match } from '../call-table.js';
import type { Moment } from '../../../model/link.js';
import type { Argument, Expression, FunctionSyntax } from '../syntax.js';
import { asked } from './asking.js';
import { keptIn } from './flow.js';
import { toldGates } from './gates.js';
import type { Scope } from './scope.js';
import type { Taking } from './taking.js';
import { noteUse, touch } from './uses.js';

/** Notes an operation when the call table knows this call or property; gives what its value is followed as. */
export function operationOf(
  taking: Taking,
  callee: Expression,
  given: Argument[] | undefined,
  scope: Scope,
  whole: Expression = callee,
): Value | undefined {
  const typeArguments = whole.is === 'call' ? whole.typeArguments : [];
  const [first, ...others] = matchCalls(
    taking.table,
    meantBy(taking, callee, scope),
    given,
    typeArguments,
    taking.types.typeOf,
  );
  if (!first) return undefined;
  const { facts } = taking;
  const receiverCode = callee.is === 'member' ? callee.of : undefined;
  // What stands there is evaluated once, whoever asks for it.
  const known = new Map<Expression, Value>();
  const valueOf: ValueOf = (code, isHandler) => {
    let value = known.get(code);
    if (!value) {
      value = isHandler ? handlerOf(taking, code, scope) : taking.evaluate(taking, code, scope);
      known.set(code, value);
    }
    return value;
  };
  const { pattern, means } = first.rule;
  // What a call gives stands for itself only if the plan says what the call finds.
  if (pattern.head.is === 'role' && receiverCode?.is === 'call' && valueOf(receiverCode, false).is !== 'operation')
    return UNKNOWN;
  const isStart = pattern.head.is === 'any receiver' || pattern.head.is === 'type';
  const receiver: Value = isStart && receiverCode ? valueOf(receiverCode, false) : { is: 'self' };
  if (callee.is === 'member' && callee.safe) asked(taking, receiver);
  const noted = [first, ...others].map((match) =>
    noteOperation(taking, match, receiver, argumentsOf(match, receiverCode, typeArguments, valueOf), whole),
  );
  // A call that the plan knows uses what it is made on, like any other; what it does to it, the plan says.
  const isAct = MEANING[means].act !== undefined;
  if (callee.is === 'member' && (receiver.is === 'field' || isAct))
    touch(taking, receiver, 'calls', callee, false, isAct);
  facts.operations.push(...noted);
  const position = facts.operations.length - noted.length;
  if (taking.notes.askedAhead.has(position)) for (const one of noted) one.guarded = true;
  return MEANING[means].isFollowed ? { is: 'operation', operation: position } : UNKNOWN;
}

/** A member of what a local or field is another name for: `const b = bells; b.ring(…)` means `bells.ring(…)`. */
function meantBy(taking: Taking, callee: Expression, scope: Scope): Expression {
  if (callee.is !== 'member') return callee;
  const { of } = callee;
  const other =
    of.is === 'name'
      ? scope.get(of.name)
      : of.is === 'member' && of.of.is === 'self'
        ? (scope.get(`this.${of.name}`) ?? keptIn(taking, of.name))
        : undefined;
  if (other?.is !== 'constant') return callee;
  const [first = '', ...steps] = other.name.split('.');
  const { start, end } = of;
  const named = steps.reduce<Expression>((on, name) => ({ is: 'member', of: on, name, safe: false, start, end }), {
    is: 'name',
    name: first,
    start,
    end,
  });
  return { ...callee, of: named };
}

/** Evaluates code that stands in a call; a handler may be a name that stands for a function. */
type ValueOf = (code: Expression, isHandler: boolean) => Value;

function noteOperation(
  taking: Taking,
  { rule: { means, moment, event }, index, more }: Match,
  receiver: Value,
  values: Operation['arguments'],
  whole: Expression,
): Operation {
  const { here } = taking;
  noteCalled(taking, means, values.function);
  if (event !== undefined) values.event = eventOf(event, values.event);
  const told = toldGates(taking);
  return {
    rule: index,
    function: here.function,
    type: here.type,
    receiver,
    arguments: values,
    payload: more.map(calledIn),
    moment: moment === 'unknown' ? here.moment : moment,
    side: here.side,
    guarded: false,
    isConditional: here.gates.length > 0,
    ...(told.length > 0 && { gates: told }),
    range: taking.lines.range(whole.start, whole.end),
  };
}

/** What the code calls a value: `depth` of `this.boat.depth`, the name of an argument; empty where it has none. */
function calledIn({ name, value }: Argument): string {
  if (name) return name;
  if (value.is === 'self') return 'self';
  return value.is === 'name' || value.is === 'member'
    ? value.name
    : value.is === 'call'
      ? calledIn({ name: '', value: value.of })
      : '';
}

/** The event that a row states: always the same, or put together from what the call names. */
function eventOf(stated: string, named: Value | undefined): Value {
  const [before = '', after] = stated.split('*');
  if (after === undefined) return { is: 'text', text: stated };
  if (!named) return UNKNOWN;
  if (named.is === 'text') return { is: 'text', text: before + named.text + after };
  if (named.is === 'any') return { is: 'any', of: named.of.map((one) => eventOf(stated, one)) };
  const parts = named.is === 'join' ? named.parts : [named];
  return { is: 'join', parts: [{ is: 'text', text: before }, ...parts, { is: 'text', text: after }] };
}

/** What stands for each role of the pattern. All that is given is evaluated, in its order. */
function argumentsOf(
  { rule: { pattern }, named, arguments: given, rest }: Match,
  receiver: Expression | undefined,
  typeArguments: string[],
  valueOf: ValueOf,
): Partial<Record<Role, Value>> {
  const values: Partial<Record<Role, Value>> = {};
  if (pattern.head.is === 'role' && receiver) values[pattern.head.role] = valueOf(receiver, false);
  for (const { role, name } of named) values[role] = { is: 'text', text: name };
  for (const { role, value } of given) {
    const found = valueOf(value, role === 'handler' || role === 'function');
    const meant = textsIn(value) ?? found;
    const before = values[role];
    values[role] = before ? { is: 'any', of: [...valuesIn(before), ...valuesIn(meant)], each: true } : meant;
  }
  for (const argument of rest) valueOf(argument, false);
  pattern.typeArguments.forEach((role, position) => {
    const name = typeArguments[position];
    if (role !== '_' && name !== undefined) values[role] = { is: 'constant', name };
  });
  return values;
}

/** What a value may be. */
function valuesIn(value: Value): Value[] {
  return value.is === 'any' ? value.of : [value];
}

/** The texts of a list or table that is given as an argument: each of them is meant. */
function textsIn(code: Expression): Value | undefined {
  const items = code.is === 'list' ? code.items : code.is === 'table' ? code.entries.map(({ value }) => value) : [];
  const texts = items.flatMap((item): Value[] => (item.is === 'text' ? [{ is: 'text', text: item.value }] : []));
  return texts.length > 0 ? { is: 'any', of: texts } : undefined;
}

/** A function that a call has called counts as called from here: stories and moments go on into it. */
function noteCalled({ facts, here }: Taking, means: Meaning, called: Value | undefined): void {
  const name = called?.is === 'text' ? called.text : called?.is === 'function' ? called.name : '';
  const code = means === 'call' && name ? facts.functions[here.function] : undefined;
  if (code && !code.calls.includes(name)) code.calls.push(name);
}

/** A handler given as a name, a method of the own type, or written in place. */
function handlerOf(taking: Taking, code: Expression, scope: Scope): Value {
  if (code.is === 'function') return functionIn(taking, code.function, scope, 'on an event');
  // Tied to the own object, it is the same function.
  if (code.is === 'call' && code.of.is === 'member' && code.of.name === 'bind')
    return handlerOf(taking, code.of.of, scope);
  if (code.is === 'member' && code.of.is === 'self') {
    const kept = scope.get(`this.${code.name}`) ?? keptIn(taking, code.name);
    noteUse(taking, code, { is: 'self' }, 'calls');
    if (kept?.is === 'function') return heard(taking, kept);
    taking.notes.handlers.add(code.name);
    return { is: 'function', name: code.name };
  }
  if (code.is === 'name' && !scope.has(code.name) && !isText(taking, code.name)) {
    taking.notes.handlers.add(code.name);
    return { is: 'function', name: code.name };
  }
  const value = taking.evaluate(taking, code, scope);
  if (value.is === 'text') taking.notes.handlers.add(value.text);
  return heard(taking, value);
}

/** A function that a name or field stands for, called by an event. */
function heard({ facts, notes, flow }: Taking, value: Value): Value {
  // A field of a function's name is that function.
  if (value.is === 'field') {
    notes.handlers.add(value.name);
    return { is: 'function', name: value.name };
  }
  if (value.is !== 'function') return value;
  if (value.name) notes.handlers.add(value.name);
  // What it does is done when the event calls it, not where it is written.
  if (value.at !== undefined && facts.functions[value.at]?.moment !== 'on an event') flow.heard.add(value.at);
  return value;
}

/** A function written in place, as a value. */
export function functionIn(taking: Taking, code: FunctionSyntax, scope: Scope, moment: Moment): Value {
  const at = taking.facts.functions.length;
  taking.addFunction(taking, code, scope, moment);
  return code.name ? { is: 'function', name: code.name } : { is: 'function', name: '', at };
}

/** Whether a name stands for a text that the file has under it. */
function isText({ facts }: Taking, name: string): boolean {
  return facts.constants.some((one) => one.name === name);
}

/** A sender or listener given away as a function: its event is known only where the receiver is the event. */
export function noteHandedOn(taking: Taking, expression: Expression & { is: 'member' }, scope: Scope): void {
  const entry = matchHandedOn(taking.table, expression, taking.types.typeOf);
  if (!entry) return;
  const { here } = taking;
  const { head } = entry.rule.pattern;
  taking.facts.operations.push({
    rule: entry.index,
    function: here.function,
    type: here.type,
    receiver: { is: 'self' },
    arguments: head.is === 'role' ? { [head.role]: taking.evaluate(taking, expression.of, scope) } : {},
    payload: [],
    moment: 'unknown',
    side: here.side,
    guarded: false,
    isConditional: true,
    range: taking.lines.range(expression.start, expression.end),
  });
}
