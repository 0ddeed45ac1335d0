import { layersOf, type Weighted } from './layers.js';

/** Cells as `from to links`, named by letters; and the order and layers that they come to, as words. */
const layered = (text: string): string => {
  const names: string[] = [];
  const at = (name: string): number => (names.includes(name) ? names.indexOf(name) : names.push(name) - 1);
  const cells = text.split(', ').map((cell): Weighted => {
    const [from = '', to = '', links] = cell.split(' ');
    return { from: at(from), to: at(to), links: Number(links) };
  });
  const { order, layer } = layersOf(names.length, cells);
  return order.map((group) => `${names[group]}${layer[group]}`).join(' ');
};
/** Links that run back in an order. */
const back = (cells: readonly Weighted[], order: readonly number[]): number =>
  cells.reduce((sum, { from, to, links }) => sum + (order.indexOf(from) > order.indexOf(to) ? links : 0), 0);

describe('layers', () => {
  it('put what relies on others first, and what relies on nothing last', () => {
    expect(layered('a b 3, b c 1, a c 9')).toBe('a0 b1 c2');
    expect(layered('c b 3, b a 1')).toBe('c0 b1 a2');
  });

  it('hold groups that do not rely on each other together', () => {
    expect(layered('a c 1, b c 1, c d 5, c e 5')).toBe('a0 b0 c1 d2 e2');
  });

  it('let the lighter side of a circle run back', () => {
    expect(layered('a b 2, b a 7')).toBe('b0 a1');
    expect(layered('a b 5, b c 5, c a 1')).toBe('a0 b1 c2');
    expect(layered('a b 5, b c 1, c a 5')).toBe('c0 a1 b2');
  });

  it('let as little run back as any order does', () => {
    let seed = 7;
    const random = (most: number): number => (seed = (seed * 48271) % 2147483647) % most;
    const orders = (left: number[]): number[][] =>
      left.length === 0
        ? [[]]
        : left.flatMap((one) => orders(left.filter((other) => other !== one)).map((rest) => [one, ...rest]));
    const all = orders([0, 1, 2, 3, 4]);
    let [more, least] = [0, 0];
    for (let round = 0; round < 60; round++) {
      const cells = Array.from({ length: 12 }, () => ({
        from: random(5),
        to: random(5),
        links: 1 + random(20),
      })).filter(
        (one, at, cells) =>
          cells.findIndex(({ from, to }) => from === one.from && to === one.to) === at && one.from !== one.to,
      );
      const best = Math.min(...all.map((order) => back(cells, order)));
      least += best;
      more += back(cells, layersOf(5, cells).order) - best;
    }
    expect(least).toBeGreaterThan(500);
    expect(more / least).toBeLessThan(0.05);
  });

  it('know nothing of groups that nothing links', () => {
    expect(layersOf(0, [])).toEqual({ order: [], layer: [] });
    expect(layersOf(2, []).layer).toEqual([0, 0]);
  });
});
