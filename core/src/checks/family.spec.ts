/** Checks on what a child has from its parent, and an instance from its prefab. */
import { carrier, scan, scanAfter, scene, script, told, useGrammars, type Files } from '../testing/project.js';

const found = (check: string, files: Files, changes: object = {}): string[] => told(scan(files, changes), check);

describe('fragile/silent-override', () => {
  beforeAll(useGrammars);
  const check = 'fragile/silent-override';
  const boat = (begin: string, parent = "bells.hear('storm', this.stop);"): string[] =>
    found(check, {
      'scripts/vessel.ts': script('Vessel', parent, 'stop() {} sail() {}'),
      'scripts/boat.ts': `export class Boat extends Vessel { ${begin} }`,
    });

  it('fires on a start handler that was replaced, and names what is lost', () => {
    expect(boat('begin() { this.speed = 3; }')).toEqual([
      'Boat.begin() takes the place of Vessel.begin(), which listens to storm @ scripts/boat.ts:1',
    ]);
  });
  it('weighs more when the child’s is empty', () => {
    expect(boat('begin() {}')).toEqual([
      'Boat.begin() is empty and takes the place of Vessel.begin(), which listens to storm @ scripts/boat.ts:1',
    ]);
  });
  it('is silent when it calls through first and then changes one value', () => {
    expect(boat('begin() { super.begin(); this.speed = 3; }')).toEqual([]);
  });
  it('is silent on names that the language keeps apart for each type', () => {
    const python: Files = {
      'scripts/vessel.py':
        "class Vessel:\n  def begin(self):\n    self.__tie()\n  def __tie(self):\n    bells.ring('tied')\n",
      'scripts/boat.py':
        'class Boat(Vessel):\n  def begin(self):\n    super().begin()\n    self.__tie()\n  def __tie(self):\n    pass\n',
    };
    expect(found(check, python)).toEqual([]);
    const open = Object.fromEntries(
      Object.entries(python).map(([file, text]) => [file, String(text).replace(/__tie/g, 'tie')]),
    );
    expect(found(check, open).length).toBe(1);
  });
  it('is silent when the parent does nothing there, and on functions that only code calls', () => {
    expect(boat('begin() { this.speed = 3; }', '')).toEqual([]);
    expect(boat('sail() {}', '')).toEqual([]);
    expect(boat('')).toEqual([]);
  });
});

describe('fragile/unset-inherited', () => {
  beforeAll(useGrammars);
  const check = 'fragile/unset-inherited';
  const vessel =
    'export class Vessel { draught: number; everyFrame() { this.check(); } check() { return this.draught * 2; } }';
  const fleet = (barge: string, parent = vessel, more: Files = {}): string[] =>
    found(check, {
      'scripts/vessel.ts': parent,
      'scripts/tender.ts': 'export class Tender extends Vessel { draught = 1; }',
      'scripts/barge.ts': `export class Barge extends Vessel { ${barge} }`,
      ...more,
    });

  it('fires on a child that never sets what the parent’s rule uses', () => {
    expect(fleet('')).toEqual([
      'Barge never sets draught, which Vessel uses for it; Tender sets it @ scripts/vessel.ts:1',
    ]);
  });
  it('is silent when it is set: in code, in a saved value, by the parent, or by other code', () => {
    expect(fleet('begin() { this.draught = 2; }')).toEqual([]);
    expect(fleet('', vessel, { 'scenes/a.json': scene(carrier('Barge', 'barge.ts', {}, { draught: 3 })) })).toEqual([]);
    expect(fleet('', vessel.replace('draught: number', 'draught = 1'))).toEqual([]);
    expect(fleet('', vessel, { 'scripts/dock.ts': script('Dock', 'this.find().draught = 2;') })).toEqual([]);
  });
  /** What the child's file says, and whether the field counts as set by it. */
  const children: [string, string, boolean][] = [
    ['gives it nothing', 'export class Barge extends Vessel { begin() { this.draught = null; } }', false],
    ['sets another field', 'export class Barge extends Vessel { width = 1; begin() { this.width = 2; } }', false],
    ['only declares it', 'export class Barge extends Vessel { draught: number; }', false],
    ['declares it with a value', 'export class Barge extends Vessel { draught = 2; }', true],
    ['lets people fill it in', 'export class Barge extends Vessel { @slot draught: number; }', true],
    ['lets people fill in another one', 'export class Barge extends Vessel { @slot width: number; }', false],
    [
      'takes it when it is made',
      'export class Barge extends Vessel { constructor(public draught: number) { super(); } }',
      true,
    ],
    ['takes another one', 'export class Barge extends Vessel { constructor(width: number) { super(); } }', false],
    [
      'takes it elsewhere',
      'export class Barge extends Vessel { load(draught: number) { this.show(draught); } }',
      false,
    ],
    [
      'has a neighbour that sets its own',
      'export class Barge extends Vessel {} export class Quay { draught = 1; begin() { this.draught = 2; } }',
      false,
    ],
    [
      'has a neighbour that takes it',
      'export class Barge extends Vessel {} export class Quay { constructor(draught: number) { this.show(draught); } }',
      false,
    ],
  ];
  for (const [does, barge, isSet] of children)
    it(`${isSet ? 'is silent' : 'fires'} when the child ${does}`, () => {
      expect(fleet('', vessel, { 'scripts/barge.ts': barge }).length).toBe(isSet ? 0 : 1);
    });

  it('is silent when most children do without, and when the parent names the field as a text', () => {
    const more = { 'scripts/punt.ts': 'export class Punt extends Vessel {}' };
    expect(fleet('', vessel, more)).toEqual([]);
    expect(fleet('', vessel.replace('return this', "if (has(this, 'draught')) return this"))).toEqual([]);
  });
  it('is silent when the parent asks, when the child replaces the rule, and when no child sets it', () => {
    expect(fleet('', vessel.replace('return this.draught * 2;', 'if (this.draught) return this.draught * 2;'))).toEqual(
      [],
    );
    expect(fleet('check() { return 4; }')).toEqual([]);
    expect(fleet('', vessel, { 'scripts/tender.ts': 'export class Tender extends Vessel {}' })).toEqual([]);
  });
});

