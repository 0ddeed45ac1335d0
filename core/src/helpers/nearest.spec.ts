import fc from 'fast-check';
import { distance, nearest, wordsOf } from './nearest.js';

/** The distance as its definition has it. */
function plainly(a: string, b: string): number {
  const far = new Map<string, number>();
  const of = (i: number, j: number): number => {
    if (i === 0 || j === 0) return i + j;
    const key = `${i} ${j}`;
    const known = far.get(key);
    if (known !== undefined) return known;
    const isSwap = i > 1 && j > 1 && a[i - 1] === b[j - 2] && a[i - 2] === b[j - 1];
    const least = Math.min(
      of(i - 1, j) + 1,
      of(i, j - 1) + 1,
      of(i - 1, j - 1) + (a[i - 1] === b[j - 1] ? 0 : 1),
      isSwap ? of(i - 2, j - 2) + 1 : Infinity,
    );
    far.set(key, least);
    return least;
  };
  return of(a.length, b.length);
}

describe('the distance between words', () => {
  const word = (maxLength: number): fc.Arbitrary<string> =>
    fc.string({ unit: fc.constantFrom('a', 'b', 'c', 'ü'), maxLength });

  it('counts letters put in, taken out, changed and swapped', () => {
    const pairs: [string, string, number][] = [
      ['', '', 0],
      ['', 'ab', 2],
      ['ab', '', 2],
      ['gate', 'gate', 0],
      ['gate', 'gates', 1],
      ['gate', 'agte', 1],
      ['gate', 'gtae', 1],
      ['gate', 'lock', 4],
      ['ca', 'abc', 3],
    ];
    for (const [a, b, far] of pairs) expect(distance(a, b)).withContext(`${a} ${b}`).toBe(far);
  });
  it('is as defined, for short words and long ones, up to a limit', () => {
    fc.assert(
      fc.property(word(40), word(40), fc.nat(12), (a, b, most) => {
        const far = plainly(a, b);
        expect(distance(a, b)).toBe(far);
        expect(distance(a, b, most)).toBe(Math.min(far, most + 1));
      }),
      { numRuns: 300 },
    );
  });
  it('tells the nearest words as if each were compared', () => {
    fc.assert(
      fc.property(word(12), fc.uniqueArray(word(12), { maxLength: 20 }), (wanted, words) => {
        const most = Math.max(1, Math.floor(wanted.length / 3));
        const close = words
          .filter((one) => one !== wanted && plainly(wanted, one) <= most)
          .sort((a, b) => plainly(wanted, a) - plainly(wanted, b) || (a < b ? -1 : 1));
        expect(nearest(wanted, words, 5)).toEqual(close.slice(0, 5));
        expect(nearest(wanted, wordsOf(words), 5)).toEqual(close.slice(0, 5));
      }),
      { numRuns: 300 },
    );
  });
});
