/** What came, went, stayed and moved between two times. */
import { scan, scene, useGrammars } from '../testing/project.js';
import { baselineText, mapChange, newSince, readBaseline, sinceThen, type Remembered } from './since.js';

const one = (fingerprint: string, more: Partial<Remembered> = {}): Remembered => ({
  ...{ fingerprint, check: 'broken/loop', severity: 'error', file: 'a.json', line: 1, text: fingerprint },
  ...more,
});
const names = (all: readonly Remembered[]): string => all.map(({ fingerprint }) => fingerprint).join(' ');

describe('since then', () => {
  beforeAll(useGrammars);

  it('findings came, went, stayed and moved; a new line is no move', () => {
    const before = [one('a'), one('b'), one('c')];
    const now = [one('b', { line: 9 }), one('c', { file: 'b.json' }), one('d')];
    const { appeared, gone, same, moved } = sinceThen(now, before);
    expect([names(appeared), names(gone), names(same), names(moved)]).toEqual(['d', 'a', 'b c', 'c']);
    expect([...newSince(now, before)]).toEqual(['d']);
  });
  it('what was accepted on purpose has neither come nor gone', () => {
    const isWaived = true;
    const { appeared, gone, same, waived } = sinceThen(
      [one('a', { isWaived }), one('b', { isWaived }), one('c')],
      [one('a'), one('c', { isWaived }), one('d', { isWaived })],
    );
    expect([names(appeared), names(gone), names(same), names(waived)]).toEqual(['', '', 'c', 'a b']);
  });
  it('a baseline is written in one order and read as it was, and so are findings written as JSON', () => {
    const all = [one('b', { text: 'a “b”\n' }), one('a', { isWaived: true })];
    expect(baselineText(all)).toBe(baselineText([...all].reverse()));
    expect(readBaseline(baselineText(all), 'x')).toEqual([all[1], all[0]] as Remembered[]);
    expect(baselineText([])).toBe('{\n  "baseline": 1,\n  "findings": []\n}\n');
    const asJson = readBaseline('{"version":"1","findings":[{"fingerprint":"a","check":"c","evidence":[]}]}', 'x');
    expect(asJson.map(({ fingerprint, severity }) => [fingerprint, severity])).toEqual([['a', 'error']]);
    for (const text of ['', '[]', '{"baseline": 2}', '{"findings": [{}]}', '{'])
      if (text === '') expect(readBaseline(text, 'x')).toEqual([]);
      else
        expect(() => readBaseline(text, 'x'))
          .withContext(text)
          .toThrowError(/baseline cannot be read/i);
  });
  it('pieces and links came and went, copies apart', () => {
    const map = (names: string[]) =>
      scan({
        'scenes/a.json': scene({ name: 'Weir', objects: names.map((name) => ({ name, parts: [{ type: 'Gate' }] })) }),
        'scripts/gate.ts': 'export class Gate extends Behaviour {}',
      }).linked.graph;
    const change = mapChange(map(['Gate', 'Bell']), map(['Gate', 'Horn']));
    expect(change.pieces.came).toContain('object:scenes/a.json#Weir/Bell');
    expect(change.pieces.went).toContain('object:scenes/a.json#Weir/Horn');
    expect(change.pieces.cameCount).toBe(change.pieces.wentCount);
    const runs = (name: string) => ({
      ...{ from: `part:scenes/a.json#Weir/${name}/Gate`, verb: 'runs', to: 'type:scripts/gate.ts#Gate' },
    });
    expect(change.links).toEqual({ came: [runs('Bell')], went: [runs('Horn')], cameCount: 1, wentCount: 1 });
    const none = mapChange(map(['Gate']), map(['Gate']));
    expect(none.links).toEqual({ came: [], went: [], cameCount: 0, wentCount: 0 });
    expect(none.pieces).toEqual(none.links as unknown as typeof none.pieces);
  });
});