describe('fragile/base-drift', () => {
  beforeAll(useGrammars);
  const check = 'fragile/base-drift';
  const CHANGES = {
    at: '$..objects[*]',
    kind: 'object',
    madeFrom: { field: '$.prefab' },
    parts: { at: '$.parts[*]', script: { field: '$.script' }, values: '$.slots' },
    overrides: { at: '$.changes[*]', part: '$.part', values: '$.set' },
  };
  const FILES = {
    scenes: { match: 'scenes/*', as: 'scene', pieces: { objects: CHANGES } },
    prefabs: { match: 'prefabs/*', as: 'prefab', pieces: { objects: CHANGES } },
  };
  const gaugeFiles = (...depths: (number | undefined)[]): Files => ({
    'scripts/gauge.ts': 'export class Gauge { @slot depth = 1; }',
    'prefabs/gauge.json': scene(carrier('Gauge', 'gauge.ts', {}, { depth: 2 })),
    'scenes/a.json': sceneOf(depths),
  });
  const sceneOf = (depths: (number | undefined)[]): object =>
    scene(
      ...depths.map((depth, at) => ({
        name: `Gauge ${at + 1}`,
        prefab: 'prefabs/gauge.json',
        changes: depth === undefined ? [] : [{ part: 'Gauge', set: { depth } }],
      })),
    );
  const gauges = (...depths: (number | undefined)[]): string[] => found(check, gaugeFiles(...depths), { files: FILES });

  it('fires on a saved value that the prefab says anyway', () => {
    expect(gauges(2, undefined)).toEqual([
      'Gauge 1 saves depth = 2 for Gauge, which gauge says anyway @ scenes/a.json:10',
    ]);
  });
  it('offers to take out what is saved again', () => {
    const { findings } = scan(gaugeFiles(2, undefined), { files: FILES });
    const [{ repairs }] = findings.filter((finding) => finding.check === check);
    expect(repairs[0].changes).toEqual([jasmine.objectContaining({ is: 'remove', file: 'scenes/a.json' })]);
  });
  it('fires when all instances save one other value', () => {
    expect(gauges(5, 5, 5)).toEqual([
      'All 3 instances of gauge save depth = 5, so its own 2 is in force nowhere @ prefabs/gauge.json:9',
    ]);
  });
  it('is silent when values differ, when one follows the prefab, and when nothing is saved', () => {
    expect(gauges(5, 6, 7)).toEqual([]);
    expect(gauges(5, 5, 5, undefined)).toEqual([]);
    expect(gauges(undefined, undefined, undefined)).toEqual([]);
  });

  /** The prefab says 5, then 2; the instances save what is given. */
  const changed = (depths: (number | undefined)[], now = 2, code = 'depth = 1'): string[] => {
    const files = (depth: number, inCode: string): Files => ({
      'scripts/gauge.ts': `export class Gauge { @slot() ${inCode}; }`,
      'prefabs/gauge.json': scene(carrier('Gauge', 'gauge.ts', {}, { depth })),
    });
    return told(
      scanAfter(
        [
          { subject: 'A gauge', files: files(5, 'depth = 1') },
          { subject: 'Shallow water', files: files(now, code) },
        ],
        { 'scenes/a.json': sceneOf(depths) },
        { files: FILES },
      ),
      check,
    );
  };

  it('fires on a saved value that is what the prefab said before, and names the commit that changed it', () => {
    expect(changed([5, undefined])).toEqual([
      'Gauge 1 saves depth = 5 for Gauge, what gauge said until it was changed on 2026-03-02 (“Shallow water”); its 2 of today does not reach it @ prefabs/gauge.json:9',
    ]);
  });
  it('fires when the prefab was edited and one instance was meant', () => {
    expect(changed([5, 5, undefined, 5])).toEqual([
      'gauge was changed on 2026-03-02 (“Shallow water”) and says depth = 2 now, but 3 of its 4 instances save the 5 of before: only Gauge 3 follows it @ prefabs/gauge.json:9',
    ]);
  });
  it('fires on what the code said before', () => {
    expect(changed([7, undefined], 5, 'depth = 4')).toEqual([]);
    expect(changed([1, undefined], 5, 'depth = 4')).toEqual([
      'Gauge 1 saves depth = 1, what the code of Gauge said until it was changed on 2026-03-02 (“Shallow water”); its 4 of today does not reach it @ scripts/gauge.ts:1',
    ]);
  });
  it('fires once for all that save what the code said before, and not on those that save something else', () => {
    expect(changed([1, 1, 3, undefined], 5, 'depth = 4')).toEqual([
      'Gauge 1 and 1 more save depth = 1, what the code of Gauge said until it was changed on 2026-03-02 (“Shallow water”); its 4 of today does not reach them @ scripts/gauge.ts:1',
    ]);
  });
  it('is silent on a value that the prefab never had, and when nothing was changed', () => {
    expect(changed([9, undefined])).toEqual([]);
    expect(changed([9, undefined], 5)).toEqual([]);
  });
});
