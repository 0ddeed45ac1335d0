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
import { once, oncePair, oncePer } from '../helpers/once.js';
import { BETWEEN, type BodyFact, type FileFacts, type ScriptFacts } from '../reading/facts.js';

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

/** How copies differ: in nothing, in values, in names, or in whole statements. */
export type Likeness = 'to the letter' | 'values' | 'names' | 'statements';

export interface TwinGroup {
  likeness: Likeness;
  /** In the order of their places, the one that the others are compared with first. */
  copies: Copy[];
  /** Matched positions in each copy, in the same order: those of the first copy and of this one, pair by pair. */
  pairs: [number, number][][];
  /** Tokens that merging would save. */
  saves: number;
}

/** Statements in one run, and in one that is looked at where those are common. */
const RUN = 3;
const LONG_RUN = 6;
/** So many functions may have a run before it counts for less. */
const USUAL = 6;
/** Runs that stand in more functions than this are how everybody writes. */
const COMMON = 48;
/** What a copy must come to, in tokens, when names or whole statements differ, and when nothing but values does. */
const LEAST_WEIGHT = 34;
const LEAST_WEIGHT_SAME = 24;
/** The same for a piece of longer functions: a few lines are how a thing is called, not what somebody copied. */
const LEAST_WEIGHT_PART = 44;
const LEAST_STATEMENTS = 4;
/** A copy that is less than so much of its function is a piece of it. */
const WHOLE = 0.5;
/** How much of both must match, and how much of the names must stand for one another. */
const MOST_OF_BOTH = 0.66;
const NAMES_AGREE = 0.7;

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
  for (const source of order) for (const row of bySource[source]) rows.push(row);
  const rarity = raritiesOf(counts);
  const same = groupSame(rows);
  const heads = same.map(([head]) => head);
  const pairs = candidatePairs(heads)
    .map(([a, b]) => ({ a, b, match: matchOf(heads[a].body, heads[b].body, rarity) }))
    .filter((one) => one.match !== undefined);
  return joined(heads.length, pairs)
    .map((members) =>
      groupOf(
        members.map((at) => heads[at]),
        members.length === 1 ? same[members[0]] : members.flatMap((at) => same[at]),
        rarity,
      ),
    )
    .filter((group): group is TwinGroup => group !== undefined)
    .sort((a, b) => b.saves - a.saves || compare(facts, a.copies[0], b.copies[0]));
}

function compare(facts: readonly FileFacts[], a: Copy, b: Copy): number {
  const [one, other] = [facts[a.source].file, facts[b.source].file];
  return one < other ? -1 : one > other ? 1 : a.function - b.function;
}

/** What the same list of facts came to the time before: of many scripts, hardly one changes. */
interface Kept {
  scripts: (ScriptFacts | undefined)[];
  /** By position in the list of facts. */
  rows: Row[][];
  /** Positions of scripts that count, by their paths. */
  order: number[];
  /** How many rows have a run. */
  counts: Map<number, number>;
}

const keptFor = once((_facts: readonly FileFacts[]): { known?: Kept } => ({}));

function keptOf(facts: readonly FileFacts[], isWanted: (source: number) => boolean): Kept {
  const kept = keptFor(facts);
  let { known } = kept;
  if (!known || known.scripts.length !== facts.length) {
    const order = facts.flatMap(({ script }, source) => (script && isWanted(source) ? [source] : []));
    order.sort((a, b) => (facts[a].file < facts[b].file ? -1 : 1));
    known = kept.known = { scripts: facts.map(() => undefined), rows: [], order, counts: new Map() };
  }
  const { scripts, rows, counts, order } = known;
  const count = (source: number, by: number): void => {
    for (const { body } of rows[source] ?? [])
      for (const run of distinctRuns(body, RUN)) counts.set(run, (counts.get(run) ?? 0) + by);
  };
  for (const source of order) {
    const { script } = facts[source];
    if (script === scripts[source]) continue;
    count(source, -1);
    scripts[source] = script;
    rows[source] = script!.functions.flatMap(({ body }, at) =>
      body && body.shapes.length >= LEAST_STATEMENTS - 1 ? [{ source, function: at, body, whole: wholeOf(body) }] : [],
    );
    count(source, 1);
  }
  return known;
}

/** How much each statement of a row counts, by the rarity of the runs that it stands in. */
type Rarity = (body: BodyFact) => Float32Array;

