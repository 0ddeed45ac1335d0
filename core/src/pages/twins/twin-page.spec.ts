import { carrier, scan, scanAfter, scanWith, scene, useGrammars, type Files } from '../../testing/project.js';
import type { Linked } from '../../linking/linked.js';
import { twinPage } from './twin-page.js';
import { twinTasks } from './tasks.js';
import type { TwinView } from './twin-view.js';

const mean = (cost: number, more = ''): string =>
  `mean() { let sum = ${cost}; for (const one of this.all) { if (one.load > this.least) sum += one.load * 2 - this.least; } ${more} return sum / (this.all.length + 1); }`;
const type = (name: string, code: string, parent = ''): string => `export class ${name} ${parent} { ${code} }`;
const scrape = (cost: number): string =>
  `onScrape(bank) { this.hull -= ${cost}; if (this.hull < 0) bells.ring('boat.sunk', this); }`;

const twinViews = (linked: Linked): TwinView[] => twinPage(linked, { limit: 100 }).groups;
const viewsOf = (files: Files, changes: object = {}): TwinView[] => twinViews(scan(files, changes).linked);

describe('the groups of twins', () => {
  beforeAll(useGrammars);

  it('put brothers’ rules into their parent, with a field for each value, and say what each of them sets', () => {
    const parent = 'extends Vessel';
    const [group] = viewsOf({
      'scripts/vessel.ts': type('Vessel', 'hull = 100;'),
      'scripts/barge.ts': type('Barge', scrape(12), parent),
      'scripts/punt.ts': type('Punt', scrape(7), parent),
      'scripts/tender.ts': type('Tender', scrape(30), parent),
    });
    expect(group.home).toEqual({
      words: 'the parent that they have: Vessel',
      change: 'Vessel in scripts/vessel.ts gets onScrape() and the field scrapeHull.',
    });
    expect(group.fields).toEqual([{ name: 'scrapeHull', words: ['12', '7', '30'] }]);
    expect(group.places.map(({ change }) => change)).toEqual([
      'The function goes out; Barge sets scrapeHull = 12.',
      'The function goes out; Punt sets scrapeHull = 7.',
      'The function goes out; Tender sets scrapeHull = 30.',
    ]);
  });
  it('propose a shared script for strangers, a new parent for those of one unknown parent, one function inside a type', () => {
    const home = (one: string, other: string, more: Files = {}): string[] =>
      viewsOf({ 'scripts/a.ts': one, 'scripts/b.ts': other, ...more }).map((group) => group.home.words);
    expect(home(type('A', mean(3)), type('B', mean(8)))).toEqual(['a script that all of them take in']);
    expect(home(type('A', mean(3), 'extends Behaviour'), type('B', mean(8), 'extends Behaviour'))).toEqual([
      'a new parent between them and theirs',
    ]);
    expect(home(type('A', `${mean(3)}\n${mean(4).replace('mean', 'least')}`), 'export class B {}')).toEqual([
      'one function of the type, called from both places',
    ]);
  });
  it('come in the order of their risk: changed in one, apart, other values, the same', () => {
    const files = (of: string, code: string): Files => ({ [`scripts/${of.toLowerCase()}.ts`]: type(of, code) });
    const weigh = (more: string, by = 2): string =>
      `weigh(boats) { if (boats.none) return this.least; const heavy = boats.best.load * ${by}; ${more} this.tip(heavy - this.least, boats.first); return heavy + this.least; }`;
    const trim = (by: number): string =>
      `trim(rope) { while (rope.slack > this.limit) { rope.pull(this.hand, rope.slack / ${by}); this.pause(); } rope.tie(this.post.ring); }`;
    const { linked } = scanAfter(
      [
        { subject: 'All', files: { ...files('A', mean(3)), ...files('B', mean(3)) } },
        { subject: 'Mended', files: files('A', mean(3, 'if (sum > 90) this.warn(sum);')) },
      ],
      {
        ...files('C', weigh('')),
        ...files('D', weigh('this.creak(heavy);')),
        ...files('E', trim(2)),
        ...files('F', trim(4)),
      },
    );
    const views = twinViews(linked);
    expect(views.map(({ risk }) => risk)).toEqual(['changed in one', 'drifted apart', 'values differ']);
    expect(views[0].parting).toBe('A.mean() was changed on 2026-03-02 (“Mended”), and the other not.');
    expect(views[0].home.change).toContain('Decide first which is right at the 2 statements that not all have.');
    expect(views[0].differences.map(({ what, lines, parting }) => [what, lines.join(), parting])).toEqual([
      ['statement', '1,0', 'A.mean() was changed on 2026-03-02 (“Mended”), and the other not'],
      ['statement', '1,0', 'A.mean() was changed on 2026-03-02 (“Mended”), and the other not'],
    ]);
  });
  it('hold prefabs and data assets, with what each of them says', () => {
    const gauge = (depth: number): object => ({
      objects: [carrier('Gauge', 'gauge.ts', {}, { depth, width: 2, face: 'oak' })],
    });
    const tide = (hour: number): object => ({
      hour,
      moon: 'full',
      wind: 3,
      sky: 'clear',
      rise: 4,
      fall: 5,
      bell: 6,
      ebb: 7,
    });
    const groups = viewsOf({
      'prefabs/deep.json': gauge(1),
      'prefabs/high.json': gauge(9),
      'data/spring.json': tide(5),
      'data/neap.json': tide(8),
    });
    expect(groups.map(({ kind, home, fields }) => [kind, home.words, fields])).toEqual([
      ['prefab', 'variants of one prefab', [{ name: 'depth', words: ['1', '9'] }]],
      ['data asset', 'one data asset that the others are like', [{ name: 'hour', words: ['8', '5'] }]],
    ]);
    expect(groups[0].places.map(({ change }) => change)).toEqual([
      'Stays as it is.',
      'Is made from the first, and saves depth = 9 over it.',
    ]);
    expect(groups[1].places.map(({ change }) => change)).toEqual(['Stays as it is.', 'It says only hour = 5.']);
  });
  it('hold pasted wires, graphs of the same steps, and tables that repeat data', () => {
    const wire = (when: string, from: number, to: number): object => ({
      when,
      from: `#plate-${from}`,
      to: `#gate-${to}`,
      do: when === 'pressed' ? 'open' : 'close',
    });
    const [pasted] = viewsOf({
      'scripts/gate.ts': 'export class Gate { open() {} close() {} }',
      'scenes/a.json': {
        ...scene(
          ...[1, 2].flatMap((at) => [
            { name: `Plate ${at}`, id: `plate-${at}` },
            carrier(`Gate ${at}`, 'gate.ts', { id: `gate-${at}` }),
          ]),
        ),
        wires: [wire('pressed', 1, 1), wire('left', 1, 1), wire('pressed', 2, 2), wire('left', 2, 1)],
      },
    });
    expect([pasted.kind, pasted.risk, pasted.home.words]).toEqual(['wiring', 'drifted apart', '']);
    expect(pasted.places.map(({ name }) => name)).toEqual(['Plate 1', 'Plate 2']);
    expect(pasted.places[1].change).toMatch(/^left → close\(\) in line \d+ leads to Gate 2\.$/);

    const steps = { steps: ['wait', 'ring', 'show', 'rest'].map((does, at) => ({ id: `${at}`, does })) };
    const rows = ['punt', 'tender', 'barge'].map((code, at) => ({ code, pence: at + 2 }));
    const record = { at: '$.rows[*]', kind: 'record', id: '$.code', named: '$.code', details: { pence: '$.pence' } };
    const { linked } = scanWith(
      {
        'orders/a.json': steps,
        'orders/b.json': steps,
        'data/tolls.json': { rows },
        'scripts/toll.ts': 'export const TOLLS = { punt: 2, tender: 3, barge: 9 };',
      },
      {
        files: {
          orders: {
            match: 'orders/*',
            as: 'graph',
            pieces: { steps: { at: '$.steps[*]', kind: 'step', id: '$.id', named: '$.does' } },
          },
          data: { match: 'data/*', as: 'data asset', pieces: { rows: record } },
        },
        scripts: { ts: { match: 'scripts/*.ts', language: 'typescript' } },
      },
    );
    const [table, graphs] = twinViews(linked);
    expect([table.risk, table.home.words]).toEqual(['drifted apart', 'the data asset: tolls']);
    expect(table.differences[0].words).toEqual(['barge: 9', 'barge: 4']);
    expect([graphs.likeness, graphs.risk]).toEqual(['the same 4 steps in the same order', 'the same']);
  });
});

