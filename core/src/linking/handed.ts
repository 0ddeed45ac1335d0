/**
 * Helpers in other files: what a function does with its parameters is done for what each caller hands to it. The
 * caller's script is given these operations, at the place of its call; then they are linked and checked as if they were
 * written there. Which function is meant goes by names alone, and only where one alone can be meant: so it can be worked
 * out before anything is linked.
 */
import { itemAt } from '../helpers/at.js';
import { once } from '../helpers/once.js';
import { push } from '../helpers/push.js';
import {
  UNKNOWN,
  type FileFacts,
  type HandedCall,
  type Operation,
  type ScriptFacts,
  type Value,
} from '../reading/facts.js';
import { joined } from '../reading/scripts/facts/scope.js';
import { baseName, stem } from '../reading/source.js';

/** A function of a script. */
interface Helper {
  fact: FileFacts;
  script: ScriptFacts;
  index: number;
}

/** Helpers that call helpers are followed so far. */
const DEEPEST = 3;
/** One script is given at most so many operations of others. */
const MOST_HANDED = 2000;

/** Facts by those that they were made from: as long as all of these stay, the same object. */
export type Handed = WeakMap<FileFacts, { from: readonly FileFacts[]; fact: FileFacts }>;

/** The same facts; scripts that hand something to functions of other files have what these do with it as well. */
export function withHanded(facts: readonly FileFacts[], known: Handed): FileFacts[] {
  if (!facts.some(({ script }) => script && script.handed.length > 0)) return [...facts];
  const names = namesOf(facts);
  return facts.map((fact) => {
    const { script } = fact;
    if (!script || script.handed.length === 0) return fact;
    const used = new Set<FileFacts>();
    const operations = handedTo(names, fact, script, used);
    if (operations.length === 0) return fact;
    const from = [...used];
    const before = known.get(fact);
    if (before && before.from.length === from.length && before.from.every((one, at) => one === from[at]))
      return before.fact;
    const made = { ...fact, script: { ...script, operations: [...script.operations, ...operations] } };
    known.set(fact, { from, fact: made });
    return made;
  });
}

interface Names {
  /** Functions of no type, and types, by name. */
  functions: Map<string, Helper[]>;
  types: Map<string, { fact: FileFacts; script: ScriptFacts; local: number }[]>;
}

function namesOf(facts: readonly FileFacts[]): Names {
  const names: Names = { functions: new Map(), types: new Map() };
  for (const fact of facts) {
    const { script } = fact;
    if (!script) continue;
    script.types.forEach(({ name }, local) => push(names.types, name, { fact, script, local }));
    script.functions.forEach(({ name, type }, index) => {
      if (type < 0 && name) push(names.functions, name, { fact, script, index });
    });
  }
  return names;
}

function handedTo(names: Names, fact: FileFacts, script: ScriptFacts, used: Set<FileFacts>): Operation[] {
  const made: Operation[] = [];
  /** @param from whose code the call stands in; the caller itself, or a helper that it calls */
  const visit = (call: HandedCall, written: HandedCall, from: Caller, depth: number): void => {
    // What is called on the own object is looked for from the caller's own type on.
    const isOwn = from.isSelf && written.on === 'self';
    const helper = isOwn
      ? helperOf(names, fact, script, { ...written, type: call.type })
      : helperOf(names, from.fact, from.script, written);
    if (!helper || helper.fact === fact || made.length > MOST_HANDED) return;
    const isSelf =
      isOwn || (from.isSelf && written.on === '' && itemAt(helper.script.functions, helper.index).type >= 0);
    const done = operationsFor(helper, call, isSelf, script.operations.length + made.length);
    if (done.length > 0) used.add(helper.fact);
    made.push(...done);
    if (depth >= DEEPEST) return;
    for (const inner of helper.script.handed) {
      if (inner.function !== helper.index || !inner.arguments.some(isOfParameter)) continue;
      used.add(helper.fact);
      const given = inner.arguments.map((value) => filled(value, call.arguments, isSelf, new Map()));
      const isConditional = call.isConditional || inner.isConditional;
      visit({ ...call, arguments: given, isConditional }, inner, { ...helper, isSelf }, depth + 1);
    }
  };
  for (const call of script.handed) visit(call, call, { fact, script, isSelf: true }, 1);
  return made;
}

interface Caller {
  fact: FileFacts;
  script: ScriptFacts;
  /** Its own object is that of the script that all is done for. */
  isSelf: boolean;
}

/** The one function that a call can mean. */
function helperOf(
  names: Names,
  fact: FileFacts,
  script: ScriptFacts,
  { name, on, type }: HandedCall,
): Helper | undefined {
  const own = script.types[type];
  // A function of its own comes before one of a parent.
  if (own && (on === 'self' || on === '') && script.functions.some((code) => code.type === type && code.name === name))
    return undefined;
  if (on === 'self') return inherited(names, script, type, name);
  if (on === '') {
    return inherited(names, script, type, name) ?? freeFunction(names, fact, script, name);
  }
  const types = names.types.get(on) ?? [];
  const [only] = types;
  if (only && types.length === 1) return functionIn(only, name);
  const taken = script.imports.find(({ from, names: all }) => stemOf(from) === on || all.some(({ as }) => as === on));
  return taken && alone((names.functions.get(name) ?? []).filter((one) => stem(one.fact.file) === stemOf(taken.from)));
}

