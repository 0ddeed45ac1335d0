/** What is known only when all of the code was read. */
import type { FunctionFact, Operation, ScriptFacts, Touch } from '../../facts.js';
import type { Meaning } from '../../plan/meanings.js';
import type { Plan } from '../../plan/plan.js';
import { isOwnFunction, LANGUAGE } from '../languages.js';
import type { GivenNames, ScriptSyntax } from '../syntax.js';
import type { LanguageTraits } from '../traits.js';
import { thingKey, type Taking } from './taking.js';

/** Puts what was noted into the facts, in order. */
export function finish({ facts, notes, plan, rule, script, text }: Taking, atTop: readonly string[]): void {
  for (const { field, operation } of notes.keptIn) {
    const kept = facts.operations[operation];
    if (kept && notes.askedFields.has(field)) kept.guarded = true;
  }
  for (const code of facts.functions) {
    if (notes.handlers.has(code.name) && code.moment === 'unknown') code.moment = 'on an event';
  }
  spreadMoments(facts);
  noteAskedParts(facts, plan);
  facts.flagUses = [...notes.flags.values()].filter(({ type, field }) =>
    facts.types[type]?.flags.some(({ name }) => name === field),
  );
  facts.fieldReads = [...notes.fieldReads].filter(([key]) => !notes.askedFields.has(key)).map(([, read]) => read);
  facts.touches = [...notes.touches.values()];
  for (const one of facts.touches) one.isAsked = isAskedBefore(facts.functions, notes.askedIn, one);
  for (const { names } of script.imports) for (const { as } of names) notes.ownNames.add(as);
  for (const { name } of script.types) notes.ownNames.add(name);
  facts.gives = givenBy(script, LANGUAGE[rule.language], atTop, notes.ownNames, text);
  for (const name of facts.gives.everywhere) notes.ownNames.add(name);
  const strangers = [...notes.bareCalls.values()].filter(
    ({ name }) => !notes.ownNames.has(name) && !isOwnFunction(rule.language, name),
  );
  const besideCalls = strangers.length > 0 ? namesBesideCalls(text) : undefined;
  facts.strangers = strangers.filter(({ name }) => !besideCalls?.has(name));
  facts.memberWrites = [...notes.memberWrites].sort();
  facts.memberReads = [...notes.memberReads].sort();
  facts.tableKeys = [...notes.tableKeys].sort();
  facts.mentions = [...notes.mentions].sort();
}

/** What a file gives: what it says, or all that has a name at its top. */
function givenBy(
  { gives, functions, types, imports }: ScriptSyntax,
  { namesAreGlobal, opensNames }: LanguageTraits,
  atTop: readonly string[],
  all: ReadonlySet<string>,
  text: string,
): GivenNames {
  const names = [
    ...atTop.filter((name) => !name.startsWith('this.')),
    ...functions.map(({ name }) => name),
    ...types.map(({ name }) => name),
    ...imports.flatMap((one) => one.names.map(({ as }) => as)),
    // What a function gives a name may be there for all.
    ...(namesAreGlobal ? all : []),
  ];
  const own = [...new Set(names.filter(Boolean))].sort();
  const isOpen = opensNames.test(text);
  if (!gives?.isModule)
    return { names: own, everywhere: gives?.everywhere ?? [], from: [], isWhole: !isOpen, isModule: false };
  return { ...gives, names: [...new Set(gives.names)].sort(), isWhole: gives.isWhole && !isOpen };
}

/** A name that is no member, and a mark behind it by which it is called or taken apart. */
const NAMES = /(?<![.:\p{L}\p{N}_$])([\p{L}_$][\p{L}\p{N}_$]*)(\s*["'({[<`])?/gu;

/**
 * Names that stand in the code otherwise than in calls: the code may give such a one a meaning in a way that is not
 * followed, as in patterns and comprehensions.
 */
function namesBesideCalls(text: string): Set<string> {
  const names = new Set<string>();
  for (const [, name = '', mark] of text.matchAll(NAMES)) if (mark === undefined) names.add(name);
  return names;
}

/** Whether the function, or one of its type that calls it, asks whether the thing is there. */
function isAskedBefore(functions: FunctionFact[], askedIn: ReadonlySet<string>, { on, function: at }: Touch): boolean {
  const key = thingKey(on) ?? '';
  const code = functions[at];
  if (askedIn.has(`${at} ${key}`)) return true;
  return (
    code !== undefined &&
    code.name !== '' &&
    functions.some(
      ({ type, calls }, index) => type === code.type && calls.includes(code.name) && askedIn.has(`${index} ${key}`),
    )
  );
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
    if (operation.moment === 'unknown') operation.moment = functions[operation.function]?.moment ?? 'unknown';
  }
}

/** Where a function asks whether an object has a part, its look-ups of that part are prepared for none. */
function noteAskedParts({ operations }: ScriptFacts, plan: Plan): void {
  const key = (operation: Operation): string => `${operation.function} ${JSON.stringify(operation.arguments.type)}`;
  const means = (operation: Operation): Meaning | undefined => plan.calls[operation.rule]?.means;
  const asked = new Set(operations.filter((operation) => means(operation) === 'asks part').map(key));
  for (const operation of operations)
    if (means(operation) === 'part' && asked.has(key(operation))) operation.guarded = true;
}
