import fc from 'fast-check';
import { distance, nearest } from '../helpers/nearest.js';
import { excerptOf } from './evidence.js';
import { plain, sentence } from './finding.js';
import { groupBy, groupOf } from './graph.js';
import { weaker } from './link.js';

describe('nearest words', () => {
  it('offers slips of the pen, nearest first', () =>
    expect(nearest('rope.parted', ['rope.part', 'bell.rung', 'rope.partd'])).toEqual(['rope.partd', 'rope.part']));
  it('offers nothing that is far off, nor the word itself', () =>
    expect(nearest('gate', ['gate', 'paddle', 'tide table'])).toEqual([]));
  it('counts a swap of neighbours once', () =>
    expect([distance('gate', 'gaet'), distance('', 'ab'), distance('abc', 'abc')]).toEqual([1, 2, 0]));
  it('is the same from both sides', () =>
    fc.assert(
      fc.property(
        fc.string({ maxLength: 12 }),
        fc.string({ maxLength: 12 }),
        (a, b) => distance(a, b) === distance(b, a),
      ),
    ));
});

describe('excerpts', () => {
  const text = 'one\ntwo\nthree\nfour\nfive';
  it('show lines around, and which are meant', () => {
    expect(excerptOf('a', text, { line: 3, column: 1, endLine: 3, endColumn: 4 }, 1)).toEqual({
      file: 'a',
      firstLine: 2,
      lines: ['two', 'three', 'four'],
      from: 3,
      to: 3,
    });
  });
  it('stay inside a file that has become shorter', () => {
    expect(excerptOf('a', 'one', { line: 9, column: 1, endLine: 12, endColumn: 1 })).toEqual(
      jasmine.objectContaining({ lines: ['one'], from: 1, to: 1 }),
    );
  });
  it('cut endless lines', () =>
    expect(
      excerptOf('a', 'x'.repeat(10_000), { line: 1, column: 1, endLine: 1, endColumn: 2 }).lines[0].length,
    ).toBeLessThan(500));
});

describe('the model', () => {
  it('keeps names apart from the words of a sentence', () => {
    const runs = sentence`${{ name: 'Rope', piece: 3 }} has ${2} ends`;
    expect(runs).toEqual([{ name: 'Rope', piece: 3 }, ' has ', { name: '2' }, ' ends']);
    expect(plain(runs)).toBe('Rope has 2 ends');
  });
  it('lets a chain hold as its weakest stitch', () =>
    expect([weaker('fixed', 'name'), weaker('lost', 'path'), weaker('path', 'path')]).toEqual([
      'name',
      'lost',
      'path',
    ]));
  it('groups positions by owner in order, leaving out those without', () => {
    const grouped = groupBy(Int32Array.of(2, 0, -1, 2), 4, 3);
    expect([0, 1, 2].map((owner) => [...groupOf(grouped, owner)])).toEqual([[1], [], [0, 3]]);
  });
});