/** The function that a type has from a parent in another file. */
function inherited(names: Names, script: ScriptFacts, type: number, name: string): Helper | undefined {
  let at = type >= 0 ? { script, local: type } : undefined;
  for (let steps = 0; at && steps < 20; steps++) {
    const parents = itemAt(at.script.types, at.local).parents.flatMap((parent) => {
      const all = names.types.get(parent.split('.').pop() ?? parent) ?? [];
      return all.length === 1 ? all : [];
    });
    const [parent] = parents;
    if (!parent) return undefined;
    const found = functionIn(parent, name);
    if (found) return found;
    at = parent;
  }
  return undefined;
}

function functionIn(
  { fact, script, local }: { fact: FileFacts; script: ScriptFacts; local: number },
  name: string,
): Helper | undefined {
  const index = script.functions.findIndex((code) => code.type === local && code.name === name);
  return index < 0 ? undefined : { fact, script, index };
}

function freeFunction(names: Names, fact: FileFacts, script: ScriptFacts, name: string): Helper | undefined {
  for (const { from, names: all } of script.imports) {
    const taken = all.find(({ as }) => as === name);
    if (taken)
      return alone((names.functions.get(taken.name) ?? []).filter((one) => stem(one.fact.file) === stemOf(from)));
  }
  return alone((names.functions.get(name) ?? []).filter((one) => one.fact !== fact));
}

const alone = (all: readonly Helper[]): Helper | undefined => (all.length === 1 ? all[0] : undefined);

/** `./lib/take.js`, `lib.take`: the file is called `take`. */
function stemOf(from: string): string {
  const last = baseName(from.replace(/\\/g, '/'));
  return /^[\w.]+$/.test(from) && !from.includes('/') ? (from.split('.').pop() ?? from) : stem(last);
}

/** What a function does with its parameters, by its position among the operations of its script. */
const dependingOn = once((script: ScriptFacts): Map<number, number[]> => {
  const byFunction = new Map<number, number[]>();
  script.operations.forEach(({ function: index }, at) => index >= 0 && push(byFunction, index, at));
  for (const [index, all] of byFunction) {
    const depends = new Set<number>();
    const needed = new Set<number>();
    for (const at of all) {
      const { receiver, arguments: given } = itemAt(script.operations, at);
      const values = [receiver, ...Object.values(given)];
      if (values.some((value) => isOfParameter(value) || operationsIn(value).some((one) => depends.has(one))))
        depends.add(at);
    }
    // What these begin with is done as well.
    for (const at of [...all].reverse()) {
      if (!depends.has(at) && !needed.has(at)) continue;
      needed.add(at);
      const { receiver, arguments: given } = itemAt(script.operations, at);
      for (const value of [receiver, ...Object.values(given)]) for (const one of operationsIn(value)) needed.add(one);
    }
    byFunction.set(index, depends.size === 0 ? [] : all.filter((at) => needed.has(at)));
  }
  return byFunction;
});

function operationsIn(value: Value): number[] {
  if (value.is === 'operation') return [value.operation];
  return value.is === 'any'
    ? value.of.flatMap(operationsIn)
    : value.is === 'join'
      ? value.parts.flatMap(operationsIn)
      : [];
}

function isOfParameter(value: Value): boolean {
  if (value.is === 'unknown') return value.parameter !== undefined;
  return value.is === 'any' ? value.of.some(isOfParameter) : value.is === 'join' && value.parts.some(isOfParameter);
}

/** The operations of a helper, filled with what it is given, as the caller's own from position `first` on. */
function operationsFor({ script, index }: Helper, call: HandedCall, isSelf: boolean, first: number): Operation[] {
  const positions = dependingOn(script).get(index) ?? [];
  const places = new Map(positions.map((at, place) => [at, first + place]));
  return positions.map((at, place): Operation => {
    const operation = itemAt(script.operations, at);
    const fill = (value: Value): Value => filled(value, call.arguments, isSelf, places);
    const { line, endLine, endColumn, column } = call.range;
    // Each has a place of its own: they are told apart by it.
    const last = Math.max(line === endLine ? column + 1 : 1, endColumn - (positions.length - 1 - place));
    return {
      ...operation,
      type: call.type,
      function: call.function,
      receiver: fill(operation.receiver),
      arguments: Object.fromEntries(Object.entries(operation.arguments).map(([role, value]) => [role, fill(value)])),
      moment: call.moment,
      side: call.side,
      // Whether the caller asks for what it is given back is not known.
      guarded: operation.guarded || operation.isGiven === true,
      isConditional: operation.isConditional || call.isConditional,
      gates: [...(call.gates ?? []), ...(operation.gates ?? [])],
      range: { ...call.range, endColumn: last },
      isHanded: true,
    };
  });
}

/** A value of a helper as the caller would write it. */
function filled(value: Value, given: readonly Value[], isSelf: boolean, places: ReadonlyMap<number, number>): Value {
  switch (value.is) {
    case 'unknown':
      return value.parameter === undefined ? UNKNOWN : (given[value.parameter] ?? UNKNOWN);
    case 'self':
    case 'field':
      return isSelf ? value : UNKNOWN;
    case 'operation': {
      const operation = places.get(value.operation);
      return operation === undefined ? UNKNOWN : { is: 'operation', operation };
    }
    case 'function':
      return value.at === undefined ? value : UNKNOWN;
    case 'join':
      return joined(value.parts.map((part) => filled(part, given, isSelf, places)));
    case 'any':
      return { ...value, of: value.of.flatMap((one) => flat(filled(one, given, isSelf, places))) };
    default:
      return value;
  }
}

const flat = (value: Value): Value[] => (value.is === 'any' ? value.of : [value]);
