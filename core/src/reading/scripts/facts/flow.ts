/**
 * What flows between the functions of one script: values handed on as arguments, given back, and kept in fields. It is
 * known only when all of the code was walked; so the code is walked again with what the walk before found.
 */
import { UNKNOWN, type FunctionFact, type Operation, type Value } from '../../facts.js';
import type { ScriptSyntax } from '../syntax.js';
import { anyOf } from './scope.js';
import { operationIn, type Taking } from './taking.js';

/** Functions are named `type/name`, by the position of their type (-1 for none), or `#position` when they have no name. */
export interface Flow {
  /** The arguments of each call of an own function. */
  given: Map<string, Value[][]>;
  results: Map<string, Value[]>;
  /** Constants, functions, parts and what was spawned in fields, by `type/field`; `undefined` where several things are kept. */
  kept: Map<string, Value | undefined>;
  /** Positions of functions without a name that events call. */
  heard: Set<number>;
  /** The operations of that walk: each walk finds the same ones in the same order. */
  operations: readonly Operation[];
  /** Its functions, whose bodies stay what they are. */
  functions: readonly FunctionFact[];
}

/** Walks that are made at most: each follows values one function farther. */
export const MOST_WALKS = 3;
/** Texts that are handed to one parameter before they count as unknown. */
const MOST_TEXTS = 40;

export const createFlow = (): Flow => ({
  given: new Map(),
  results: new Map(),
  kept: new Map(),
  heard: new Set(),
  operations: [],
  functions: [],
});

/** Whether another walk could find more than the one that made `flow`, which knew `before`. */
export function saysMore(flow: Flow, before: Flow, script: ScriptSyntax): boolean {
  const { given, kept, heard } = flow;
  if (given.size === 0 && kept.size === 0 && heard.size === 0) return false;
  const own = new Set(
    [...script.functions, ...script.types.flatMap(({ functions }) => functions)].map(({ name }) => name),
  );
  const now = told(flow, own);
  return now !== NOTHING_TOLD && now !== told(before, own);
}

const NOTHING_TOLD = '[[],[],[],[]]';

/** What of a flow another walk would use, in words that can be compared. */
function told({ given, results, kept, heard }: Flow, own: ReadonlySet<string>): string {
  const nameOf = (key: string): string => key.slice(key.indexOf('/') + 1);
  const isFollowed = ({ is }: Value): boolean => is !== 'unknown' && is !== 'nothing' && is !== 'number';
  const called = [...given].filter(([key]) => key.startsWith('#') || own.has(nameOf(key)));
  const names = new Set(called.map(([key]) => nameOf(key)));
  const calls = called.filter(([, all]) => all.some((one) => one.some(isFollowed)));
  const gives = [...results].filter(([key, all]) => names.has(nameOf(key)) && all.some(isFollowed));
  const keeps = [...kept].filter(([, value]) => value !== undefined);
  return JSON.stringify([calls, gives, keeps, [...heard]]);
}

/** Notes a call of an own function, with what it is given. */
export function noteGiven({ flow }: Taking, key: string, values: Value[]): void {
  const all = flow.given.get(key);
  if (all) all.push(values);
  else flow.given.set(key, [values]);
}

export function noteResult({ flow, here, facts }: Taking, value: Value): void {
  const code = facts.functions[here.function];
  if (!code) return;
  const key = code.name ? `${code.type}/${code.name}` : `#${here.function}`;
  const all = flow.results.get(key);
  if (all) all.push(value);
  else flow.results.set(key, [value]);
}

export function noteKept(taking: Taking, field: string, value: Value): void {
  const { flow, here, plan } = taking;
  const key = `${here.type}/${field}`;
  const operation = operationIn(taking, value);
  const means = operation && plan.calls[operation.rule]?.means;
  const isFollowed = value.is === 'constant' || value.is === 'function' || means === 'part' || means === 'spawn';
  const isSame = !flow.kept.has(key) || JSON.stringify(flow.kept.get(key)) === JSON.stringify(value);
  // What starts as nothing is filled later.
  if (value.is !== 'nothing') flow.kept.set(key, isFollowed && isSame ? value : undefined);
}

