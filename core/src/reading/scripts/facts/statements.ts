/** Values and where they flow: walks statements once, branch by branch, joining what branches leave behind. */
import { UNKNOWN, type Value } from '../../facts.js';
import type { Meaning } from '../../plan/meanings.js';
import type { Expression, Statement } from '../syntax.js';
import { asked, condition } from './asking.js';
import { bounded, FALLS, FUNCTION, gateOf, guardRest, LOOP, PASS, TRY, within, type Ways } from './gates.js';
import { isCalled, noteResult } from './flow.js';
import { merge, type Scope } from './scope.js';
import { oneOf, operationIn, type Taking } from './taking.js';

/** Walks statements in order, up to one that surely leaves; says how they may end. */
export function walk(taking: Taking, statements: readonly Statement[], scope: Scope): Ways {
  let ways: Ways = 0;
  for (const statement of statements) {
    const own = step(taking, statement, scope);
    ways |= own & ~FALLS;
    if (!(own & FALLS)) return ways;
  }
  return ways | FALLS;
}

const LEAVES: Record<(Statement & { is: 'leave' })['what'], Ways> = { pass: PASS, loop: LOOP, try: TRY };

function step(taking: Taking, statement: Statement, scope: Scope): Ways {
  const { here, notes } = taking;
  switch (statement.is) {
    case 'expression':
      here.bareStatement = statement.value;
      taking.evaluate(taking, statement.value, scope);
      return FALLS;
    case 'local':
      notes.ownNames.add(statement.name);
      scope.set(statement.name, statement.value ? taking.evaluate(taking, statement.value, scope) : { is: 'nothing' });
      taking.types.noteLocal(statement.name, statement.type, statement.value);
      return FALLS;
    case 'return':
      if (statement.value) gives(taking, taking.evaluate(taking, statement.value, scope));
      return FUNCTION;
    case 'leave':
      return LEAVES[statement.what];
    case 'block':
      return walk(taking, statement.body, scope);
    case 'function':
      scope.set(statement.function.name, { is: 'function', name: statement.function.name });
      taking.addFunction(taking, statement.function, scope, here.moment);
      return FALLS;
    case 'loop':
      return loop(taking, statement, scope);
    case 'choose':
      return choose(taking, statement, scope);
    case 'try':
      return attempt(taking, statement, scope);
    case 'if':
      return branch(taking, statement, scope);
  }
}

const NAMES_FILE = new Set<Meaning>(['spawn', 'use file']);

/** Whoever calls this function may ask before use: that is known only where the script itself calls it. */
function gives(taking: Taking, value: Value): void {
  for (const one of value.is === 'any' ? value.of : [value]) {
    const given = one.is === 'operation' ? taking.facts.operations[one.operation] : undefined;
    if (given) given.isGiven = true;
  }
  const operation = operationIn(taking, value);
  const isFile = operation !== undefined && NAMES_FILE.has(taking.plan.calls[operation.rule]?.means ?? 'child');
  // A file that is not there is missing whoever asks.
  if (!isCalled(taking) && !isFile) asked(taking, value);
  noteResult(taking, value);
}

function branch(taking: Taking, { test, then, otherwise }: Statement & { is: 'if' }, scope: Scope): Ways {
  condition(taking, test, scope);
  const [first, second]: [Scope, Scope] = [new Map(scope), new Map(scope)];
  const gate = gateOf(taking, test);
  const ways = within(taking, gate, () => walk(taking, then, first));
  const others = within(taking, { ...gate, isNegated: true }, () => walk(taking, otherwise, second));
  // What comes after a way out is reached only if that was not taken.
  if (!(ways & FALLS) && others & FALLS) guardRest(taking, { ...gate, isNegated: true }, ways);
  if (ways & FALLS && !(others & FALLS)) guardRest(taking, { ...gate, isNegated: false }, others);
  merge(scope, [...(ways & FALLS ? [first] : []), ...(others & FALLS ? [second] : [])]);
  return ways | others;
}

