/** The groups of copies of a project, with what differs between them and where they could live. */
import { BETWEEN, type BodyFact } from '../reading/facts.js';
import { baseName } from '../reading/source.js';
import { isMatch } from '../reading/match.js';
import type { Linked } from '../linking/linked.js';
import type { WorldType } from '../linking/world.js';
import { partingOf, pastOf, type Parting, type Past } from './drift.js';
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

/** Where the copies could live: one function, the parent that they have, a new parent, or a script of their own. */
export interface Home {
  is: 'the same type' | 'the parent' | 'a new parent' | 'a shared script';
  /** The parent, where there is one. */
  type?: WorldType;
}

/** The version history is asked about so many groups, those that save most. */
const MOST_ASKED = 100;

const found = new WeakMap<Linked['facts'][number][], { facts: unknown[]; twins: Twins[] }>();

/** All twins among the functions of a project, those that save most first. Kept until a file changes. */
export function twinsOf({ facts, plan, world, history }: Linked): Twins[] {
  const known = found.get(facts);
  if (known && known.facts.length === facts.length && known.facts.every((fact, at) => fact === facts[at]))
    return known.twins;
  const isWanted = (source: number): boolean => !isMatch(facts[source].file, plan.house.copiesFine);
  const twins = findTwins(facts, isWanted).flatMap((group, rank): Twins[] => {
    const places = group.copies.map((copy) => placeOf(facts, world, copy));
    // A function that stands inside another one is no copy of it.
    if (places.some((place, at) => places.some((other, before) => before < at && holds(other, place)))) return [];
    const bodies = group.copies.map(({ source, function: at }) => facts[source].script!.functions[at].body!);
    const pasts = rank < MOST_ASKED ? places.map((place) => pastOf(history, facts[place.source], place.function)) : [];
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

function newest(differences: readonly Difference[]): Parting | undefined {
  const partings = differences.flatMap(({ parting }) => parting ?? []);
  return partings.sort((a, b) => (b.by?.order ?? Infinity) - (a.by?.order ?? Infinity))[0];
}

/** What differs, statement by statement of the first copy. */
function differencesOf(
  { copies, pairs }: TwinGroup,
  bodies: readonly BodyFact[],
  pasts: readonly (Past | undefined)[],
): Difference[] {
  const [first] = bodies;
  const [{ from, to }] = copies;
  const partner = pairs.map((one) => new Map(one));
  const differences: Difference[] = [];
  const renamed = new Set<string>();
  const isKnown = pasts.some((past) => past !== undefined);
  for (let at = from; at < to; at++) {
    const positions = bodies.map((_, copy) => (copy === 0 ? at : partner[copy].get(at)));
    const words = positions.map((other, copy) =>
      other === undefined ? undefined : bodies[copy].words[other].split(BETWEEN),
    );
    const exacts = positions.map((other, copy) => (other === undefined ? undefined : bodies[copy].exacts[other]));
    const parting = isKnown && exacts.some((one) => one !== exacts[0]) ? partingOf(pasts, exacts) : undefined;
    const line = first.lines[2 * at];
    if (words.some((one) => one === undefined)) {
      differences.push({ what: 'statement', line, words: words.map((one) => one?.join(' ') ?? ''), parting });
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
      differences.push({ what, line, words: there, parting });
    });
  }
  return [...differences, ...onlyInOthers(copies, pairs, bodies, pasts)];
}

/** Statements that stand in another copy alone. */
function onlyInOthers(
  copies: readonly Copy[],
  pairs: TwinGroup['pairs'],
  bodies: readonly BodyFact[],
  pasts: readonly (Past | undefined)[],
): Difference[] {
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
          parting: partingOf(
            pasts,
            copies.map((_, other) => (other === copy ? bodies[copy].exacts[at] : undefined)),
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