/** A statement counts in full while few functions have a run of its like, and less the more have. */
function raritiesOf(counts: ReadonlyMap<number, number>): Rarity {
  const known = new Map<BodyFact, Float32Array>();
  return (body) => {
    let rarity = known.get(body);
    if (!rarity) {
      known.set(body, (rarity = new Float32Array(body.shapes.length)));
      const own = runsOf(body, RUN);
      for (let at = 0; at < own.length; at++) {
        const worth = Math.min(1, USUAL / counts.get(own[at])!);
        for (let step = 0; step < RUN && at + step < rarity.length; step++)
          rarity[at + step] = Math.max(rarity[at + step], worth);
      }
    }
    return rarity;
  };
}

/** The runs of a row, one for each statement that one begins at; a row shorter than a run is one run. */
const runsOf = oncePer(({ shapes }: BodyFact, length: number): number[] => {
  const most = Math.min(length, shapes.length);
  return Array.from({ length: shapes.length - most + 1 }, (_, at) => runAt(shapes, at, most));
});

/** The runs of a row, each once. */
const distinctRuns = oncePer((body: BodyFact, length: number): number[] => [...new Set(runsOf(body, length))]);

/** The same text for two bodies of one shape. */
export const shapeOf = once(({ shapes }: BodyFact): string => `${runAt(shapes, 0, shapes.length)} ${shapes.length}`);

/** The same text for two bodies that are the same to the letter, and for no others. */
export const wholeOf = once(({ exacts }: BodyFact): string => {
  // 64 bits: two bodies that differ and have the same are not to be expected.
  const [one, other] = [runAt(exacts, 0, exacts.length), runAt([...exacts].reverse(), 0, exacts.length)];
  return `${one} ${other} ${exacts.length}`;
});

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
        for (let j = i + 1; j < list.length; j++) shared.add(list[i] * rows.length + list[j]);
    }
  }
  return [...shared].map((key) => [Math.floor(key / rows.length), key % rows.length]);
}

function runAt(shapes: readonly number[], at: number, length: number): number {
  let hash = length;
  for (let step = 0; step < length; step++) hash = Math.imul(hash ^ shapes[at + step], 0x01000193) ^ (hash >>> 13);
  return hash | 0;
}

interface Match {
  /** Positions in both, pair by pair. */
  pairs: [number, number][];
  likeness: Likeness;
}

/** Two rows side by side; undefined when they are not alike enough. */
function matchOf(a: BodyFact, b: BodyFact, rarity: Rarity): Match | undefined {
  const laid = layBeside(a, b);
  if (!laid) return undefined;
  const { pairs, likeness, isSure, isPart } = laid;
  const rare = rarity(a);
  const counted = pairs.reduce((sum, [at]) => sum + a.weights[at] * rare[at], 0);
  const least = isPart ? LEAST_WEIGHT_PART : isSure ? LEAST_WEIGHT_SAME : LEAST_WEIGHT;
  return counted < least ? undefined : { pairs, likeness };
}

/** What two rows come to beside each other, whatever else there is: kept as long as both are as they are. */
type Laid = Match & { isSure: boolean; isPart: boolean };
const layBeside = oncePair(align);

function align(a: BodyFact, b: BodyFact): Laid | undefined {
  const all = commonStatements(a.shapes, b.shapes);
  const pairs = densest(all, a, b);
  if (pairs.length < LEAST_STATEMENTS - 1) return undefined;
  const [[fromA, fromB], [toA, toB]] = [pairs[0], pairs.at(-1)!];
  const inA = weightOf(a, fromA, toA + 1);
  const inB = weightOf(b, fromB, toB + 1);
  const matched = pairs.reduce((sum, [at]) => sum + a.weights[at], 0);
  if (matched < MOST_OF_BOTH * Math.max(inA, inB)) return undefined;
  const { agree, same, valuesDiffer } = namesOf(a, b, pairs);
  const isWhole = pairs.length === toA - fromA + 1 && pairs.length === toB - fromB + 1;
  const likeness: Likeness = !isWhole ? 'statements' : same < 1 ? 'names' : valuesDiffer ? 'values' : 'to the letter';
  const isSure = same >= 0.9;
  if (!isSure && (pairs.length < LEAST_STATEMENTS || agree < NAMES_AGREE)) return undefined;
  const isPart = inA < WHOLE * weightOf(a, 0, a.weights.length) || inB < WHOLE * weightOf(b, 0, b.weights.length);
  return { pairs, likeness, isSure, isPart };
}

function weightOf(body: BodyFact, from: number, to: number): number {
  let weight = 0;
  for (let at = from; at < to; at++) weight += body.weights[at];
  return weight;
}

