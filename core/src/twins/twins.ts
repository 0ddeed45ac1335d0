/** The groups of copies of a project, with what differs between them and where they could live. */
import { itemAt, must } from '../helpers/at.js';
import { keeper } from '../helpers/once.js';
import { BETWEEN, type BodyFact } from '../reading/facts.js';
import { baseName } from '../reading/source.js';
import { isMatch } from '../reading/match.js';
import type { Linked } from '../linking/linked.js';
import type { WorldType } from '../linking/world/world.js';
import { partingOf, pastOf, type Parting, type Past } from './drift.js';
import { weightOf, type Rule } from './rules.js';
import { findTwins, type Copy, type TwinGroup } from './search.js';
import { isValue } from './runs.js';

/** One copy, as people name it. */
export interface TwinPlace extends Copy {
  type: WorldType | undefined;
  /** `Barge.onScrape()`. */
  name: string;
  file: string;
  /** How much of the function's statements it is. */
  share: number;
  /** First and last line of what is copied. */
  line: number;
  endLine: number;
}

/** A place where copies differ: what stands there in each, in the order of the copies; empty where nothing does. */
export interface Difference {
  what: 'value' | 'name' | 'statement';
  /** The line in each copy; 0 where there is nothing. */
  lines: number[];
  /** Where there is nothing: the line before which it would stand; 0 elsewhere. */
  before: number[];
  words: string[];
  /** The name before a value, in the first copy's statement. */
  near: string;
  /** Who was changed here while others stayed as they were, when the version history tells. */
  parting?: Parting;
}

export interface Twins {
  likeness: TwinGroup['likeness'];
  places: TwinPlace[];
  differences: Difference[];
  /** Statements that only some copies have: those others lack them. */
  drift: boolean;
  /** The newest change that one copy got and others did not, in a whole statement. */
  parting?: Parting;
  saves: number;
  home: Home;
}

/** After “the same”. */
export const LIKENESS_WORDS: Record<Twins['likeness'], string> = {
  'to the letter': 'to the letter',
  values: 'with other values',
  names: 'with other names',
  statements: 'with statements added or taken out',
};

/** Where the copies could live: one function, the parent that they have, a new parent, or a script of their own. */
export interface Home {
  is: 'the same type' | 'the parent' | 'a new parent' | 'a shared script';
  /** The parent, where there is one. */
  type?: WorldType;
}

/** The version history is asked about so many groups, those that save most. */
const MOST_ASKED = 100;

const kept = keeper<Linked['facts'], Twins[]>();

/** All twins among the functions of a project, those that save most first. Kept until a file changes. */
export function twinsOf(linked: Linked): Twins[] {
  return kept(linked.facts, [...linked.facts], () => twinsAmong(linked));
}

function twinsAmong({ facts, plan, world, history }: Linked): Twins[] {
  const isWanted = (source: number): boolean => !isMatch(itemAt(facts, source).file, plan.house.copiesFine);
  return findTwins(facts, isWanted).flatMap((group, rank): Twins[] => {
    const places = group.copies.map((copy) => placeOf(facts, world, copy));
    // A function that stands inside another one is no copy of it.
    if (places.some((place, at) => places.some((other, before) => before < at && holds(other, place)))) return [];
    const bodies = group.copies.map(({ source, function: at }) =>
      must(itemAt(must(itemAt(facts, source).script).functions, at).body),
    );
    const pasts =
      rank < MOST_ASKED ? places.map((place) => pastOf(history, itemAt(facts, place.source), place.function)) : [];
    const differences = differencesOf(group, bodies, pasts);
    const statements = differences.filter(({ what }) => what === 'statement');
    return [
      {
        likeness: group.likeness,
        places,
        differences,
        drift: statements.length > 0,
        parting: newest(statements),
        saves: group.saves,
        home: homeOf(places),
      },
    ];
  });
}

/** Only parts of the functions are alike; where statements differ, a few more at an end differ like others. */
export function isPart({ places, likeness }: Twins): boolean {
  return places.some(({ share }) => share < (likeness === 'statements' ? MOST : 1));
}

/** So much of a function stands for all of it. */
const MOST = 0.75;

/** A rule that brothers hold, as a group of copies. */
export function twinsOfRule({ facts, world, history }: Linked, { parent, holders }: Rule): Twins {
  const bodies = holders.map(({ body }) => body);
  const copies = holders.map(({ type: { source }, function: at, body }): Copy => {
    return { source, function: at, from: 0, to: body.shapes.length };
  });
  const whole = itemAt(bodies, 0).shapes.map((_, at): [number, number] => [at, at]);
  const pasts = copies.map(({ source, function: at }) => pastOf(history, itemAt(facts, source), at));
  const differences = differencesOf({ copies, pairs: copies.map(() => whole) }, bodies, pasts);
  const has = (what: Difference['what']): boolean => differences.some((one) => one.what === what);
  return {
    likeness: has('name') ? 'names' : has('value') ? 'values' : 'to the letter',
    places: copies.map((copy) => placeOf(facts, world, copy)),
    differences,
    drift: false,
    saves: weightOf(itemAt(bodies, 0)) * (bodies.length - 1),
    home: { is: 'the parent', type: parent },
  };
}

function placeOf(facts: Linked['facts'], world: Linked['world'], copy: Copy): TwinPlace {
  const { file, script } = itemAt(facts, copy.source);
  const code = itemAt(must(script).functions, copy.function);
  const type = (world.types.inFile.get(copy.source) ?? []).find(({ local }) => local === code.type);
  const { lines } = must(code.body);
  return {
    ...copy,
    type,
    name: code.name ? `${type ? `${type.name}.` : ''}${code.name}()` : `a function of ${type?.name ?? baseName(file)}`,
    file,
    share: (copy.to - copy.from) / must(code.body).shapes.length,
    line: itemAt(lines, 2 * copy.from),
    endLine: itemAt(lines, 2 * copy.to - 1),
  };
}

