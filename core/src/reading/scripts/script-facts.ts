import type { Moment, Side } from '../../model/link.js';
import type { Range } from '../../model/piece.js';
import {
  UNKNOWN,
  type FlagFact,
  type FlagUse,
  type FunctionFact,
  type Gate,
  type MemberUse,
  type Operation,
  type ScriptFacts,
  type Touch,
  type TypeFact,
  type Value,
} from '../facts.js';
import type { Lines } from '../lines.js';
import { cutAll } from '../source.js';
import type { Role } from '../plan/call-pattern.js';
import type { Meaning, Plan, ScriptRule } from '../plan/plan.js';
import { bodyOf } from './bodies.js';
import { ownFunctions } from './own-functions.js';
import { callTableOf, matchCall, matchHandedOn } from './call-table.js';
import { createTypeNotes } from './type-notes.js';
import {
  eachInner,
  type Argument,
  type Expression,
  type FieldSyntax,
  type FunctionSyntax,
  type ScriptSyntax,
  type Statement,
} from './syntax.js';

/** What local names (and fields set in the same function, as `this.name`) stand for at one point of the code. */
type Scope = Map<string, Value>;

/** Operators that ask whether something is there. */
const ASKING = new Set(['!', 'not', '==', '!=', '===', '!==', 'is', 'is not', '&&', 'in', 'instanceof']);
/** Values that a choice may have before it counts as unknown. */
const MOST_CHOICES = 8;
/** Calls whose result is not followed any further. */
const WITHOUT_VALUE = new Set<Meaning>([
  'send',
  'listen',
  'let go',
  'use file',
  'load',
  'asks part',
  'attach',
  'refer',
  'declare',
  'destroy',
  'switch',
  'move',
  'travel',
  'keep',
  'asks input',
]);
/** Longer default values and conditions are cut. */
const LONGEST_DEFAULT = 60;
/** Conditions around a call that are told. */
const MOST_GATES = 4;
/** Longer texts are prose, not names. */
const LONGEST_MENTION = 120;

/**
 * Takes facts from a script: follows values through local variables and fields by walking each function once,
 * branch by branch, joining what branches leave behind, and notes every call that the call table gives a meaning.
 */
