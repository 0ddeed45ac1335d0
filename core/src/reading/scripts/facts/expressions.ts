/** What an expression can be followed to, and what is noted on the way. */
import { UNKNOWN, type Value } from '../../facts.js';
import { asOwnMember, eachInner, type Expression, type ScriptSyntax, type Statement } from '../syntax.js';
import { anyEntryOf, nameOf } from '../tables.js';
import { asked, condition, isAsking, test } from './asking.js';
import { gateOf, toldGates, within } from './gates.js';
import { eachOf, noteGiven, noteKept, resultOf } from './flow.js';
import { functionIn, noteHandedOn, operationOf } from './operations.js';
import { anyOf, joined, type Scope } from './scope.js';
import { oneOf, operationIn, placed, type Taking } from './taking.js';
import {
  mention,
  noteFieldRead,
  noteFlag,
  noteLiteral,
  noteTable,
  noteTableUse,
  noteUse,
  touch,
  truthOf,
} from './uses.js';

export function evaluate(taking: Taking, expression: Expression, scope: Scope): Value {
  switch (expression.is) {
    case 'text':
      noteLiteral(taking, expression.value, expression);
      return { is: 'text', text: expression.value };
    case 'number':
      return { is: 'number', number: expression.value };
    case 'nothing':
      return { is: 'nothing' };
    case 'self':
      return { is: 'self' };
    case 'name':
      return (
        scope.get(expression.name) ??
        operationOf(taking, expression, undefined, scope) ??
        (expression.mayBeOwn && operationOf(taking, asOwnMember(expression), undefined, scope)) ?? {
          is: 'constant',
          name: expression.name,
        }
      );
    case 'member':
      return evaluateMember(taking, expression, scope);
    case 'item':
      noteTableUse(taking, expression, 'reads', scope);
      evaluateInner(taking, expression, scope);
      return UNKNOWN;
    case 'call':
      return evaluateCall(taking, expression, scope);
    case 'join':
      return evaluateJoin(taking, expression, scope);
    case 'function':
      return functionIn(taking, expression.function, scope, taking.here.moment);
    case 'list':
      return evaluateList(taking, expression.items, scope);
    case 'table':
      return evaluateTable(taking, expression, scope);
    case 'choice':
      return evaluateChoice(taking, expression, scope);
    case 'assign': {
      const value = evaluate(taking, expression.value, scope);
      assign(taking, expression.target, value, scope, expression.value);
      return value;
    }
    case 'test':
      evaluateTest(taking, expression, scope);
      return UNKNOWN;
    default:
      evaluateInner(taking, expression, scope);
      return UNKNOWN;
  }
}

/** A list stands for all that is in it: whoever goes through it has each in hand. */
function evaluateList(taking: Taking, items: Expression[], scope: Scope): Value {
  const values = items.map((item) => taking.evaluate(taking, item, scope));
  for (const value of values) mention(taking, value);
  const all = eachOf(values);
  return all.is === 'any' || all.is === 'unknown' ? all : { is: 'any', of: [all], each: true };
}

/** Lua writes lists as tables whose entries have no names. */
function evaluateTable(taking: Taking, table: Expression & { is: 'table' }, scope: Scope): Value {
  const items = table.entries.map(({ value }) => value);
  const isList = items.length > 0 && table.entries.every(({ name }) => !name);
  if (isList) return evaluateList(taking, items, scope);
  evaluateInner(taking, table, scope);
  return UNKNOWN;
}

/** Lists, tables and whatever else holds expressions: what is in them may be used by something unseen. */
function evaluateInner(taking: Taking, expression: Expression, scope: Scope): void {
  const isTable = expression.is === 'table';
  if (isTable) noteTable(taking, expression);
  eachInner(expression, (inner) => {
    const value = evaluate(taking, inner, scope);
    mention(taking, value);
    if (isTable) taking.notes.entryValues.set(inner, value);
  });
}

/** Comparisons, and several conditions: of `a && b` the second is looked at only if the first holds. */
function evaluateTest(taking: Taking, { operator, operands }: Expression & { is: 'test' }, scope: Scope): void {
  const isShort = SHORT.has(operator);
  const values: Value[] = [];
  for (const [at, operand] of operands.entries()) {
    const value = under(taking, isShort && at > 0 ? operands[0] : undefined, () =>
      isAsking(operator) ? test(taking, operand, scope) : evaluate(taking, operand, scope),
    );
    values.push(value);
    if (operand.is === 'text') mention(taking, { is: 'text', text: operand.value });
  }
  if (COMPARES.has(operator)) noteLabel(taking, values);
}

/** What the label of an object is compared with is a label. */
function noteLabel(taking: Taking, values: readonly Value[]): void {
  for (const value of values) {
    const operation = operationIn(taking, value);
    if (!operation || taking.plan.calls[operation.rule]?.means !== 'label of') continue;
    const { label } = operation.arguments;
    const named = values.filter(({ is }) => is === 'text' || is === 'constant');
    operation.arguments.label = eachOf([...(label ? [label] : []), ...named]);
  }
}

const COMPARES = new Set(['==', '===', '!=', '!==', '~=']);

