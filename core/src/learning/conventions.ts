/**
 * What the code of a team goes by without saying so: how types are named after their files, which functions hear an event
 * by their name, how imports lead to files, and what comes from the engine. Rules are what most of the code does, departures
 * are what is looked for: Engler et al., “Bugs as deviant behavior” (2001).
 */
import { grouped } from '../helpers/grouped.js';
import { distance } from '../helpers/nearest.js';
import { push } from '../helpers/push.js';
import { isNamedAfter } from '../reading/scripts/type-names.js';
import { folderOf, stem } from '../reading/source.js';
import { TYPE_NAMINGS, type Language, type TypeNaming } from '../reading/plan/plan.js';
import type { CallField, CallForm, CallRow, Channel } from './calls.js';
import { written } from './calls.js';
import type { Code } from './code.js';
import { fileOf, pathForm, type Files, type PathForm } from './paths.js';
import type { Reading } from './references.js';
import type { Texts } from './texts.js';

/** Something that most of the code keeps to. */
export interface Convention<T> {
  value: T;
  of: number;
  leads: number;
  sure: number;
  misses: string[];
}

/** A convention is kept by so many, and by no fewer than this share. */
const FEWEST = 6;
const MOSTLY = 0.9;
const MOST_MISSES = 12;

/** So many kept it and so many did not: Laplace's rule of succession. */
const sureBy = (of: number, leads: number): number => Math.min(0.97, (leads + 1) / (of + 2));

// Types after files -------------------------------------------------------------------------------------------------

/** How types are named after their files in a language. */
export function typeNaming(code: Code, language: Language, files: Files): Convention<TypeNaming> | undefined {
  const all = [...code.classes].filter(([file, names]) => code.files.get(file) === language && names.length === 1);
  const rated = TYPE_NAMINGS.map((value): Convention<TypeNaming> => {
    const misses = all.filter(([file, [name]]) => !isNamedAfter(value, stem(files.paths[file] ?? ''), name ?? ''));
    const leads = all.length - misses.length;
    return {
      value,
      of: all.length,
      leads,
      sure: sureBy(all.length, leads),
      misses: misses.slice(0, MOST_MISSES).map(([file, [name]]) => `${name ?? ''} in ${files.paths[file] ?? ''}`),
    };
  });
  // Of two that most keep to, the stricter one comes first.
  return rated.find(({ of, leads }) => leads >= FEWEST && leads >= of * MOSTLY);
}

// Handlers by name --------------------------------------------------------------------------------------------------

/** Functions that hear an event by their name, with the calls that send it. */
export interface NamedHandlers {
  functions: string;
  event: string;
  languages: ReadonlySet<Language>;
  sends: CallRow;
}

const HANDLERS = ['^on_(\\w+)$', '^on([A-Z]\\w*)$', '^handle_(\\w+)$', '^handle([A-Z]\\w*)$', '^(on_?[A-Za-z]\\w*)$'];
const LEAST_HANDLERS = 2;
const LEAST_MORE = 2;
/** What stands in front of the last part of an event's name. */
const beginningOf = (text: string): string => /^(?:.*[.:/_-])?/.exec(text)?.[0] ?? '';

/** @param open places in calls whose texts nothing else explains, those of events among them */
export function namedHandlers(code: Code, open: readonly CallField[], texts: Texts): NamedHandlers[] {
  const free = [...code.functions].filter(([name]) => !code.called.has(name) && !code.accessed.has(name));
  const forms = HANDLERS.map((functions) => {
    const shape = new RegExp(functions);
    const named = free.flatMap(([name, defined]) => {
      const event = shape.exec(name)?.[1];
      return event === undefined ? [] : [{ event, defined }];
    });
    return { functions, named };
  }).filter(({ named }) => named.length >= LEAST_HANDLERS);
  if (forms.length === 0) return [];
  const found: NamedHandlers[] = [];
  for (const field of open) {
    const sent = [...field.texts.numbers()].map((number) => texts.text(number));
    // `pilot.fog`: what stands in front is the same for many.
    const beginnings = grouped(sent, beginningOf)
      .filter((same) => same.length >= LEAST_HANDLERS)
      .map(([first]) => beginningOf(first));
    const rated = [...new Set(['', ...beginnings])].flatMap((beginning) => {
      const ends = new Set(
        sent.filter((text) => text.startsWith(beginning)).map((text) => text.slice(beginning.length)),
      );
      return forms.map(({ functions, named }) => {
        const heard = named.filter(({ event }) => ends.has(event));
        return { beginning, functions, named, heard, ends };
      });
    });
    const [best] = rated
      .filter(
        ({ named, heard, ends }) =>
          heard.length >= LEAST_HANDLERS && heard.length >= named.length * 0.5 && heard.length >= ends.size * 0.5,
      )
      .sort((a, b) => b.heard.length - a.heard.length);
    if (!best) continue;
    const { form, at } = field.place;
    // What is given besides, functions that take nothing never get.
    const more = [...form.pattern.given].filter(([key, { total }]) => key !== at && total > field.texts.total / 2);
    if (more.length >= LEAST_MORE && best.heard.every(({ defined }) => defined.parameters === 0)) continue;
    found.push({
      functions: best.functions,
      event: `${best.beginning}*`,
      languages: new Set(best.heard.flatMap(({ defined }) => [...defined.languages])),
      sends: {
        call: written(form, new Map([[at, '$event']])),
        means: 'send',
        more: {},
        reading: undefined,
        count: form.pattern.count,
        sure: best.heard.length > LEAST_HANDLERS ? 0.95 : 0.85,
        why: `${best.heard.length} of its texts are what functions are called that nobody calls`,
      },
    });
  }
  return found;
}

