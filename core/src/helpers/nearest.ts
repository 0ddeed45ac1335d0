/** Words that are written almost the same. */
import { cellAt, itemAt } from './at.js';

/** Words of one set, prepared for many questions. */
export interface Words {
  readonly words: readonly string[];
  readonly lower: readonly string[];
  /** Which letters stand in each, as bits: words far apart differ in many. */
  readonly letters: Int32Array;
  /** What may still be spent on looking through them: thousands of words that nothing is like have one cause. */
  readonly patience: { left: number };
}

/** In words that are looked at: enough for five hundred questions among a hundred thousand words. */
const PATIENCE = 50_000_000;
/** What comparing two words costs, beside looking at one. */
const COMPARED = 25;

export function wordsOf(words: Iterable<string>): Words {
  const all = [...words];
  const lower = all.map((word) => word.toLowerCase());
  return { words: all, lower, letters: Int32Array.from(lower, lettersOf), patience: { left: PATIENCE } };
}

function lettersOf(word: string): number {
  let bits = 0;
  for (let at = 0; at < word.length; at++) bits |= 1 << (word.charCodeAt(at) & 31);
  return bits;
}

function countOf(bits: number): number {
  const pairs = bits - ((bits >>> 1) & 0x55555555);
  const fours = (pairs & 0x33333333) + ((pairs >>> 2) & 0x33333333);
  return (((fours + (fours >>> 4)) & 0x0f0f0f0f) * 0x01010101) >>> 24;
}

/**
 * Edit distance between two words, counting a swap of neighbours as one change
 * (optimal string alignment, after Damerau 1964 and Levenshtein 1966). Stops early above `most`.
 */
export function distance(a: string, b: string, most = Infinity): number {
  if (Math.abs(a.length - b.length) > most) return most + 1;
  const far = a.length === 0 ? b.length : a.length <= LONGEST_IN_BITS ? inBits(a, bitsOf(a), b) : inRows(a, b, most);
  return far > most ? most + 1 : far;
}

/** As many letters as a number of JavaScript's has bits to work with. */
const LONGEST_IN_BITS = 31;

/** Where each letter stands in a word. */
function bitsOf(word: string): Map<number, number> {
  const bits = new Map<number, number>();
  for (let at = 0; at < word.length; at++) {
    const letter = word.charCodeAt(at);
    bits.set(letter, (bits.get(letter) ?? 0) | (1 << at));
  }
  return bits;
}

/** A column of the table at once (Hyyrö, “A Bit-Vector Algorithm for Computing Levenshtein and Damerau Edit Distances”, 2003). */
function inBits(a: string, bits: ReadonlyMap<number, number>, b: string): number {
  const last = 1 << (a.length - 1);
  let far = a.length;
  let [up, down] = [-1, 0];
  let [same, before] = [0, 0];
  for (let at = 0; at < b.length; at++) {
    const here = bits.get(b.charCodeAt(at)) ?? 0;
    const swapped = ((~same & here) << 1) & before;
    const sum = (((here & up) >>> 0) + (up >>> 0)) | 0;
    same = (sum ^ up) | here | down | swapped;
    let right = down | ~(same | up);
    let left = same & up;
    if (right & last) far++;
    if (left & last) far--;
    right = (right << 1) | 1;
    left <<= 1;
    up = left | ~(same | right);
    down = right & same;
    before = here;
  }
  return far;
}

/** The table row by row, for long words. */
function inRows(a: string, b: string, most: number): number {
  let beforeLast: number[] = [];
  let last = Array.from({ length: b.length + 1 }, (_, at) => at);
  for (let i = 1; i <= a.length; i++) {
    const row = [i];
    let least = i;
    for (let j = 1; j <= b.length; j++) {
      const cost = a[i - 1] === b[j - 1] ? 0 : 1;
      let value = Math.min(itemAt(row, j - 1) + 1, itemAt(last, j) + 1, itemAt(last, j - 1) + cost);
      if (i > 1 && j > 1 && a[i - 1] === b[j - 2] && a[i - 2] === b[j - 1])
        value = Math.min(value, itemAt(beforeLast, j - 2) + 1);
      row.push(value);
      least = Math.min(least, value);
    }
    if (least > most) return most + 1;
    beforeLast = last;
    last = row;
  }
  return itemAt(last, b.length);
}

/**
 * Words close enough to `word` to be a slip of the pen, nearest first: at most a third of its letters differ. Of a set
 * that was prepared none any more once its patience is spent.
 */
export function nearest(word: string, among: Iterable<string> | Words, count = 3): string[] {
  const { words, lower, letters, patience } = 'lower' in among ? among : wordsOf(among);
  if (patience.left <= 0) return [];
  patience.left -= words.length;
  const wanted = word.toLowerCase();
  const own = lettersOf(wanted);
  const bits = wanted.length <= LONGEST_IN_BITS && wanted.length > 0 ? bitsOf(wanted) : undefined;
  /** Nearest first, of one distance by the alphabet. */
  const close: { word: string; far: number }[] = [];
  let reach = Math.max(1, Math.floor(word.length / 3));
  for (let at = 0; at < words.length; at++) {
    const other = itemAt(lower, at);
    // Each change takes one letter away and puts one in at most.
    if (Math.abs(other.length - wanted.length) > reach || countOf(own ^ cellAt(letters, at)) > 2 * reach) continue;
    const candidate = itemAt(words, at);
    if (candidate === word) continue;
    patience.left -= COMPARED;
    const far = bits ? inBits(wanted, bits, other) : distance(wanted, other, reach);
    if (far > reach) continue;
    const before = close.findIndex((one) => far < one.far || (far === one.far && candidate < one.word));
    close.splice(before < 0 ? close.length : before, 0, { word: candidate, far });
    if (close.length > count) close.pop();
    if (close.length === count) reach = itemAt(close, count - 1).far;
  }
  return close.map((found) => found.word);
}
