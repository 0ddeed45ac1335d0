/** Functions, each with the code in it. */
import type { Moment } from '../../../model/link.js';
import { UNKNOWN, type FunctionFact, type Value } from '../../facts.js';
import { eventHeardBy } from '../../plan/handlers.js';
import type { ScriptRule } from '../../plan/plan.js';
import { bodyOf } from '../bodies.js';
import type { FunctionSyntax } from '../syntax.js';
import { hiding, sideOf } from './declared.js';
import { parametersOf } from './flow.js';
import type { Scope } from './scope.js';
import { walk } from './statements.js';
import type { Taking } from './taking.js';

/** Notes a function and walks through its code; `scope` is what the code around it knows. */
export function addFunction(taking: Taking, code: FunctionSyntax, scope: Scope, moment: Moment): void {
  const { facts, notes, rule, types } = taking;
  const outer = taking.here;
  const at = facts.functions.length;
  // An event calls it: what is done in it is done then.
  const isHeard = !code.name && (taking.known.heard.has(at) || taking.flow.heard.has(at));
  if (isHeard) taking.flow.heard.add(at);
  const fact = functionFact(taking, code, isHeard ? 'on an event' : moment);
  facts.functions.push(fact);
  taking.here = {
    ...outer,
    function: at,
    moment: fact.moment,
    side: fact.side,
    body: code.body,
    gates: [],
    asking: undefined,
  };
  const before = taking.known.functions[at];
  const body = before ? before.body : bodyOf(code, taking.text, taking.lines, rule.language);
  if (body) fact.body = body;
  const inner: Scope = new Map(scope);
  for (const key of [...inner.keys()]) if (key.startsWith('this.')) inner.delete(key);
  const given = parametersOf(taking, fact, at);
  const [first = UNKNOWN] = given;
  given[0] = notes.givenInPlace.get(code) ?? first;
  code.parameters.forEach(({ name }, at) =>
    inner.set(name, code.name ? orHanded(given[at], at) : (given[at] ?? UNKNOWN)),
  );
  for (const { name } of [code, ...code.parameters]) notes.ownNames.add(name);
  const leaveTypes = types.enter(code);
  walk(taking, code.body, inner);
  leaveTypes();
  taking.here = outer;
}

/** What a parameter stands for; what is not known of it, callers in other files may say. */
function orHanded(value: Value = UNKNOWN, parameter: number): Value {
  if (value.is === 'unknown') return { is: 'unknown', parameter };
  return value.is === 'any' ? { ...value, of: value.of.map((one) => orHanded(one, parameter)) } : value;
}

function functionFact(taking: Taking, code: FunctionSyntax, moment: Moment): FunctionFact {
  const { here, rule, lines } = taking;
  return {
    name: code.name,
    type: here.type,
    parameters: code.parameters.map((parameter) => parameter.name),
    needs: code.parameters.filter(({ name, optional }) => !optional && !isRest(name)).length,
    takesMore: code.parameters.some(({ name }) => isRest(name)),
    isEmpty: code.body.length === 0,
    calls: [],
    sureCalls: [],
    callsParent: false,
    hidden: hiding(rule)(code.name, code.decorators),
    moment,
    side: sideOf(rule, code.decorators, here.side),
    range: lines.range(code.start, code.end),
  };
}

/** `...more`, `*more`: any number of arguments. */
function isRest(parameter: string): boolean {
  return parameter.startsWith('...') || parameter.startsWith('*');
}

/** When the engine calls a function of this name. */
export function momentOf({ moments, handlers }: ScriptRule, name: string): Moment {
  if (moments.start.includes(name)) return 'start';
  if (moments.everyFrame.includes(name)) return 'every frame';
  if (moments.leave.includes(name)) return 'leave';
  return handlers.some((rule) => eventHeardBy(rule, name) !== undefined) ? 'on an event' : 'unknown';
}