function holds(outer: TwinPlace, inner: TwinPlace): boolean {
  return outer.source === inner.source && outer.line <= inner.endLine && inner.line <= outer.endLine;
}

function newest(differences: readonly Difference[]): Parting | undefined {
  const partings = differences.flatMap(({ parting }) => parting ?? []);
  return partings.sort((a, b) => (b.by?.order ?? Infinity) - (a.by?.order ?? Infinity))[0];
}

/** What differs, statement by statement of the first copy. */
function differencesOf(
  { copies, pairs }: Pick<TwinGroup, 'copies' | 'pairs'>,
  bodies: readonly BodyFact[],
  pasts: readonly (Past | undefined)[],
): Difference[] {
  const { from, to } = itemAt(copies, 0);
  const partner = pairs.map((one) => new Map(one));
  const differences: Difference[] = [];
  const renamed = new Set<string>();
  /** Line of the statement in a copy that goes with the first's at this position, or with the next that has one. */
  const lineFrom = (copy: number, position: number): number => {
    for (let at = position; at < to; at++) {
      const other = copy === 0 ? at : itemAt(partner, copy).get(at);
      if (other !== undefined) return itemAt(itemAt(bodies, copy).lines, 2 * other);
    }
    return itemAt(itemAt(bodies, copy).lines, 2 * itemAt(copies, copy).to - 1) + 1;
  };
  const isKnown = pasts.some((past) => past !== undefined);
  for (let at = from; at < to; at++) {
    const positions = bodies.map((_, copy) => (copy === 0 ? at : itemAt(partner, copy).get(at)));
    const words = positions.map((other, copy) =>
      other === undefined ? undefined : itemAt(itemAt(bodies, copy).words, other).split(BETWEEN),
    );
    const exacts = positions.map((other, copy) =>
      other === undefined ? undefined : itemAt(bodies, copy).exacts[other],
    );
    const parting = isKnown && exacts.some((one) => one !== exacts[0]) ? partingOf(pasts, exacts) : undefined;
    const lines = positions.map((other, copy) =>
      other === undefined ? 0 : itemAt(itemAt(bodies, copy).lines, 2 * other),
    );
    const before = lines.map((line, copy) => (line > 0 ? 0 : lineFrom(copy, at)));
    const add = (what: Difference['what'], there: string[], near = ''): void =>
      void differences.push({ what, lines, before, words: there, near, ...(parting && { parting }) });
    if (words.some((one) => one === undefined)) {
      add(
        'statement',
        words.map((one) => one && saying(one)).map((one) => one ?? ''),
      );
      continue;
    }
    must(words[0]).forEach((word, position) => {
      const there = words.map((one) => must(one)[position] ?? '');
      if (there.every((one) => one === word)) return;
      if (there.every(isValue)) return add('value', there, nameBefore(must(words[0]), position));
      const key = there.join(BETWEEN);
      // A name that stands for another one does so throughout: told once.
      if (!renamed.has(key)) add('name', there);
      renamed.add(key);
    });
  }
  return [...differences, ...onlyInOthers(copies, pairs, bodies, pasts, lineFrom)];
}

/** A statement by its names and values. */
function saying(words: readonly string[]): string {
  return words.filter(Boolean).join(' ') || '(a statement)';
}

function nameBefore(words: readonly string[], position: number): string {
  return words.slice(0, position).findLast((word) => !isValue(word)) ?? '';
}

/** Statements that stand in another copy alone. */
function onlyInOthers(
  copies: readonly Copy[],
  pairs: TwinGroup['pairs'],
  bodies: readonly BodyFact[],
  pasts: readonly (Past | undefined)[],
  lineFrom: (copy: number, position: number) => number,
): Difference[] {
  return copies.flatMap(({ from, to }, copy) => {
    if (copy === 0) return [];
    const matched = new Set(itemAt(pairs, copy).map(([, theirs]) => theirs));
    const alone: Difference[] = [];
    for (let at = from; at < to; at++) {
      if (matched.has(at)) continue;
      const only = <T>(own: T, other: T): T[] => copies.map((_, one) => (one === copy ? own : other));
      const parting = partingOf(pasts, only<number | undefined>(itemAt(bodies, copy).exacts[at], undefined));
      // The next one of the first that has a partner here.
      const [next] = itemAt(pairs, copy).find(([, theirs]) => theirs > at) ?? [itemAt(copies, 0).to];
      alone.push({
        what: 'statement',
        lines: only(itemAt(itemAt(bodies, copy).lines, 2 * at), 0),
        before: copies.map((_, other) => (other === copy ? 0 : lineFrom(other, next))),
        words: only(saying(itemAt(itemAt(bodies, copy).words, at).split(BETWEEN)), ''),
        near: '',
        ...(parting && { parting }),
      });
    }
    return alone;
  });
}

function homeOf(places: readonly TwinPlace[]): Home {
  const types = places.map(({ type }) => type);
  const [first] = types;
  if (first && types.every((type) => type === first)) return { is: 'the same type' };
  if (!first || types.some((type) => type === undefined)) return { is: 'a shared script' };
  const common = first.ancestors.find((parent) => types.every((type) => must(type).ancestors.includes(parent)));
  if (common) return { is: 'the parent', type: common };
  const parents = (type: WorldType): string[] => itemAt(type.script.types, type.local).parents;
  return parents(first).some((name) => types.every((type) => parents(must(type)).includes(name)))
    ? { is: 'a new parent' }
    : { is: 'a shared script' };
}