export function takeScriptFacts(
  script: ScriptSyntax,
  text: string,
  plan: Plan,
  rule: ScriptRule,
  lines: Lines,
): ScriptFacts {
  const table = callTableOf(plan);
  const facts: ScriptFacts = {
    language: rule.language,
    types: [],
    functions: [],
    operations: [],
    fieldValues: [],
    memberWrites: [],
    memberReads: [],
    tableKeys: [],
    tables: [],
    fieldReads: [],
    flagUses: [],
    touches: [],
    side: rule.side,
    constants: [],
    mentions: [],
    literals: [],
    uses: [],
    strangers: [],
    imports: script.imports.map(({ from, names, start, end }) => ({ from, names, range: lines.range(start, end) })),
  };
  const literals = Object.entries(plan.literals);
  const usesSeen = new Map<string, MemberUse>();
  const memberWrites = new Set<string>();
  const memberReads = new Set<string>();
  const tableKeys = new Set<string>();
  const fieldsRead = new Map<string, ScriptFacts['fieldReads'][number]>();
  const touchesSeen = new Map<string, Touch>();
  const flagsSeen = new Map<string, FlagUse>();
  /** Fields of the own types that are set to a truth value, by \`type/field\`. */
  const setToTruth = new Map<string, Range>();
  /** What each function asks for before use: \`function value\`. */
  const askedIn = new Set<string>();
  const mentions = new Set<string>();
  /** Fields of a type (`type/field`) that some code asks for before use. */
  const askedFields = new Set<string>();
  /** Operations kept in a field, by `type/field`. */
  const keptIn: { field: string; operation: number }[] = [];
  const handlers = new Set<string>();
  /** What the entries of tables stand for. */
  const entryValues = new Map<Expression, Value>();
  /** Functions called without a receiver, by name, and every name that the file itself gives a meaning. */
  const bareCalls = new Map<string, ScriptFacts['strangers'][number]>();
  const ownNames = new Set<string>();

  let currentType = -1;
  let currentFunction = -1;
  let currentMoment: Moment = 'unknown';
  let currentSide: Side = rule.side;
  let currentBody: readonly Statement[] = [];
  /** Conditions that the code hangs on here. */
  let gates: Gate[] = [];
  /** The condition that is being read, as written. */
  let asking: string | undefined;
  /** The call that a statement consists of: it is made for what it does. */
  let bareStatement: Expression | undefined;

  const isExposed = exposing(script, text, rule);
  const isHidden = hiding(rule);
  const types = createTypeNotes(script, plan.globals, () => currentType);
  const typeOf = types.typeOf;

  const momentOf = (name: string): Moment => {
    if (rule.moments.start.includes(name)) return 'start';
    if (rule.moments.everyFrame.includes(name)) return 'every frame';
    if (rule.moments.leave.includes(name)) return 'leave';
    return 'unknown';
  };

  const addFunction = (code: FunctionSyntax, scope: Scope, moment: Moment): void => {
    const fact: FunctionFact = {
      name: code.name,
      type: currentType,
      parameters: code.parameters.map((parameter) => parameter.name),
      needs: code.parameters.filter(({ name, optional }) => !optional && !isRest(name)).length,
      takesMore: code.parameters.some(({ name }) => isRest(name)),
      isEmpty: code.body.length === 0,
      calls: [],
      sureCalls: [],
      callsParent: false,
      hidden: isHidden(code.name, code.decorators),
      moment,
      side: sideOf(rule, code.decorators, currentSide),
      range: lines.range(code.start, code.end),
    };
    const body = bodyOf(code, text, lines, rule.language);
    if (body) fact.body = body;
    facts.functions.push(fact);
    const outer = { currentFunction, currentMoment, currentSide, currentBody, gates, asking };
    currentBody = code.body;
    [currentFunction, currentMoment, currentSide] = [facts.functions.length - 1, moment, fact.side];
    [gates, asking] = [[], undefined];
    const inner: Scope = new Map(scope);
    for (const key of [...inner.keys()]) if (key.startsWith('this.')) inner.delete(key);
    for (const parameter of code.parameters) inner.set(parameter.name, UNKNOWN);
    for (const { name } of [code, ...code.parameters]) ownNames.add(name);
    const leaveTypes = types.enter(code);
    walk(code.body, inner);
    leaveTypes();
    ({ currentFunction, currentMoment, currentSide, currentBody, gates, asking } = outer);
  };

  /** Walks statements in order; says whether the code surely leaves before their end. */
  const walk = (statements: Statement[], scope: Scope): boolean => {
    for (const statement of statements) if (step(statement, scope)) return true;
    return false;
  };

  const step = (statement: Statement, scope: Scope): boolean => {
    switch (statement.is) {
      case 'expression':
        bareStatement = statement.value;
        evaluate(statement.value, scope);
        return false;
      case 'local':
        ownNames.add(statement.name);
        scope.set(statement.name, statement.value ? evaluate(statement.value, scope) : { is: 'nothing' });
        types.noteLocal(statement.name, statement.type, statement.value);
        return false;
      case 'return':
        // Whoever calls this function may ask before use: that is not known here.
        if (statement.value) asked(evaluate(statement.value, scope));
        return true;
      case 'leave':
        return true;
      case 'block':
        return walk(statement.body, scope);
      case 'function':
        scope.set(statement.function.name, { is: 'function', name: statement.function.name });
        addFunction(statement.function, scope, currentMoment);
        return false;
      case 'loop': {
        if (statement.over) evaluate(statement.over, scope);
        if (statement.test) condition(statement.test, scope);
        const inner: Scope = new Map(scope);
        if (statement.item) {
          ownNames.add(statement.item);
          inner.set(statement.item, UNKNOWN);
        }
        within(gateOf(statement.test), () => walk(statement.body, inner));
        merge(scope, [scope, inner]);
        return false;
      }
      case 'if': {
        condition(statement.test, scope);
        const then: Scope = new Map(scope);
        const otherwise: Scope = new Map(scope);
        const gate = gateOf(statement.test);
        const leavesThen = within(gate, () => walk(statement.then, then));
        const leavesOtherwise = within({ ...gate, isNegated: true }, () => walk(statement.otherwise, otherwise));
        // What comes after a way out is reached only if that was not taken.
        if (leavesThen !== leavesOtherwise) gates.push({ ...gate, isNegated: leavesThen });
        merge(scope, [...(leavesThen ? [] : [then]), ...(leavesOtherwise ? [] : [otherwise])]);
        return leavesThen && leavesOtherwise;
      }
    }
  };

  /** After branches: a name that differs between them may be any of what they left. */
  const merge = (scope: Scope, branches: Scope[]): void => {
    const names = new Set(branches.flatMap((branch) => [...branch.keys()]));
    for (const name of names) {
      const values = branches.map(
        (branch) => branch.get(name) ?? (name.startsWith('this.') ? fieldValue(name.slice(5)) : UNKNOWN),
      );
      scope.set(name, anyOf(values));
    }
  };

  const fieldValue = (name: string): Value => ({ is: 'field', name });

  /** Does something that hangs on a condition. */
  const within = <T>(gate: Gate, run: () => T): T => {
    gates.push(gate);
    const result = run();
    gates.splice(gates.indexOf(gate), 1);
    return result;
  };

  const gateOf = (asks: Expression | undefined): Gate =>
    asks
      ? { words: wordsOf(asks), isNegated: false, fields: [...new Set(ownFieldsIn(asks))] }
      : { words: '', isNegated: false, fields: [] };

  const wordsOf = ({ start, end }: { start: number; end: number }): string => shortened(text.slice(start, end));

  /** Evaluates what an `if` or a loop asks. */
  const condition = (expression: Expression, scope: Scope): void => {
    const outer = asking;
    asking ??= wordsOf(expression);
    test(expression, scope);
    asking = outer;
  };

  /** Notes that the code asks whether this value is there. */
  const asked = (value: Value): void => {
    if (value.is === 'operation') facts.operations[value.operation].guarded = true;
    else if (value.is === 'any') value.of.forEach(asked);
    else if (value.is === 'field') askedFields.add(`${currentType}/${value.name}`);
    const key = thingKey(value);
    if (key) askedIn.add(`${currentFunction} ${key}`);
  };

  /** Evaluates a condition. */
  const test = (expression: Expression, scope: Scope): void => {
    asked(evaluate(expression, scope));
    // What is kept in a field and asked for in the same function counts for the field as well.
    if (expression.is === 'member' && expression.of.is === 'self') askedFields.add(`${currentType}/${expression.name}`);
  };

  const evaluate = (expression: Expression, scope: Scope): Value => {
    switch (expression.is) {
      case 'text':
        noteLiteral(expression.value, expression);
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
          operationOf(expression, undefined, scope) ?? { is: 'constant', name: expression.name }
        );
      case 'member':
        return evaluateMember(expression, scope);
      case 'call':
        return evaluateCall(expression, scope);
      case 'join':
        return evaluateJoin(expression, scope);
      case 'function':
        addFunction(expression.function, scope, currentMoment);
        return { is: 'function', name: expression.function.name };
      case 'choice': {
        if (expression.test) condition(expression.test, scope);
        const values = expression.options.map((option) => evaluate(option, scope));
        if (!expression.test) values.slice(0, -1).forEach(asked);
        return anyOf(values);
      }
      case 'assign':
        return assign(expression.target, evaluate(expression.value, scope), scope, expression.value);
      case 'test':
        for (const operand of expression.operands) {
          if (ASKING.has(expression.operator)) test(operand, scope);
          else evaluate(operand, scope);
          if (operand.is === 'text') mention({ is: 'text', text: operand.value });
        }
        return UNKNOWN;
      default:
        if (expression.is === 'table') noteTable(expression);
        eachInner(expression, (inner) => {
          const value = evaluate(inner, scope);
          mention(value);
          if (expression.is === 'table') entryValues.set(inner, value);
        });
        return UNKNOWN;
    }
  };

  const noteTable = (table: Expression & { is: 'table' }): void => {
    for (const { name } of table.entries) if (name) tableKeys.add(name);
    const entries = table.entries.flatMap(({ name, value: { is, start, end } }) =>
      name && is === 'number' ? [{ key: name, number: text.slice(start, end), range: lines.range(start, end) }] : [],
    );
    if (entries.length >= 3) facts.tables.push({ entries, range: lines.range(table.start, table.end) });
  };

  /** Notes that the code uses a member of a type, where the code says which type it is. Each once for each type. */
  const noteUse = (
    expression: Expression & { is: 'member' },
    receiver: Value,
    how: MemberUse['how'],
    to?: MemberUse['to'],
  ): void => {
    const { of, name: member, start, end } = expression;
    const type = types.typeOf(of) ?? typeOfPart(receiver);
    if (!type) return noteUseOfSpawned(expression, receiver, how);
    if (of.is === 'self' && declaresItself(script, currentType, member)) return;
    const key = `${currentType} ${how} ${to ?? ''} ${type}.${member}`;
    const known = usesSeen.get(key);
    // A place where it decides something says more than another.
    if (known && (known.asks !== undefined || asking === undefined)) return;
    const placed = { type: currentType, function: currentFunction, range: lines.range(start, end) };
    const use: MemberUse = { of: type, member, how, ...placed };
    if (how === 'reads' && asking !== undefined) use.asks = asking;
    if (to) use.to = to;
    if (known) Object.assign(known, use);
    else {
      usesSeen.set(key, use);
      facts.uses.push(use);
    }
  };

  /** A flag of the own type. Which fields are flags is known when all of the type was read. */
  const noteFlag = (expression: Expression & { is: 'member' }, how: FlagUse['how'], value?: Expression): void => {
    const { name: field, start, end } = expression;
    if (currentType < 0) return;
    const to = truthOf(value);
    const name = `${currentType}/${field}`;
    if (to && !setToTruth.has(name)) setToTruth.set(name, lines.range(start, end));
    const key = `${currentFunction} ${currentType} ${how} ${to ?? ''} ${field}`;
    const known = flagsSeen.get(key);
    if (known && (known.asks !== undefined || asking === undefined || how === 'writes')) return;
    const placed = { type: currentType, function: currentFunction, range: lines.range(start, end) };
    const use: FlagUse = { field, how, ...placed };
    if (how === 'reads' && asking !== undefined) use.asks = asking;
    if (to) use.to = to;
    flagsSeen.set(key, use);
  };

  const noteFieldRead = ({ name: field, start, end }: Expression & { is: 'member' }): void => {
    const key = `${currentType}/${field}`;
    if (currentType < 0 || fieldsRead.has(key)) return;
    const range = lines.range(start, end);
    fieldsRead.set(key, { type: currentType, field, function: currentFunction, range });
  };

  /** Something is done to what the code found, or to what a field holds. */
  const touch = (on: Value, how: Touch['how'], used: Expression & { is: 'member' }, isBare = false): void => {
    if (on.is === 'any') return on.of.forEach((one) => touch(one, how, used, isBare));
    const { name: member, start, end } = used;
    const thing = thingKey(on);
    if (!thing || (on.is !== 'operation' && on.is !== 'field')) return;
    const isDriving = how === 'writes' || (how === 'calls' && isBare);
    const key = `${currentFunction} ${how} ${String(isDriving)} ${member} ${thing}`;
    const known = touchesSeen.get(key);
    if (known && (known.asks !== undefined || asking === undefined)) return;
    const placed = { type: currentType, function: currentFunction, range: lines.range(start, end) };
    const found: Touch = { on, member, how, isDriving, isAsked: false, ...placed };
    if (how !== 'writes' && asking !== undefined) found.asks = asking;
    touchesSeen.set(key, found);
  };

  /** A member of the script on something that was just spawned. */
  const noteUseOfSpawned = (
    { name: member, start, end }: Expression & { is: 'member' },
    receiver: Value,
    how: MemberUse['how'],
  ): void => {
    if (receiver.is !== 'operation') return;
    const { means, gives } = plan.calls[facts.operations[receiver.operation].rule];
    if (means !== 'spawn' || gives !== 'script') return;
    const key = `spawned ${receiver.operation} ${how} ${member}`;
    if (usesSeen.has(key)) return;
    const spawned = receiver.operation;
    const placed = { type: currentType, function: currentFunction, range: lines.range(start, end) };
    const use: MemberUse = { of: '', member, how, spawned, ...placed };
    usesSeen.set(key, use);
    facts.uses.push(use);
  };

  /** The type of a part that was asked for by its type. */
  const typeOfPart = (value: Value): string | undefined => {
    const operation = value.is === 'operation' ? facts.operations[value.operation] : undefined;
    if (!operation || plan.calls[operation.rule].means !== 'part') return undefined;
    const { type } = operation.arguments;
    return type?.is === 'constant' ? type.name.split('.').pop() : undefined;
  };

  /** Texts put together count as one text; a part of them is no reference by itself. */
  const evaluateJoin = (expression: Expression & { is: 'join' }, scope: Scope): Value => {
    const parts = expression.parts.map((part) =>
      part.is === 'text' ? ({ is: 'text', text: part.value } as Value) : evaluate(part, scope),
    );
    const value = joined(parts);
    if (value.is === 'text') noteLiteral(value.text, expression);
    return value;
  };

  /** A text that is a reference by itself, wherever it stands. */
  const noteLiteral = (value: string, { start, end }: { start: number; end: number }): void => {
    for (const [name, rule] of literals) {
      for (const { text } of cutAll(value, rule.pattern, rule.every)) {
        const placed = { function: currentFunction, type: currentType, range: lines.range(start, end) };
        if (text) facts.literals.push({ rule: name, text, ...placed });
      }
    }
  };

  const evaluateMember = (expression: Expression & { is: 'member' }, scope: Scope): Value => {
    const found = operationOf(expression, undefined, scope);
    if (found) return found;
    if (expression.of.is === 'self') {
      noteUse(expression, { is: 'self' }, 'reads');
      noteFlag(expression, 'reads');
      noteFieldRead(expression);
      return scope.get(`this.${expression.name}`) ?? fieldValue(expression.name);
    }
    noteHandedOn(expression, scope);
    const receiver = evaluate(expression.of, scope);
    noteUse(expression, receiver, 'reads');
    memberReads.add(expression.name);
    if (expression.safe) asked(receiver);
    touch(receiver, 'reads', expression);
    return receiver.is === 'constant' ? { is: 'constant', name: `${receiver.name}.${expression.name}` } : UNKNOWN;
  };

  const evaluateCall = (expression: Expression & { is: 'call' }, scope: Scope): Value => {
    const found = operationOf(expression.of, expression.arguments, scope, expression);
    if (found) return found;
    if (expression.of.is === 'member' && expression.of.name === 'bind') return evaluate(expression.of.of, scope);
    noteParentCall(expression.of);
    if (expression.of.is === 'name' && !expression.isNew) {
      const { name, start, end } = expression.of;
      if (!bareCalls.has(name)) bareCalls.set(name, { name, type: currentType, range: lines.range(start, end) });
    }
    if (expression.of.is === 'member' && expression.of.of.is === 'self' && currentFunction >= 0) {
      facts.functions[currentFunction].calls.push(expression.of.name);
      if (gates.length === 0) facts.functions[currentFunction].sureCalls.push(expression.of.name);
    }
    // The callee itself is no function handed on: only what it is called on is of interest.
    const calledOn = evaluate(expression.of.is === 'member' ? expression.of.of : expression.of, scope);
    if (expression.of.is === 'member') {
      noteUse(expression.of, calledOn, 'calls');
      if (expression.of.safe) asked(calledOn);
      touch(calledOn, 'calls', expression.of, expression === bareStatement);
    }
    for (const argument of expression.arguments) mention(evaluate(argument.value, scope));
    return UNKNOWN;
  };

  /** `super.begin()`, or `Vessel.begin(self)` where the parent is called by name. */
  const noteParentCall = (callee: Expression): void => {
    if (callee.is !== 'member' || currentFunction < 0) return;
    const parents = currentType >= 0 ? script.types[currentType].parents : [];
    const isParent = callee.of.is === 'parent' || (callee.of.is === 'name' && parents.includes(callee.of.name));
    if (!isParent || facts.functions[currentFunction].name !== callee.name) return;
    const isIn = (statement: Statement | undefined): boolean =>
      statement !== undefined && statement.start <= callee.start && callee.end <= statement.end;
    const place = isIn(currentBody[0]) ? 'before' : isIn(currentBody.at(-1)) ? 'after' : 'amid';
    facts.functions[currentFunction].callsParent = gates.length > 0 ? 'amid' : place;
  };

  const mention = (value: Value): void => {
    if (value.is === 'text' && value.text.length <= LONGEST_MENTION) mentions.add(value.text);
    else if (value.is === 'constant') mentions.add(value.name.split('.').pop()!);
    else if (value.is === 'any') value.of.forEach(mention);
  };

  /** A sender or listener given away as a function: its event is known only where the receiver is the event. */
  const noteHandedOn = (expression: Expression & { is: 'member' }, scope: Scope): void => {
    const entry = matchHandedOn(table, expression, typeOf);
    if (!entry) return;
    const { head } = entry.rule.pattern;
    facts.operations.push({
      rule: entry.index,
      function: currentFunction,
      type: currentType,
      receiver: { is: 'self' },
      arguments: head.is === 'role' ? { [head.role]: evaluate(expression.of, scope) } : {},
      payload: 0,
      moment: 'unknown',
      side: currentSide,
      guarded: false,
      isConditional: true,
      range: lines.range(expression.start, expression.end),
    });
  };

  /** Notes an operation when the call table knows this call or property. */
  const operationOf = (
    callee: Expression,
    given: Argument[] | undefined,
    scope: Scope,
    whole: Expression = callee,
  ): Value | undefined => {
    const match = matchCall(table, callee, given, whole.is === 'call' ? whole.typeArguments : [], typeOf);
    if (!match) return undefined;
    const { pattern, means } = match.rule;
    const receiverCode = callee.is === 'member' ? callee.of : undefined;
    const isStart = pattern.head.is === 'any receiver' || pattern.head.is === 'type';
    const receiver = isStart && receiverCode ? evaluate(receiverCode, scope) : ({ is: 'self' } as Value);
    if (callee.is === 'member' && callee.safe) asked(receiver);
    const values: Partial<Record<Role, Value>> = {};
    if (pattern.head.is === 'role' && receiverCode) values[pattern.head.role] = evaluate(receiverCode, scope);
    for (const { role, name } of match.named) values[role] = { is: 'text', text: name };
    for (const { role, value } of match.arguments)
      values[role] = role === 'handler' ? handlerOf(value, scope) : evaluate(value, scope);
    for (const argument of match.rest) evaluate(argument, scope);
    pattern.typeArguments.forEach((role, position) => {
      if (role !== '_' && whole.is === 'call') values[role] = { is: 'constant', name: whole.typeArguments[position] };
    });
    const operation: Operation = {
      rule: match.index,
      function: currentFunction,
      type: currentType,
      receiver,
      arguments: values,
      payload: match.more,
      moment: match.rule.moment === 'unknown' ? currentMoment : match.rule.moment,
      side: currentSide,
      guarded: false,
      isConditional: gates.length > 0,
      range: lines.range(whole.start, whole.end),
    };
    const told = gates.filter(({ words }) => words !== '').slice(0, MOST_GATES);
    if (told.length > 0) operation.gates = told;
    facts.operations.push(operation);
    const value: Value = { is: 'operation', operation: facts.operations.length - 1 };
    return WITHOUT_VALUE.has(means) ? UNKNOWN : value;
  };

  /** A handler given as a name, a method of the own type, or written in place. */
  const handlerOf = (code: Expression, scope: Scope): Value => {
    if (code.is === 'function') {
      addFunction(code.function, scope, 'on an event');
      return { is: 'function', name: code.function.name };
    }
    if (code.is === 'member' && code.of.is === 'self') {
      noteUse(code, { is: 'self' }, 'calls');
      handlers.add(code.name);
      return { is: 'function', name: code.name };
    }
    if (code.is === 'name' && !scope.has(code.name)) {
      handlers.add(code.name);
      return { is: 'function', name: code.name };
    }
    return evaluate(code, scope);
  };

  const assign = (target: Expression, value: Value, scope: Scope, written?: Expression): Value => {
    if (target.is === 'name') {
      ownNames.add(target.name);
      scope.set(target.name, value);
    } else if (target.is === 'member' && target.of.is === 'self') {
      scope.set(`this.${target.name}`, value);
      noteUse(target, { is: 'self' }, 'writes', truthOf(written));
      noteFlag(target, 'writes', written);
      facts.fieldValues.push({ type: currentType, field: target.name, function: currentFunction, value });
      if (value.is === 'operation') keptIn.push({ field: `${currentType}/${target.name}`, operation: value.operation });
    } else if (target.is === 'member') {
      memberWrites.add(target.name);
      const on = evaluate(target.of, scope);
      noteUse(target, on, 'writes', truthOf(written));
      touch(on, 'writes', target);
    } else if (target.is === 'list' || target.is === 'other') {
      // Several at once: which value goes where is not followed.
      eachInner(target, (inner) => void assign(inner, UNKNOWN, scope));
    } else evaluate(target, scope);
    return value;
  };

  const addType = (type: ScriptSyntax['types'][number], index: number): void => {
    currentType = index;
    currentSide = sideOf(rule, type.decorators, rule.side);
    const fact: TypeFact = {
      name: type.name,
      kind: type.kind,
      parents: type.parents,
      fields: type.fields.map((field) => ({
        name: field.name,
        type: field.type,
        exposed: isExposed(field),
        required: isExposed(field) && rule.exposed.required && !field.optional && !field.value,
        hidden: isHidden(field.name, field.decorators),
        ...(field.value && { default: shortened(text.slice(field.value.start, field.value.end)) }),
        range: lines.range(field.start, field.end),
      })),
      flags: [],
      ...(type.others && { others: type.others }),
      ...(type.isOpen && { isOpen: type.isOpen }),
      side: currentSide,
      range: lines.range(type.nameStart, type.nameEnd),
    };
    facts.types.push(fact);
    for (const field of type.fields) {
      if (!field.value) continue;
      const value = evaluate(field.value, new Map());
      if (field.isStatic) addConstant(`${type.name}.${field.name}`, value);
      else facts.fieldValues.push({ type: index, field: field.name, function: -1, value });
    }
    for (const code of type.functions) addFunction(code, new Map(), momentOf(code.name));
    if (type.kind === 'class') fact.flags = flagsOf(type, index);
    currentType = -1;
    currentSide = rule.side;
  };

  const flagsOf = ({ fields }: ScriptSyntax['types'][number], index: number): FlagFact[] => {
    const declared = fields
      .filter(({ name, type, value }) => isTruthType(type) || truthOf(value) || setToTruth.has(`${index}/${name}`))
      .map((field): FlagFact => {
        const starts = truthOf(field.value);
        return {
          name: field.name,
          isDeclared: true,
          exposed: isExposed(field),
          isStatic: field.isStatic,
          isShared: field.decorators.some((decorator) => rule.sided.shared.includes(decorator)),
          ...(starts && { starts }),
          range: lines.range(field.start, field.end),
        };
      });
    const names = new Set(fields.map(({ name }) => name));
    const given = [...setToTruth].flatMap(([name, range]): FlagFact[] => {
      const [type, field] = name.split('/');
      if (Number(type) !== index || names.has(field)) return [];
      return [{ name: field, isDeclared: false, exposed: false, isStatic: false, isShared: false, range }];
    });
    return [...declared, ...given];
  };

  const addConstant = (name: string, value: Value): void => {
    if (value.is === 'text') facts.constants.push({ name, text: value.text });
  };

  const file: Scope = new Map();
  walk(script.body, file);
  for (const [name, value] of file) addConstant(name, value);
  for (const statement of script.body) {
    if (statement.is === 'local' && statement.value?.is === 'table') {
      for (const entry of statement.value.entries)
        addConstant(`${statement.name}.${entry.name}`, entryValues.get(entry.value) ?? UNKNOWN);
    }
  }
  const known: Scope = new Map([...file].filter(([, value]) => value.is === 'text'));
  for (const code of script.functions) addFunction(code, known, momentOf(code.name));
  script.types.forEach(addType);

  for (const { field, operation } of keptIn) if (askedFields.has(field)) facts.operations[operation].guarded = true;
  for (const code of facts.functions) {
    if (handlers.has(code.name) && code.moment === 'unknown') code.moment = 'on an event';
  }
  spreadMoments(facts);
  noteAskedParts(facts, plan);
  facts.flagUses = [...flagsSeen.values()].filter(({ type, field }) =>
    facts.types[type].flags.some(({ name }) => name === field),
  );
  facts.fieldReads = [...fieldsRead].filter(([key]) => !askedFields.has(key)).map(([, read]) => read);
  facts.touches = [...touchesSeen.values()];
  for (const one of facts.touches) one.isAsked = isAskedBefore(facts.functions, askedIn, one);
  const isOwn = ownFunctions(rule.language);
  for (const { names } of script.imports) for (const { as } of names) ownNames.add(as);
  for (const { name } of script.types) ownNames.add(name);
  facts.strangers = [...bareCalls.values()].filter(({ name }) => !ownNames.has(name) && !isOwn(name));
  facts.memberWrites = [...memberWrites].sort();
  facts.memberReads = [...memberReads].sort();
  facts.tableKeys = [...tableKeys].sort();
  facts.mentions = [...mentions].sort();
  return facts;
}