/** The longest common subsequence of two rows of shapes. */
function commonStatements(a: readonly number[], b: readonly number[]): [number, number][] {
  const width = b.length + 1;
  const lengths = new Uint16Array((a.length + 1) * width);
  for (let i = a.length - 1; i >= 0; i--)
    for (let j = b.length - 1; j >= 0; j--)
      lengths[i * width + j] =
        a[i] === b[j]
          ? lengths[(i + 1) * width + j + 1] + 1
          : Math.max(lengths[(i + 1) * width + j], lengths[i * width + j + 1]);
  const pairs: [number, number][] = [];
  for (let i = 0, j = 0; i < a.length && j < b.length;) {
    if (a[i] === b[j]) pairs.push([i++, j++]);
    else if (lengths[(i + 1) * width + j] >= lengths[i * width + j + 1]) i++;
    else j++;
  }
  return pairs;
}

/** Stray matches at both ends are left off while what is between the others fits better without them. */
function densest(pairs: [number, number][], a: BodyFact, b: BodyFact): [number, number][] {
  let [first, last] = [0, pairs.length - 1];
  const gap = (one: number, other: number): number => {
    const [[i, j], [k, l]] = [pairs[one], pairs[other]];
    return weightOf(a, i + 1, k) + weightOf(b, j + 1, l);
  };
  while (last > first && gap(first, first + 1) > 2 * a.weights[pairs[first][0]] + 12) first++;
  while (last > first && gap(last - 1, last) > 2 * a.weights[pairs[last][0]] + 12) last--;
  return pairs.slice(first, last + 1);
}

/** How far one name of the one stands for one name of the other; how much of all is the same; whether values differ. */
function namesOf(
  a: BodyFact,
  b: BodyFact,
  pairs: readonly [number, number][],
): { agree: number; same: number; valuesDiffer: boolean } {
  const there = new Map<string, Map<string, number>>();
  const back = new Map<string, Map<string, number>>();
  let [names, equal, valuesDiffer] = [0, 0, false];
  for (const [i, j] of pairs) {
    const [mine, theirs] = [a.words[i].split(BETWEEN), b.words[j].split(BETWEEN)];
    mine.forEach((word, at) => {
      const other = theirs[at] ?? '';
      if (isValue(word)) valuesDiffer ||= word !== other;
      else {
        names++;
        if (word === other) equal++;
        count(there, word, other);
        count(back, other, word);
      }
    });
  }
  const share = (maps: Map<string, Map<string, number>>): number =>
    [...maps.values()].reduce((sum, map) => sum + Math.max(...map.values()), 0) / Math.max(names, 1);
  return { agree: Math.min(share(there), share(back)), same: names === 0 ? 1 : equal / names, valuesDiffer };
}

function count(maps: Map<string, Map<string, number>>, from: string, to: string): void {
  const map = maps.get(from);
  if (map) map.set(to, (map.get(to) ?? 0) + 1);
  else maps.set(from, new Map([[to, 1]]));
}

/** Texts and numbers are values, everything else is a name. */
export function isValue(word: string): boolean {
  return /^["'`\d]/.test(word);
}

/** Sets of rows that hang together by pairs; rows that are alike to the letter make one by themselves. */
function joined(count: number, pairs: readonly { a: number; b: number }[]): number[][] {
  const leader = Array.from({ length: count }, (_, at) => at);
  const find = (at: number): number => (leader[at] === at ? at : (leader[at] = find(leader[at])));
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
  const [first] = rows;
  const isSameAll = heads.length === 1;
  if (isSameAll) {
    const rare = rarity(first.body);
    const counted = first.body.weights.reduce((sum, weight, at) => sum + weight * rare[at], 0);
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
  const likeness = kept.map(({ match }) => match.likeness).sort((a, b) => order.indexOf(b) - order.indexOf(a))[0];
  const pairs = kept.map(({ match }) => match.pairs);
  const others = kept.slice(1).map(({ match }) => match);
  const [from, to] = [
    Math.min(...others.map((match) => match.pairs[0][0])),
    Math.max(...others.map((match) => match.pairs.at(-1)![0])) + 1,
  ];
  const copies = kept.map(({ row, match }, at): Copy => {
    const { source, function: code } = row;
    if (at === 0) return { source, function: code, from, to };
    return { source, function: code, from: match.pairs[0][1], to: match.pairs.at(-1)![1] + 1 };
  });
  const saves = kept
    .slice(1)
    .reduce((sum, { match }) => sum + match.pairs.reduce((all, [at]) => all + first.body.weights[at], 0), 0);
  return { likeness, copies, pairs, saves };
}
