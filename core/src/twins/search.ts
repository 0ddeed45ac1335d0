/**
 * Finds functions, and parts of functions, that do the same.
 *
 * Every function is a row of statements, each known by a hash of its tokens without names and values
 * (`reading/scripts/bodies.ts`). Rows that share enough runs of three statements – the fingerprints of documents of
 * Schleimer, Wilkerson and Aiken, “Winnowing”, 2003, here without thinning – are laid side by side by their longest
 * common subsequence (Hunt and Szymanski, 1977). A pair counts when most of both matches and when one name in the one
 * stands for one name in the other, as in Baker's parameterised matching (1995). Work is near-linear: runs that stand
 * in many functions lead nowhere, and rows that are alike to the letter are looked at once.
 */
import { itemAt, must } from '../helpers/at.js';
import { once } from '../helpers/once.js';
import type { BodyFact, FileFacts, ScriptFacts } from '../reading/facts.js';
import { type Likeness, LEAST_WEIGHT_SAME, LEAST_STATEMENTS, type Match, matchOf, worthSame } from './align.js';
import { RUN, LONG_RUN, type Counts, type Rarity, raritiesOf, distinctRuns, statementsOf, wholeOf } from './runs.js';

/** A function of a script. */
export interface BodyPlace {
  /** Position in the list of facts, and in the functions of that script. */
  source: number;
  function: number;
}

/** Statements of one function, from the first to the last that has a match. */
export interface Copy extends BodyPlace {
  /** Positions of statements; the end is exclusive. */
  from: number;
  to: number;
}

export interface TwinGroup {
  likeness: Likeness;
  /** In the order of their places, the one that the others are compared with first. */
  copies: Copy[];
  /** Matched positions in each copy, in the same order: those of the first copy and of this one, pair by pair. */
  pairs: [number, number][][];
  /** Tokens that merging would save. */
  saves: number;
}

/** Runs that stand in more functions than this are how everybody writes. */
const COMMON = 48;

interface Row extends BodyPlace {
  body: BodyFact;
  /** The same for rows that are the same to the letter. */
  whole: string;
}

/**
 * @param isWanted whether a script counts; the same for the same list of facts, as long as that stays as long as it is
 * @returns groups of copies, those that save most first
 */
export function findTwins(
  facts: readonly FileFacts[],
  isWanted: (source: number) => boolean = () => true,
): TwinGroup[] {
  const { rows: bySource, order, counts } = keptOf(facts, isWanted);
  const rows: Row[] = [];
  for (const source of order) for (const row of itemAt(bySource, source)) rows.push(row);
  const rarity = raritiesOf(counts);
  const same = groupSame(rows);
  const heads = same.map((rows) => itemAt(rows, 0));
  const pairs = candidatePairs(heads)
    .map(([a, b]) => ({ a, b, match: matchOf(itemAt(heads, a).body, itemAt(heads, b).body, rarity) }))
    .filter((one) => one.match !== undefined);
  return joined(heads.length, pairs)
    .map((members) =>
      groupOf(
        members.map((at) => itemAt(heads, at)),
        members.length === 1 ? itemAt(same, itemAt(members, 0)) : members.flatMap((at) => itemAt(same, at)),
        rarity,
      ),
    )
    .filter((group): group is TwinGroup => group !== undefined)
    .sort((a, b) => b.saves - a.saves || compare(facts, itemAt(a.copies, 0), itemAt(b.copies, 0)));
}

function compare(facts: readonly FileFacts[], a: Copy, b: Copy): number {
  const [one, other] = [itemAt(facts, a.source).file, itemAt(facts, b.source).file];
  return one < other ? -1 : one > other ? 1 : a.function - b.function;
}

/** What the same list of facts came to the time before: of many scripts, hardly one changes. */
interface Kept {
  scripts: (ScriptFacts | undefined)[];
  /** By position in the list of facts. */
  rows: Row[][];
  /** Positions of scripts that count, by their paths. */
  order: number[];
  counts: Counts;
}

const keptFor = once((_facts: readonly FileFacts[]): { known?: Kept } => ({}));

function keptOf(facts: readonly FileFacts[], isWanted: (source: number) => boolean): Kept {
  const kept = keptFor(facts);
  let { known } = kept;
  if (!known || known.scripts.length !== facts.length) {
    const order = facts.flatMap(({ script }, source) => (script && isWanted(source) ? [source] : []));
    order.sort((a, b) => (itemAt(facts, a).file < itemAt(facts, b).file ? -1 : 1));
    known = kept.known = {
      scripts: facts.map(() => undefined),
      rows: [],
      order,
      counts: { runs: new Map(), statements: new Map(), exacts: new Map() },
    };
  }
  const { scripts, rows, counts, order } = known;
  const count = (source: number, by: number): void => {
    const add = (map: Map<number, number>, key: number): void => void map.set(key, (map.get(key) ?? 0) + by);
    for (const { body } of rows[source] ?? []) {
      for (const run of distinctRuns(body, RUN)) add(counts.runs, run);
      for (const statement of statementsOf(body)) add(counts.statements, statement);
      for (const exact of body.exacts) add(counts.exacts, exact);
    }
  };
  for (const source of order) {
    const { script } = itemAt(facts, source);
    if (script === scripts[source]) continue;
    count(source, -1);
    scripts[source] = script;
    rows[source] = must(script).functions.flatMap(({ body }, at) =>
      body && body.shapes.length >= LEAST_STATEMENTS - 1 ? [{ source, function: at, body, whole: wholeOf(body) }] : [],
    );
    count(source, 1);
  }
  return known;
}