/** Names a thing that the code found or holds, for keys. */
function thingKey(value: Value): string | undefined {
  if (value.is === 'operation') return `operation ${value.operation}`;
  return value.is === 'field' ? `field ${value.name}` : undefined;
}

/** Whether the function, or one of its type that calls it, asks whether the thing is there. */
function isAskedBefore(functions: FunctionFact[], askedIn: ReadonlySet<string>, { on, function: at }: Touch): boolean {
  const key = thingKey(on)!;
  const code = functions[at];
  return (
    askedIn.has(`${at} ${key}`) ||
    functions.some(
      ({ type, calls }, index) =>
        type === code?.type && calls.includes(code.name) && code.name !== '' && askedIn.has(`${index} ${key}`),
    )
  );
}

/** Own fields that an expression looks at. */
function ownFieldsIn(expression: Expression): string[] {
  if (expression.is === 'member' && expression.of.is === 'self') return [expression.name];
  const found: string[] = [];
  eachInner(expression, (inner) => found.push(...ownFieldsIn(inner)));
  return found;
}

/** Whether an expression is a truth value, and which. */
function truthOf(value: Expression | undefined): 'on' | 'off' | undefined {
  return value?.is === 'boolean' ? (value.value ? 'on' : 'off') : undefined;
}

function isTruthType(type: string): boolean {
  return /^(?:boolean|bool|Boolean|Bool)$/.test(type.trim());
}