// Imports -----------------------------------------------------------------------------------------------------------

/** How imports lead to files, where it is not as the language has it. */
export function importForm(
  code: Code,
  language: Language,
  files: Files,
): Convention<Record<string, unknown>> | undefined {
  const all = code.imports.filter((one) => one.language === language && !one.from.startsWith('.'));
  const rated = grouped(all, ({ from }) => firstName(from)).flatMap((same) => {
    const [{ from: first }] = same;
    const name = firstName(first);
    const sign = first.charAt(name.length);
    // A name alone is a module of the engine's, or from outside.
    const below = same.filter(({ from }) => from.length > name.length + 1);
    if (sign === '' || below.length < LEAST_IMPORTS) return [];
    const slashed = (from: string): string => from.slice(name.length + 1).replace(sign === '.' ? /\./g : /\/+/g, '/');
    const samples = below.map(({ from, file }) => ({ text: slashed(from), file: files.paths[file] ?? '' }));
    const form = fromRoot(pathForm(samples, files), samples);
    if (form?.roots.length !== 1) return [];
    const lost = below.filter(({ from, file }) => fileOf(form, slashed(from), files.paths[file] ?? '', files) < 0);
    const leads = below.length - lost.length;
    if (leads < below.length * 0.6 || byItself(name, form)) return [];
    return [{ name, sign, form, of: below.length, leads, misses: lost.map(({ from }) => from) }];
  });
  const [best] = rated.sort((a, b) => b.leads - a.leads);
  if (!best) return undefined;
  const { name, form, of, leads, misses } = best;
  return {
    value: {
      pattern: `^${name.replace(/[^\w]/g, '\\$&')}/(.+)$`,
      roots: form.roots,
      endings: form.endings,
    },
    of,
    leads,
    sure: sureBy(of, leads),
    misses: misses.slice(0, MOST_MISSES),
  };
}

/** What is taken in from one folder alone is taken in from a root, not from beside. */
function fromRoot(form: PathForm | undefined, samples: readonly { file: string }[]): PathForm | undefined {
  if (form?.from !== 'file') return form;
  const folders = new Set(samples.map(({ file }) => folderOf(file)));
  return folders.size === 1 ? { ...form, from: 'project', roots: [...folders] } : undefined;
}

const LEAST_IMPORTS = 3;
/** The first of the names that an import consists of: `crew` of `crew.stores`, `@` of `@/boats/hull`. */
const firstName = (from: string): string => /^[^./]*/.exec(from)?.[0] ?? '';
/** The folder is called as the import begins: the language has it so. */
const byItself = (name: string, { roots }: PathForm): boolean => roots[0] === name;

// The engine's ------------------------------------------------------------------------------------------------------

export interface EnginesOwn {
  types: string[];
  members: string[];
  /** Names that stand once and differ by one letter from what is there. */
  slips: string[];
}

/** More are nobody's list. */
const MOST_MEMBERS = 400;
const SHORTEST_SLIP = 4;
/** What differs by one letter in a word as long as this is hardly another one. */
const SURE_SLIP = 6;