function loop(taking: Taking, statement: Statement & { is: 'loop' }, scope: Scope): Ways {
  const { test, item, over, body } = statement;
  const each = over ? elementOf(taking, over, scope) : UNKNOWN;
  const isEndless = statement.isEndless === true || isAlwaysTrue(test);
  // A list that is written out has something in it.
  const isSure = isEndless || statement.runsOnce === true || (over !== undefined && isWrittenOut(over));
  if (test && !statement.runsOnce) condition(taking, test, scope);
  const inner: Scope = new Map(scope);
  if (item) {
    taking.notes.ownNames.add(item);
    inner.set(item, each);
    if (over) taking.types.noteElement(item, over);
  }
  const ways = bounded(taking, ['pass', 'loop'], isSure, () =>
    isSure ? walk(taking, body, inner) : within(taking, gateOf(taking, test), () => walk(taking, body, inner)),
  );
  if (test && statement.runsOnce) condition(taking, test, inner);
  merge(scope, [scope, inner]);
  const goesOn = isEndless ? ways & LOOP : !isSure || ways & (FALLS | PASS | LOOP);
  return (ways & (TRY | FUNCTION)) | (goesOn ? FALLS : 0);
}

/** What a loop over something has in hand, each time: one of a list, or of all that a look-up found. */
function elementOf(taking: Taking, over: Expression, scope: Scope): Value {
  // `ipairs(list)` goes through the list.
  const isPairs = over.is === 'call' && over.of.is === 'name' && PAIRS.has(over.of.name) && over.arguments.length === 1;
  const [only] = isPairs ? over.arguments : [];
  return oneOf(taking, taking.evaluate(taking, only ? only.value : over, scope));
}

const PAIRS = new Set(['pairs', 'ipairs']);

/** A list with something in it. */
function isWrittenOut(over: Expression): boolean {
  if (over.is === 'list') return over.items.length > 0;
  if (over.is === 'table') return over.entries.length > 0;
  const [only] = over.is === 'call' && over.of.is === 'name' && PAIRS.has(over.of.name) ? over.arguments : [];
  return only !== undefined && isWrittenOut(only.value);
}

function isAlwaysTrue(test: Expression | undefined): boolean {
  return (test?.is === 'boolean' && test.value) || (test?.is === 'number' && test.value !== 0);
}

/** One body of several; one that does not leave may run on into the next. */
function choose(taking: Taking, { value, branches, isWhole }: Statement & { is: 'choose' }, scope: Scope): Ways {
  if (value) taking.evaluate(taking, value, scope);
  const left: Scope[] = isWhole ? [] : [scope];
  let ranOn: Scope | undefined;
  let all: Ways = 0;
  let last: Ways = FALLS;
  for (const { body } of branches) {
    const inner: Scope = new Map(scope);
    if (ranOn) merge(inner, [scope, ranOn]);
    last = bounded(taking, ['loop'], false, () =>
      within(taking, gateOf(taking, undefined), () => walk(taking, body, inner)),
    );
    all |= last;
    ranOn = last & FALLS ? inner : undefined;
    if (last & (FALLS | LOOP)) left.push(inner);
  }
  merge(scope, left);
  const goesOn = !isWhole || all & LOOP || last & FALLS;
  return (all & (PASS | TRY | FUNCTION)) | (goesOn ? FALLS : 0);
}

/** A body that a fault may interrupt anywhere, and what handles faults. */
function attempt(taking: Taking, { body, handlers, lastly }: Statement & { is: 'try' }, scope: Scope): Ways {
  const isHandled = handlers.length > 0;
  const inner: Scope = new Map(scope);
  const ways = bounded(taking, isHandled ? ['try'] : [], true, () => walk(taking, body, inner));
  merge(scope, [scope, inner]);
  let all: Ways = isHandled ? ways & ~TRY : ways;
  // Faults are out of the ordinary: what comes behind does not hang on there being none.
  const { gates } = taking.here;
  for (const handler of handlers) {
    taking.here.gates = [...gates];
    const own: Scope = new Map(scope);
    all |= within(taking, gateOf(taking, undefined), () => walk(taking, handler.body, own));
    merge(scope, [scope, own]);
  }
  taking.here.gates = gates;
  const last = walk(taking, lastly, scope);
  return last & FALLS ? all | (last & ~FALLS) : last;
}