/** The side that decorators or modifiers tell, or the one around. */
function sideOf({ sided }: ScriptRule, decorators: string[], around: Side): Side {
  const on = (names: string[]): boolean => decorators.some((decorator) => names.includes(decorator));
  const [server, client] = [on(sided.server), on(sided.client)];
  return server && client ? 'both' : server ? 'server' : client ? 'client' : around;
}

/** `...more`, `*more`: any number of arguments. */
function isRest(parameter: string): boolean {
  return parameter.startsWith('...') || parameter.startsWith('*');
}

/** A default value on one line, cut when it is long. */
function shortened(written: string): string {
  const line = written.replace(/\s+/g, ' ');
  return line.length > LONGEST_DEFAULT ? `${line.slice(0, LONGEST_DEFAULT)}…` : line;
}

/** Whether a type has a member of its own, so that using it leads nowhere else. */
function declaresItself({ types }: ScriptSyntax, type: number, member: string): boolean {
  const own = types[type];
  return own?.fields.some((field) => field.name === member) || own?.functions.some((code) => code.name === member);
}

/**
 * A function that is called from one that surely runs, runs at that moment too. What a frame calls only if something
 * holds does not run in every frame, but when that comes to pass.
 */
function spreadMoments({ functions, operations }: ScriptFacts): void {
  const open = functions.filter((code) => code.moment !== 'unknown');
  for (let code = open.pop(); code; code = open.pop()) {
    const { type, moment, calls, sureCalls } = code;
    for (const called of functions) {
      if (called.moment !== 'unknown' || called.type !== type || !calls.includes(called.name)) continue;
      called.moment = moment === 'every frame' && !sureCalls.includes(called.name) ? 'on an event' : moment;
      open.push(called);
    }
  }
  for (const operation of operations) {
    if (operation.function >= 0 && operation.moment === 'unknown')
      operation.moment = functions[operation.function].moment;
  }
}

