/** Two functions laid beside each other, statement by statement. */
import { cellAt, itemAt, must } from '../helpers/at.js';
import { oncePair } from '../helpers/once.js';
import { BETWEEN, type BodyFact } from '../reading/facts.js';
import { isValue, type Rare, type Rarity } from './runs.js';

/** How copies differ: in nothing, in values, in names, or in whole statements. */
export type Likeness = 'to the letter' | 'values' | 'names' | 'statements';

/** What a copy must come to, in tokens, when names or whole statements differ, and when nothing but values does. */
const LEAST_WEIGHT = 34;

export const LEAST_WEIGHT_SAME = 24;

/** The same for a piece of longer functions: a few lines are how a thing is called, not what somebody copied. */
const LEAST_WEIGHT_PART = 44;

export const LEAST_STATEMENTS = 4;

/** A copy that is less than so much of its function is a piece of it. */
const WHOLE = 0.5;

/** How much of both must match, and how much of the names must stand for one another. */
const MOST_OF_BOTH = 0.66;

const NAMES_AGREE = 0.7;

export interface Match {
  /** Positions in both, pair by pair. */
  pairs: [number, number][];
  likeness: Likeness;
}

/** Two rows side by side; undefined when they are not alike enough. */
export function matchOf(a: BodyFact, b: BodyFact, rarity: Rarity): Match | undefined {
  const laid = layBeside(a, b);
  if (!laid) return undefined;
  const { pairs, likeness, isSure, isPart } = laid;
  const counted = pairs.reduce((sum, [at, other]) => sum + worthOf(a, b, at, other, rarity(a)), 0);
  const least = isPart ? LEAST_WEIGHT_PART : isSure ? LEAST_WEIGHT_SAME : LEAST_WEIGHT;
  return counted < least ? undefined : { pairs, likeness };
}

/** A call that everybody makes says nothing of a copy, unless the same is given to it. */
function worthOf(a: BodyFact, b: BodyFact, at: number, other: number, rare: Rare): number {
  const isSame = itemAt(a.exacts, at) === itemAt(b.exacts, other);
  return itemAt(a.weights, at) * (isSame ? worthSame(rare, at) : cellAt(rare.runs, at) * cellAt(rare.own, at));
}

/** What a statement counts that stands in both to the letter: one that nobody else writes so counts in full. */
export function worthSame({ runs, exact }: Rare, at: number): number {
  return Math.max(cellAt(runs, at), cellAt(exact, at));
}

/** What two rows come to beside each other, whatever else there is: kept as long as both are as they are. */
type Laid = Match & { isSure: boolean; isPart: boolean };

const layBeside = oncePair(align);

function align(a: BodyFact, b: BodyFact): Laid | undefined {
  const all = commonStatements(a.shapes, b.shapes);
  const pairs = densest(all, a, b);
  if (pairs.length < LEAST_STATEMENTS - 1) return undefined;
  const [[fromA, fromB], [toA, toB]] = [itemAt(pairs, 0), must(pairs.at(-1))];
  const inA = weightOf(a, fromA, toA + 1);
  const inB = weightOf(b, fromB, toB + 1);
  const matched = pairs.reduce((sum, [at]) => sum + itemAt(a.weights, at), 0);
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
  for (let at = from; at < to; at++) weight += itemAt(body.weights, at);
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
          ? cellAt(lengths, (i + 1) * width + j + 1) + 1
          : Math.max(cellAt(lengths, (i + 1) * width + j), cellAt(lengths, i * width + j + 1));
  const pairs: [number, number][] = [];
  for (let i = 0, j = 0; i < a.length && j < b.length;) {
    if (a[i] === b[j]) pairs.push([i++, j++]);
    else if (cellAt(lengths, (i + 1) * width + j) >= cellAt(lengths, i * width + j + 1)) i++;
    else j++;
  }
  return pairs;
}

/** Stray matches at both ends are left off while what is between the others fits better without them. */
function densest(pairs: [number, number][], a: BodyFact, b: BodyFact): [number, number][] {
  let [first, last] = [0, pairs.length - 1];
  const gap = (one: number, other: number): number => {
    const [[i, j], [k, l]] = [itemAt(pairs, one), itemAt(pairs, other)];
    return weightOf(a, i + 1, k) + weightOf(b, j + 1, l);
  };
  while (last > first && gap(first, first + 1) > 2 * itemAt(a.weights, itemAt(pairs, first)[0]) + 12) first++;
  while (last > first && gap(last - 1, last) > 2 * itemAt(a.weights, itemAt(pairs, last)[0]) + 12) last--;
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
    const [mine, theirs] = [itemAt(a.words, i).split(BETWEEN), itemAt(b.words, j).split(BETWEEN)];
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