/** What scripts use that the project does not define; undefined where they descend from nothing of the kind. */
export function enginesOwn(code: Code): EnginesOwn | undefined {
  const types = new Set<string>();
  const languages = new Set<Language>();
  for (const { parents, file } of code.types.values())
    for (const parent of parents) {
      const name =
        parent
          .replace(/[<[(].*$/s, '')
          .split('.')
          .at(-1)
          ?.trim() ?? '';
      if (!name || code.types.has(name)) continue;
      types.add(name);
      const language = code.files.get(file);
      if (language) languages.add(language);
    }
  if (types.size === 0) return undefined;
  const own = new Set([...code.functions.keys(), ...code.fields.map(({ name }) => name)]);
  // In a language whose types descend from nothing of the engine's, members are not from there.
  const isIn = (some: ReadonlySet<Language>): boolean => [...some].some((one) => languages.has(one));
  const others = [...code.accessed].filter(([name, one]) => !own.has(name) && isIn(one.languages));
  if (others.length > MOST_MEMBERS) return undefined;
  const membersIn = membersByFile(code);
  const isSlip = (name: string, file: number): boolean =>
    name.length >= SHORTEST_SLIP && [...membersIn(file)].some((other) => distance(name, other, 1) === 1);
  const slips = others.flatMap(([name, { count, file }]) => (count === 1 && isSlip(name, file) ? [name] : []));
  // What some types declare others may have from the engine.
  const shared = [...own].filter((name) =>
    [...(code.calledOnSelf.get(name) ?? [])].some((file) => !membersIn(file).has(name)),
  );
  return {
    types: [...types].sort(),
    members: [...others.map(([name]) => name).filter((name) => !slips.includes(name)), ...shared].sort(),
    slips,
  };
}

/**
 * Functions that scripts call and none declares, but for a slip of the pen; none where no text names one of them as texts
 * name those of the scripts: then nobody asks.
 */
export function enginesFunctions(
  readings: readonly Reading[],
  { patterns, functions }: Code,
  texts: Texts,
): { functions: string[]; slips: string[] } {
  const called = [...patterns.values()].filter(
    ({ receiver, member, isProperty, isNew }) => !receiver && !isProperty && !isNew && !functions.has(member),
  );
  const known = [...functions.keys(), ...called.map(({ member }) => member)];
  const isSlip = (name: string): boolean =>
    name.length >= SHORTEST_SLIP && known.some((other) => distance(name, other, 1) === 1);
  const slips = new Set(called.flatMap(({ member, count }) => (count === 1 && isSlip(member) ? [member] : [])));
  const own = new Set(called.map(({ member }) => member).filter((name) => !slips.has(name)));
  const isNamed = readings
    .filter(({ to }) => 'domains' in to && to.domains.some(({ naming }) => naming === 'function'))
    .some(({ field, cut }) =>
      [...field.texts.numbers()].some((number) => cut.of(texts.text(number)).some((name) => own.has(name))),
    );
  // A slip of what scripts declare is worth it, too.
  const isOfOwn = [...slips].some(
    (name) => name.length >= SURE_SLIP && [...functions.keys()].some((other) => distance(name, other, 1) === 1),
  );
  if (!(isNamed || isOfOwn) || own.size > MOST_MEMBERS) return { functions: [], slips: [] };
  return { functions: [...own].sort(), slips: [...slips].sort() };
}

/**
 * Events that come from the engine: those of one beginning, of which some are listened to and none is sent or stands
 * anywhere else, as patterns.
 */
export function enginesEvents(
  channels: readonly Channel[],
  standsElsewhere: (text: number) => boolean,
  texts: Texts,
): string[] {
  const textsAt = ({ pattern }: CallForm, at: string): number[] => [...(pattern.given.get(at)?.texts.numbers() ?? [])];
  const heard = new Set(channels.flatMap(({ listens }) => listens.flatMap(({ form, at }) => textsAt(form, at))));
  const sent = new Set(channels.flatMap(({ sends }) => sends.flatMap(({ form, at }) => textsAt(form, at))));
  const beginning = (text: string): string => /^.+?[.:/_-]/.exec(text)?.[0] ?? '';
  const named = (numbers: Iterable<number>): string[] => [...numbers].map((number) => texts.text(number));
  const sentBeginnings = new Set(named(sent).map(beginning));
  const open = [...heard].filter((number) => !sent.has(number) && !standsElsewhere(number));
  return grouped(named(open), beginning).flatMap((same) => {
    const [first] = same;
    return beginning(first) !== '' && same.length >= LEAST_EVENTS && !sentBeginnings.has(beginning(first))
      ? [`${beginning(first)}*`]
      : [];
  });
}

const LEAST_EVENTS = 2;

/** Gives the members that the types of a file declare, or have from their parents. */
function membersByFile(code: Code): (file: number) => ReadonlySet<string> {
  const byType = new Map<string, string[]>();
  for (const { type, name } of code.fields) push(byType, type, name);
  for (const [name, { types }] of code.functions) for (const type of types) push(byType, type, name);
  const known = new Map<number, Set<string>>();
  return (file) => {
    let members = known.get(file);
    if (members) return members;
    const types = new Set(code.classes.get(file));
    // Grows while it is gone through: parents of parents count as well.
    for (const type of types) for (const parent of code.types.get(type)?.parents ?? []) types.add(parent);
    known.set(file, (members = new Set([...types].flatMap((type) => byType.get(type) ?? []))));
    return members;
  };
}