/** Where a function asks whether an object has a part, its look-ups of that part are prepared for none. */
function noteAskedParts({ operations }: ScriptFacts, plan: Plan): void {
  const key = (operation: Operation): string => `${operation.function} ${JSON.stringify(operation.arguments.type)}`;
  const means = (operation: Operation): Meaning => plan.calls[operation.rule].means;
  const asked = new Set(operations.filter((operation) => means(operation) === 'asks part').map(key));
  for (const operation of operations)
    if (means(operation) === 'part' && asked.has(key(operation))) operation.guarded = true;
}

/** What makes a field of a script one that people fill in outside the code. */
function exposing({ comments }: ScriptSyntax, text: string, { exposed }: ScriptRule): (field: FieldSyntax) => boolean {
  const name = exposed.names === undefined ? undefined : new RegExp(exposed.names, 'u');
  const isTagged = ({ start, end }: FieldSyntax): boolean =>
    exposed.comments.length > 0 &&
    comments.some((comment) => {
      // A comment that belongs to the field before ends on that field's line.
      const isBefore =
        comment.end <= start &&
        /^\s*[^\n;{}]*$/.test(text.slice(comment.end, start)) &&
        beginsLine(text, comment.start);
      const isBehind = comment.start >= end && /^[^\S\n]*[;,]?[^\S\n]*$/.test(text.slice(end, comment.start));
      return (
        (isBefore || isBehind) && exposed.comments.some((tag) => text.slice(comment.start, comment.end).includes(tag))
      );
    });
  return (field) => {
    if (field.decorators.some((decorator) => exposed.decorators.includes(decorator))) return true;
    const head = /^[A-Za-z_][A-Za-z0-9_.]*/.exec(field.type)?.[0] ?? '';
    return exposed.types.includes(head) || name?.test(field.name) === true || isTagged(field);
  };
}

