import { itemAt } from './at.js';
/**
 * Edit distance between two words, counting a swap of neighbours as one change
 * (optimal string alignment, after Damerau 1964 and Levenshtein 1966). Stops early above `most`.
 */
export function distance(a: string, b: string, most = Infinity): number {
  if (Math.abs(a.length - b.length) > most) return most + 1;
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

/** Words close enough to `word` to be a slip of the pen, nearest first: at most a third of its letters differ. */
export function nearest(word: string, words: Iterable<string>, count = 3): string[] {
  const most = Math.max(1, Math.floor(word.length / 3));
  const close: { word: string; far: number }[] = [];
  const lower = word.toLowerCase();
  for (const candidate of words) {
    if (candidate === word) continue;
    const far = distance(lower, candidate.toLowerCase(), most);
    if (far <= most) close.push({ word: candidate, far });
  }
  close.sort((a, b) => a.far - b.far || (a.word < b.word ? -1 : 1));
  return close.slice(0, count).map((found) => found.word);
}