/** Functions that are the same to the letter, or but for their values and names in the same places. */
function groupSame(rows: readonly Row[]): Row[][] {
  const groups = new Map<string, Row[]>();
  for (const row of rows) {
    const group = groups.get(row.whole);
    if (group) group.push(row);
    else groups.set(row.whole, [row]);
  }
  return [...groups.values()];
}

/** Pairs of rows that share a run: a short one that few have, or a long one where the short ones are common. */
function candidatePairs(rows: readonly Row[]): [number, number][] {
  const shared = new Set<number>();
  for (const length of [RUN, LONG_RUN]) {
    const places = new Map<number, number[]>();
    rows.forEach(({ body }, row) => {
      for (const run of distinctRuns(body, length)) {
        const list = places.get(run);
        if (list) list.push(row);
        else places.set(run, [row]);
      }
    });
    for (const list of places.values()) {
      if (list.length < 2 || list.length > COMMON) continue;
      for (let i = 0; i < list.length; i++)
        for (let j = i + 1; j < list.length; j++) shared.add(itemAt(list, i) * rows.length + itemAt(list, j));
    }
  }
  return [...shared].map((key) => [Math.floor(key / rows.length), key % rows.length]);
}

/** Sets of rows that hang together by pairs; rows that are alike to the letter make one by themselves. */
function joined(count: number, pairs: readonly { a: number; b: number }[]): number[][] {
  const leader = Array.from({ length: count }, (_, at) => at);
  const find = (at: number): number => (leader[at] === at ? at : (leader[at] = find(itemAt(leader, at))));
  for (const { a, b } of pairs) {
    const [one, other] = [find(a), find(b)];
    if (one !== other) leader[Math.max(one, other)] = Math.min(one, other);
  }
  const sets = new Map<number, number[]>();
  for (let at = 0; at < count; at++) {
    const set = sets.get(find(at));
    if (set) set.push(at);
    else sets.set(find(at), [at]);
  }
  return [...sets.values()];
}

/** All members laid beside the first. */
function groupOf(heads: readonly Row[], rows: readonly Row[], rarity: Rarity): TwinGroup | undefined {
  if (rows.length < 2) return undefined;
  const first = itemAt(rows, 0);
  const isSameAll = heads.length === 1;
  if (isSameAll) {
    const rare = rarity(first.body);
    const counted = first.body.weights.reduce((sum, weight, at) => sum + weight * worthSame(rare, at), 0);
    if (counted < LEAST_WEIGHT_SAME) return undefined;
  }
  const whole = first.body.shapes.map((_, at): [number, number] => [at, at]);
  const laid = rows.map((row): { row: Row; match: Match } | undefined => {
    if (row.whole === first.whole) return { row, match: { pairs: whole, likeness: 'to the letter' } };
    const match = matchOf(first.body, row.body, rarity);
    return match && { row, match };
  });
  const kept = laid.filter((one): one is { row: Row; match: Match } => one !== undefined);
  if (kept.length < 2) return undefined;
  const order: Likeness[] = ['to the letter', 'values', 'names', 'statements'];
  const likeness = itemAt(
    kept.map(({ match }) => match.likeness).sort((a, b) => order.indexOf(b) - order.indexOf(a)),
    0,
  );
  const pairs = kept.map(({ match }) => match.pairs);
  const others = kept.slice(1).map(({ match }) => match);
  const [from, to] = [
    Math.min(...others.map((match) => itemAt(match.pairs, 0)[0])),
    Math.max(...others.map((match) => must(match.pairs.at(-1))[0])) + 1,
  ];
  const copies = kept.map(({ row, match }, at): Copy => {
    const { source, function: code } = row;
    if (at === 0) return { source, function: code, from, to };
    return { source, function: code, from: itemAt(match.pairs, 0)[1], to: must(match.pairs.at(-1))[1] + 1 };
  });
  const saves = kept
    .slice(1)
    .reduce((sum, { match }) => sum + match.pairs.reduce((all, [at]) => all + itemAt(first.body.weights, at), 0), 0);
  return { likeness, copies, pairs, saves };
}