const SHORT = new Set(['&&', '||', 'and', 'or', '??']);

/** Does something that hangs on a condition, where there is one. */
function under<T>(taking: Taking, asks: Expression | undefined, run: () => T): T {
  return asks ? within(taking, gateOf(taking, asks), run) : run();
}

function evaluateChoice(taking: Taking, { test: asks, options }: Expression & { is: 'choice' }, scope: Scope): Value {
  if (asks) condition(taking, asks, scope);
  else for (const option of options.slice(0, -1)) taking.notes.spared.add(option);
  // Without a test, what comes later is looked at only if what came before is empty.
  const hangsOn = (at: number): Expression | undefined => asks ?? (at > 0 ? options[0] : undefined);
  const values = options.map((option, at) => under(taking, hangsOn(at), () => evaluate(taking, option, scope)));
  if (!asks) values.slice(0, -1).forEach((value) => asked(taking, value));
  return anyOf(values);
}

/** Texts put together count as one text; a part of them is no reference by itself. */
function evaluateJoin(taking: Taking, expression: Expression & { is: 'join' }, scope: Scope): Value {
  const value = joined(
    expression.parts.map((part) =>
      part.is === 'text' ? { is: 'text', text: part.value } : evaluate(taking, part, scope),
    ),
  );
  if (value.is === 'text') noteLiteral(taking, value.text, expression);
  return value;
}

function evaluateMember(taking: Taking, expression: Expression & { is: 'member' }, scope: Scope): Value {
  const found = operationOf(taking, expression, undefined, scope);
  if (found) return found;
  const { of, name } = expression;
  if (of.is === 'self') {
    noteUse(taking, expression, { is: 'self' }, 'reads');
    noteFlag(taking, expression, 'reads');
    noteFieldRead(taking, expression);
    return scope.get(`this.${name}`) ?? { is: 'field', name };
  }
  noteHandedOn(taking, expression, scope);
  noteTableUse(taking, expression, 'reads', scope);
  const receiver = evaluate(taking, of, scope);
  noteUse(taking, expression, receiver, 'reads');
  taking.notes.memberReads.add(name);
  if (expression.safe) asked(taking, receiver);
  touch(taking, receiver, 'reads', expression);
  return receiver.is === 'constant' ? { is: 'constant', name: `${receiver.name}.${name}` } : UNKNOWN;
}

function evaluateCall(taking: Taking, expression: Expression & { is: 'call' }, scope: Scope): Value {
  const { of: callee, arguments: given, isNew } = expression;
  const mayBeOwn = callee.is === 'name' && callee.mayBeOwn === true && !scope.has(callee.name);
  const found =
    operationOf(taking, callee, given, scope, expression) ??
    (mayBeOwn ? operationOf(taking, asOwnMember(callee), given, scope, expression) : undefined);
  if (found) return found;
  if (callee.is === 'member' && callee.name === 'bind') return evaluate(taking, callee.of, scope);
  noteParentCall(taking, callee);
  if (callee.is === 'name' && !isNew) noteBareCall(taking, callee);
  if (callee.is === 'name' && (mayBeOwn || taking.script.types[taking.here.type]?.isFile))
    noteOwnCall(taking, callee.name);
  if (callee.is === 'member' && callee.of.is === 'self') noteOwnCall(taking, callee.name);
  // The callee itself is no function handed on: only what it is called on is of interest.
  const calledOn = evaluate(taking, callee.is === 'member' ? callee.of : callee, scope);
  if (callee.is === 'member') {
    noteTableUse(taking, callee, 'calls', scope);
    noteUse(taking, callee, calledOn, 'calls');
    if (callee.safe) asked(taking, calledOn);
    touch(taking, calledOn, 'calls', callee, expression === taking.here.bareStatement);
  }
  const [first] = given;
  if (callee.is === 'member' && GOES_THROUGH.has(callee.name) && first?.value.is === 'function') {
    taking.notes.givenInPlace.set(first.value.function, oneOf(taking, calledOn));
    taking.types.noteGoneThrough(first.value.function, callee.of);
  }
  const values = given.map((argument) => evaluate(taking, argument.value, scope));
  for (const value of values) mention(taking, value);
  noteHanded(taking, expression, values, scope);
  return callOwn(taking, callee, values, scope);
}

/** Notes a call of what may be a function of another file, when it is given something that can be followed. */
function noteHanded(taking: Taking, expression: Expression & { is: 'call' }, values: Value[], scope: Scope): void {
  const { here, script, facts } = taking;
  const { of: callee } = expression;
  if (callee.is !== 'name' && callee.is !== 'member') return;
  const { name } = callee;
  const on =
    callee.is === 'name' ? '' : isOwn(callee, scope) ? 'self' : callee.of.is === 'name' ? callee.of.name : undefined;
  if (on === undefined || (on === '' && scope.has(name))) return;
  const isHandedOn = (value: Value): boolean => value.is === 'unknown' && value.parameter !== undefined;
  const isNear = on === '' || on === 'self';
  // What the script's own functions are given is known here; what callers of this one hand on is not.
  const isTold = isOfScript(script, here.type, on, name)
    ? values.some(isHandedOn)
    : values.some((value) => isFollowed(value) || (isNear && isHandedOn(value)));
  if (!isTold) return;
  const gates = toldGates(taking);
  facts.handed.push({
    name,
    on,
    arguments: values,
    moment: here.moment,
    side: here.side,
    isConditional: here.gates.length > 0,
    ...(gates.length > 0 && { gates }),
    ...placed(taking, expression),
  });
}