/** What makes a member one that code of other types is not meant to use. */
function hiding({ hidden }: ScriptRule): (name: string, modifiers: string[]) => boolean {
  const names = hidden.names === undefined ? undefined : new RegExp(hidden.names, 'u');
  return (name, modifiers) =>
    modifiers.some((modifier) => hidden.modifiers.includes(modifier)) ||
    (hidden.unless.length > 0 && !modifiers.some((modifier) => hidden.unless.includes(modifier))) ||
    name.startsWith('#') ||
    names?.test(name) === true;
}

function beginsLine(text: string, at: number): boolean {
  return /(^|\n)[^\S\n]*$/.test(text.slice(Math.max(0, at - 200), at));
}

function joined(parts: Value[]): Value {
  const flat = parts.flatMap((part) => (part.is === 'join' ? part.parts : [part]));
  if (flat.every((part) => part.is === 'text'))
    return { is: 'text', text: flat.map((part) => (part as { text: string }).text).join('') };
  return flat.some((part) => part.is === 'text') ? { is: 'join', parts: flat } : UNKNOWN;
}

function anyOf(values: Value[]): Value {
  // Most names are the same in every branch.
  if (values.length > 0 && values.every((value) => value === values[0])) return values[0];
  const flat = values.flatMap((value) => (value.is === 'any' ? value.of : [value]));
  const distinct: Value[] = [];
  const seen = new Set<string>();
  for (const value of flat) {
    const key = JSON.stringify(value);
    if (!seen.has(key)) {
      seen.add(key);
      distinct.push(value);
    }
  }
  if (distinct.length === 1) return distinct[0];
  return distinct.length === 0 || distinct.length > MOST_CHOICES ? UNKNOWN : { is: 'any', of: distinct };
}