describe('the page of twins', () => {
  beforeAll(useGrammars);

  it('gives the first of those that are wanted, and one that is asked for wherever it stands', () => {
    const parent = 'extends Vessel';
    const { linked } = scan({
      'scripts/vessel.ts': type('Vessel', 'hull = 100;'),
      'scripts/barge.ts': type('Barge', scrape(12), parent),
      'scripts/punt.ts': type('Punt', scrape(7), parent),
      'scripts/a.ts': type('A', mean(3)),
      'scripts/b.ts': type('B', mean(3)),
    });
    const names = (filter: object): [number, ...string[]] => {
      const { total, groups } = twinPage(linked, { limit: 10, ...filter });
      return [total, ...groups.map(({ places }) => places[0].name)];
    };
    expect(names({})).toEqual([2, 'Barge.onScrape()', 'A.mean()']);
    expect(names({ limit: 1 })).toEqual([2, 'Barge.onScrape()']);
    expect(names({ order: 'saves' })).toEqual([2, 'A.mean()', 'Barge.onScrape()']);
    expect(names({ text: 'PUNT' })).toEqual([1, 'Barge.onScrape()']);
    expect(names({ kind: 'table' })).toEqual([0]);
    const { key } = twinPage(linked, { limit: 10 }).groups[1];
    const { all, opened } = twinPage(linked, { limit: 1, text: 'none', group: key });
    expect([all, opened!.places[0].name]).toEqual([2, 'A.mean()']);
    expect(twinPage(linked, { limit: 1, group: 'abc' }).opened).toBeUndefined();
  });
});

describe('the task list of twins', () => {
  beforeAll(useGrammars);

  it('names the copies, what changes at each, what differs, and where they could live', () => {
    const files = { 'scripts/a.ts': type('A', mean(3)), 'scripts/b.ts': type('B', mean(8)) };
    expect(twinTasks('Flight', scan(files).linked)).toBe(
      [
        '# Flight: what is written more than once',
        '',
        '- [ ] `A.mean()` and 1 more: the same with other values. It could live in a script that all of them take in. It gets one function for it, which takes meanSum.',
        '  - [ ] `A.mean()` in scripts/a.ts, lines 1 to 1. Line 1 becomes one call with meanSum = 3.',
        '  - [ ] `B.mean()` in scripts/b.ts, lines 1 to 1. Line 1 becomes one call with meanSum = 8.',
        '  - `meanSum`: `3` / `8`',
        '',
      ].join('\n'),
    );
  });
});