const isFollowed = ({ is }: Value): boolean => is !== 'unknown' && is !== 'nothing' && is !== 'number';

/** Whether a function that is called stands in the same script. */
function isOfScript({ types, functions }: ScriptSyntax, type: number, on: string, name: string): boolean {
  const has = (at: number): boolean => types[at]?.functions.some((code) => code.name === name) ?? false;
  if (on === 'self') return has(type);
  if (on !== '') return types.some((one, at) => one.name === on && has(at));
  return has(type) || functions.some((code) => code.name === name);
}

/** Members of lists that hand each element to a function. */
const GOES_THROUGH = new Set(['forEach', 'ForEach', 'map', 'filter', 'some', 'every', 'find']);

/** A call of a function of the same script: what it is given flows into it, and what it gives back. */
function callOwn(taking: Taking, callee: Expression, values: Value[], scope: Scope): Value {
  const name = callee.is === 'name' ? callee.name : callee.is === 'member' && isOwn(callee, scope) ? callee.name : '';
  if (!name) return UNKNOWN;
  const local = callee.is === 'name' ? scope.get(name) : undefined;
  if (local?.is === 'function' && local.at !== undefined) {
    noteGiven(taking, `#${local.at}`, values);
    return anyOf(taking.known.results.get(`#${local.at}`) ?? [UNKNOWN]);
  }
  noteGiven(taking, `${taking.here.type}/${name}`, values);
  return resultOf(taking, name) ?? UNKNOWN;
}

function isOwn({ of }: Expression & { is: 'member' }, scope: Scope): boolean {
  return of.is === 'self' || (of.is === 'name' && scope.get(of.name)?.is === 'self');
}

function noteBareCall({ here, notes, lines }: Taking, { name, start, end }: Expression & { is: 'name' }): void {
  if (!notes.bareCalls.has(name)) notes.bareCalls.set(name, { name, type: here.type, range: lines.range(start, end) });
}

function noteOwnCall({ here, facts }: Taking, name: string): void {
  const code = facts.functions[here.function];
  if (!code) return;
  code.calls.push(name);
  if (here.gates.length === 0) code.sureCalls.push(name);
}

/** `super.begin()`, or `Vessel.begin(self)` where the parent is called by name. */
function noteParentCall({ script, here, facts, lines }: Taking, callee: Expression): void {
  const code = facts.functions[here.function];
  if (callee.is !== 'member' || !code || code.name !== callee.name) return;
  const parents = script.types[here.type]?.parents ?? [];
  const isParent = callee.of.is === 'parent' || (callee.of.is === 'name' && parents.includes(callee.of.name));
  if (!isParent) return;
  const isIn = (statement: Statement | undefined): boolean =>
    statement !== undefined && statement.start <= callee.start && callee.end <= statement.end;
  const place = isIn(here.body[0]) ? 'before' : isIn(here.body.at(-1)) ? 'after' : 'amid';
  code.callsParent = here.gates.length > 0 ? 'amid' : place;
  code.callsParentAt = lines.range(callee.start, callee.end);
}

function assign(taking: Taking, target: Expression, value: Value, scope: Scope, written?: Expression): void {
  const { here, facts, notes } = taking;
  if (target.is === 'name' && target.mayBeOwn && !scope.has(target.name) && here.function >= 0)
    // What is no local, and no field of the type, is one of a parent.
    assign(taking, asOwnMember(target), value, scope, written);
  else if (target.is === 'name') {
    notes.ownNames.add(target.name);
    scope.set(target.name, value);
  } else if (target.is === 'member' && target.of.is === 'self') {
    const { name: field } = target;
    scope.set(`this.${field}`, value);
    noteUse(taking, target, { is: 'self' }, 'writes', truthOf(written));
    noteFlag(taking, target, 'writes', written);
    facts.fieldValues.push({ type: here.type, field, function: here.function, value });
    noteKept(taking, field, value);
    if (value.is === 'operation') notes.keptIn.push({ field: `${here.type}/${field}`, operation: value.operation });
  } else if (target.is === 'member') {
    notes.memberWrites.add(target.name);
    const on = evaluate(taking, target.of, scope);
    noteUse(taking, target, on, 'writes', truthOf(written));
    touch(taking, on, 'writes', target);
  } else if (target.is === 'item') {
    // What is set under a name that is made may be any entry of the table.
    notes.memberWrites.add(target.at.is === 'text' ? target.at.value : anyEntryOf(nameOf(target.of) ?? ''));
    evaluateInner(taking, target, scope);
  } else if (target.is === 'list' || target.is === 'other') {
    // Several at once: which value goes where is not followed.
    eachInner(target, (inner) => assign(taking, inner, UNKNOWN, scope));
  } else evaluate(taking, target, scope);
}
