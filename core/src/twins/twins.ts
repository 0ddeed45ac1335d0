/** The groups of copies of a project, with what differs between them and where they could live. */
import { BETWEEN, type BodyFact } from '../reading/facts.js';
import { baseName } from '../reading/source.js';
import { isMatch } from '../reading/match.js';
import type { Linked } from '../linking/linked.js';
import type { WorldType } from '../linking/world.js';
import { findTwins, isValue, type Copy, type TwinGroup } from './search.js';

/** One copy, as people name it. */
export interface TwinPlace extends Copy {
  type: WorldType | undefined;
  /** `Barge.onScrape()`. */
  name: string;
  file: string;
  /** First and last line of what is copied. */
  line: number;
  endLine: number;
}

/** A place where copies differ: what stands there in each, in the order of the copies; empty where nothing does. */
export interface Difference {
  what: 'value' | 'name' | 'statement';
  /** Line in the first copy, or of the statement before. */
  line: number;
  words: string[];
}

export interface Twins {
  likeness: TwinGroup['likeness'];
  places: TwinPlace[];
  differences: Difference[];
  /** Statements that only some copies have: those others lack them. */
  drift: boolean;
  saves: number;
  home: Home;
}

/** Where the copies could live: one function, the parent that they have, a new parent, or a script of their own. */
export interface Home {
  is: 'the same type' | 'the parent' | 'a new parent' | 'a shared script';
  /** The parent, where there is one. */
  type?: WorldType;
}

const found = new WeakMap<Linked['facts'][number][], { facts: unknown[]; twins: Twins[] }>();

/** All twins among the functions of a project, those that save most first. Kept until a file changes. */
export function twinsOf({ facts, plan, world }: Linked): Twins[] {
  const known = found.get(facts);
  if (known && known.facts.length === facts.length && known.facts.every((fact, at) => fact === facts[at]))
    return known.twins;
  const isWanted = (source: number): boolean => !isMatch(facts[source].file, plan.house.copiesFine);
  const twins = findTwins(facts, isWanted).flatMap((group): Twins[] => {
    const places = group.copies.map((copy) => placeOf(facts, world, copy));
    // A function that stands inside another one is no copy of it.
    if (places.some((place, at) => places.some((other, before) => before < at && holds(other, place)))) return [];
    const bodies = group.copies.map(({ source, function: at }) => facts[source].script!.functions[at].body!);
    const differences = differencesOf(group, bodies);
    const drift = differences.some(({ what }) => what === 'statement');
    return [{ likeness: group.likeness, places, differences, drift, saves: group.saves, home: homeOf(places) }];
  });
  found.set(facts, { facts: [...facts], twins });
  return twins;
}

function placeOf(facts: Linked['facts'], world: Linked['world'], copy: Copy): TwinPlace {
  const { file, script } = facts[copy.source];
  const code = script!.functions[copy.function];
  const type = (world.typesIn.get(copy.source) ?? []).find(({ local }) => local === code.type);
  const { lines } = code.body!;
  return {
    ...copy,
    type,
    name: code.name ? `${type ? `${type.name}.` : ''}${code.name}()` : `a function of ${type?.name ?? baseName(file)}`,
    file,
    line: lines[2 * copy.from],
    endLine: lines[2 * copy.to - 1],
  };
}

function holds(outer: TwinPlace, inner: TwinPlace): boolean {
  return outer.source === inner.source && outer.line <= inner.endLine && inner.line <= outer.endLine;
}

/** What differs, statement by statement of the first copy. */
function differencesOf({ copies, pairs }: TwinGroup, bodies: readonly BodyFact[]): Difference[] {
  const [first] = bodies;
  const [{ from, to }] = copies;
  const partner = pairs.map((one) => new Map(one));
  const differences: Difference[] = [];
  const renamed = new Set<string>();
  for (let at = from; at < to; at++) {
    const words = bodies.map((body, copy) => {
      const other = copy === 0 ? at : partner[copy].get(at);
      return other === undefined ? undefined : body.words[other].split(BETWEEN);
    });
    const line = first.lines[2 * at];
    if (words.some((one) => one === undefined)) {
      differences.push({ what: 'statement', line, words: words.map((one) => one?.join(' ') ?? '') });
      continue;
    }
    words[0]!.forEach((word, position) => {
      const there = words.map((one) => one![position] ?? '');
      if (there.every((one) => one === word)) return;
      const what = there.every(isValue) ? 'value' : 'name';
      const key = there.join(BETWEEN);
      // A name that stands for another one does so throughout: told once.
      if (what === 'name' && renamed.has(key)) return;
      renamed.add(key);
      differences.push({ what, line, words: there });
    });
  }
  return [...differences, ...onlyInOthers(copies, pairs, bodies)];
}

/** Statements that stand in another copy alone. */
function onlyInOthers(copies: readonly Copy[], pairs: TwinGroup['pairs'], bodies: readonly BodyFact[]): Difference[] {
  return copies.flatMap(({ from, to }, copy) => {
    if (copy === 0) return [];
    const matched = new Map(pairs[copy].map(([mine, theirs]) => [theirs, mine]));
    const alone: Difference[] = [];
    let line = bodies[0].lines[2 * copies[0].from];
    for (let at = from; at < to; at++) {
      const mine = matched.get(at);
      if (mine !== undefined) line = bodies[0].lines[2 * mine];
      else
        alone.push({
          what: 'statement',
          line,
          words: copies.map((_, other) =>
            other === copy ? bodies[copy].words[at].split(BETWEEN).join(' ') || '(a statement)' : '',
          ),
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
  const common = first.ancestors.find((parent) => types.every((type) => type!.ancestors.includes(parent)));
  if (common) return { is: 'the parent', type: common };
  const parents = (type: WorldType): string[] => type.script.types[type.local].parents;
  return parents(first).some((name) => types.every((type) => parents(type!).includes(name)))
    ? { is: 'a new parent' }
    : { is: 'a shared script' };
}