/** What the walk before found in a field of the own type: a constant, a function or a part. */
export function keptIn({ known, here, script }: Taking, field: string): Value | undefined {
  for (const type of upwards(script, here.type)) {
    const kept = known.kept.get(`${type}/${field}`);
    if (kept) return kept;
  }
  return undefined;
}

/** What a function's parameters stand for, as far as its own script calls it: others may, unless it is hidden. */
export function parametersOf(
  { known, script, here }: Taking,
  { name, parameters, hidden }: FunctionFact,
  position: number,
): Value[] {
  if (known.given.size === 0) return [];
  const keys = name ? keysOf(script, here.type, name) : [`#${position}`];
  const calls = keys.flatMap((key) => known.given.get(key) ?? []);
  if (calls.length === 0) return [];
  return parameters.map((_, at) => {
    const value = eachOf(calls.map((given) => given[at] ?? UNKNOWN));
    return name && !hidden && hasText(value) ? eachOf([value, UNKNOWN]) : value;
  });
}

function hasText(value: Value): boolean {
  return value.is === 'text' || (value.is === 'any' && value.of.some(hasText));
}

/** Whether the script calls a function of its own: it is known there whether somebody asks for what it gives. */
export function isCalled({ known, here, facts }: Taking): boolean {
  const code = facts.functions[here.function];
  if (!code) return false;
  return code.name ? known.given.has(`${code.type}/${code.name}`) : known.given.has(`#${here.function}`);
}

/** What an own function gives, by what the walk before found; undefined when the script has no such function. */
export function resultOf({ known, script, here }: Taking, name: string): Value | undefined {
  if (known.results.size === 0) return undefined;
  for (const type of [...upwards(script, here.type), -1]) {
    const results = known.results.get(`${type}/${name}`);
    if (results) return anyOf(results);
    if (type >= 0 && script.types[type]?.functions.some((code) => code.name === name)) return undefined;
  }
  return undefined;
}

/** The calls that may mean a function of a type: of its own type, of those that descend from it, of its parents. */
function keysOf(script: ScriptSyntax, type: number, name: string): string[] {
  if (type < 0) return [-1, ...script.types.keys()].map((one) => `${one}/${name}`);
  const below = [...script.types.keys()].filter(
    (one) =>
      one !== type &&
      upwards(script, one).includes(type) &&
      !script.types[one]?.functions.some((code) => code.name === name),
  );
  return [...upwards(script, type), ...below].map((one) => `${one}/${name}`);
}

/** A type and those above it in the same script. */
function upwards({ types }: ScriptSyntax, type: number): number[] {
  const found: number[] = [];
  for (let at = type; at >= 0 && !found.includes(at);) {
    found.push(at);
    const parents = types[at]?.parents ?? [];
    at = types.findIndex(({ name }) => parents.includes(name));
  }
  return found;
}

/**
 * All of some values, each of which is meant. Things of which one is not known are not told apart from it; texts are:
 * each of them is used by itself.
 */
export function eachOf(values: Value[]): Value {
  const flat = values.flatMap((value) => (value.is === 'any' ? value.of : [value]));
  const distinct = [...new Map(flat.map((value) => [JSON.stringify(value), value])).values()];
  const isKnown = distinct.every(({ is }) => is !== 'unknown' && is !== 'nothing');
  const followed = isKnown ? distinct : distinct.filter(({ is }) => is === 'text');
  const [first] = followed;
  if (!first || followed.length > MOST_TEXTS) return UNKNOWN;
  if (isKnown && followed.length === 1) return first;
  return { is: 'any', of: isKnown ? followed : [...followed, UNKNOWN], each: true };
}
