import { scan, scanAfter, scene, carrier, useGrammars, type Files } from '../testing/project.js';
import type { Linked } from '../linking/linked.js';
import { familiesOf, familyOf } from './families.js';
import type { Family } from './family.js';

const FLEET: Files = {
  'scripts/vessel.ts':
    'export class Vessel { draught: number; speed = 3; begin() { bells.hear("a", this.stop); } stop() { this.turn(this.draught); } turn(by) {} }',
  'scripts/barge.ts':
    'export class Barge extends Vessel { draught = 2; begin() { super.begin(); this.tow(); } tow() {} }',
  'scripts/tender.ts': 'export class Tender extends Vessel { speed = 9; begin() {} stop() { this.tie(); } }',
  'scripts/punt.ts': 'export class Punt extends Tender { tow() {} turn(by) { this.tow(); } }',
  'scenes/a.json': scene(carrier('B', 'barge.ts'), carrier('T', 'tender.ts'), carrier('T 2', 'tender.ts')),
};

function grid(linked: Linked, name: string): Family {
  const { piece } = familiesOf(linked).find((one) => one.name === name)!;
  return familyOf(linked, piece)!;
}

describe('families of types', () => {
  beforeAll(useGrammars);

  it('are listed with how much is replaced, and by nothing', () => {
    expect(
      familiesOf(scan(FLEET).linked).map(({ name, members, objects, replaced, byNothing }) => [
        name,
        members,
        objects,
        replaced,
        byNothing,
      ]),
    ).toEqual([
      ['Vessel', 3, 3, 2, 1],
      ['Tender', 1, 2, 0, 0],
    ]);
  });
  it('say of each member what it has of its parent’s and what of its own', () => {
    const { columns, rows } = grid(scan(FLEET).linked, 'Vessel');
    expect(columns.map(({ name }) => name)).toEqual(['begin', 'stop', 'turn', 'tow', 'draught', 'speed']);
    expect(rows.map(({ name, cells }) => [name, ...cells.map(({ is, text }) => text || is)])).toEqual([
      ['Vessel', 'own', 'own', 'own', 'none', 'none', '3'],
      ['Tender', 'by nothing', 'replaced', 'inherited', 'none', 'never set', '9'],
      ['Barge', 'before', 'inherited', 'inherited', 'own', '2', 'inherited'],
      ['Punt', 'inherited', 'inherited', 'own', 'own', 'never set', 'inherited'],
    ]);
    expect(rows.map(({ name, depth, objects }) => [name, depth, objects])).toEqual([
      ['Vessel', 0, 0],
      ['Tender', 1, 2],
      ['Barge', 1, 1],
      ['Punt', 2, 0],
    ]);
  });
  it('are none of pieces that nothing descends from', () => {
    const { linked } = scan(FLEET);
    const punt = linked.world.types.all.find(({ name }) => name === 'Punt')!;
    expect(familyOf(linked, punt.piece)).toBeUndefined();
  });
  it('tell how many members and objects an edit of each place reaches', () => {
    const { rows, columns } = grid(scan(FLEET).linked, 'Vessel');
    const reach = (name: string, column: string): (number | undefined)[] => {
      const { cells } = rows.find((row) => row.name === name)!;
      const found = cells[columns.findIndex((one) => one.name === column)].reach;
      return [found?.members, found?.objects];
    };
    // Vessel itself, and the barge, which calls through; not the tender, and not the punt below it.
    expect(reach('Vessel', 'begin')).toEqual([2, 1]);
    expect(reach('Tender', 'begin')).toEqual([2, 2]);
    expect(reach('Punt', 'begin')).toEqual([undefined, undefined]);
    expect(reach('Vessel', 'speed')).toEqual([2, 1]);
  });
});

describe('families of prefabs', () => {
  beforeAll(useGrammars);
  const OBJECTS = {
    at: '$..objects[*]',
    kind: 'object',
    madeFrom: { field: '$.prefab' },
    parts: { at: '$.parts[*]', script: { field: '$.script' }, values: '$.slots' },
    overrides: { at: '$.changes[*]', part: '$.part', values: '$.set' },
  };
  const PREFABS = {
    files: {
      scenes: { match: 'scenes/*', as: 'scene', pieces: { objects: OBJECTS } },
      prefabs: { match: 'prefabs/*', as: 'prefab', pieces: { objects: OBJECTS } },
    },
  };
  const gauges = (): Linked =>
    scan(
      {
        'scripts/gauge.ts': 'export class Gauge { @slot depth = 1; @slot face = ""; }',
        'prefabs/gauge.json': scene(carrier('Gauge', 'gauge.ts', {}, { depth: 2, face: 'oak' })),
        'prefabs/lock.json': scene({ name: 'Lock', objects: [{ name: 'Deep', prefab: 'prefabs/gauge.json' }] }),
        'scenes/a.json': scene(
          { name: 'One', prefab: 'prefabs/gauge.json', changes: [{ part: 'Gauge', set: { depth: 5, face: 'oak' } }] },
          { name: 'Lock 1', prefab: 'prefabs/lock.json' },
          { name: 'Lock 2', prefab: 'prefabs/lock.json' },
        ),
      },
      PREFABS,
    ).linked;

  it('compare what each instance saves with what the prefab says', () => {
    const { rows, columns } = grid(gauges(), 'gauge');
    expect(columns.map(({ name }) => name)).toEqual(['depth', 'face']);
    expect(rows.map(({ name, cells }) => [name, ...cells.map(({ is, text }) => `${is} ${text}`)])).toEqual([
      ['Gauge', 'own 2', 'own oak'],
      ['One', 'replaced 5', 'same oak'],
      ['Deep', 'inherited 2', 'inherited oak'],
    ]);
  });
  it('tell how many an edit of the prefab reaches: those that save nothing over it', () => {
    const [base, one, deep] = grid(gauges(), 'gauge').rows;
    expect(base.cells[0].reach).toEqual({ members: 2, objects: 2 });
    expect(one.cells[0].reach).toEqual({ members: 1, objects: 1 });
    expect(deep.cells[0].reach).toBeUndefined();
  });
  it('put the ninth before the tenth', () => {
    const made = [10, 9].map((at) => ({ name: `Gauge ${at}`, prefab: 'prefabs/gauge.json' }));
    const { linked } = scan(
      { 'prefabs/gauge.json': scene({ name: 'Gauge' }), 'scenes/a.json': scene(...made) },
      PREFABS,
    );
    expect(grid(linked, 'gauge').rows.map(({ name }) => name)).toEqual(['Gauge', 'Gauge 9', 'Gauge 10']);
  });
  it('count the objects of scenes that an edit reaches, those inside other prefabs too', () => {
    expect(grid(gauges(), 'gauge').objects).toBe(3);
    expect(grid(gauges(), 'gauge').rows.map(({ objects }) => objects)).toEqual([0, 1, 2]);
  });
  it('tell a saved value that the prefab had before it was changed', () => {
    const prefab = (depth: number): Files => ({
      'prefabs/gauge.json': scene(carrier('Gauge', 'gauge.ts', {}, { depth })),
    });
    const made = (name: string, depth: number): object => ({
      name,
      prefab: 'prefabs/gauge.json',
      changes: [{ part: 'Gauge', set: { depth } }],
    });
    const { linked } = scanAfter(
      [
        { subject: 'Deep', files: prefab(5) },
        { subject: 'Shallow', files: prefab(2) },
      ],
      {
        'scripts/gauge.ts': 'export class Gauge { @slot depth = 1; }',
        'scenes/a.json': scene(made('One', 5), made('Two', 9)),
      },
      PREFABS,
    );
    expect(grid(linked, 'gauge').rows.map(({ cells: [{ is, text }] }) => `${is} ${text}`)).toEqual([
      'own 2',
      'masks 5',
      'replaced 9',
    ]);
  });
});

describe('families of records', () => {
  beforeAll(useGrammars);
  const ROWS = {
    at: '$.rows[*]',
    kind: 'record',
    id: '$.code',
    named: '$.code',
    extends: { field: '$.like', by: 'id', kinds: 'record' },
    details: { length: '$.length', crew: '$.crew' },
  };

  it('compare what each says with the one it is like', () => {
    const { linked } = scan(
      {
        'data/boats.json': {
          rows: [
            { code: 'punt', length: 6, crew: 1 },
            { code: 'raft', like: 'punt', length: 4 },
            { code: 'skiff', like: 'raft', crew: 1 },
          ],
        },
      },
      { files: { data: { match: 'data/*', as: 'data asset', pieces: { rows: ROWS } } } },
    );
    const { rows, kind, members } = grid(linked, 'punt');
    expect([kind, members]).toEqual(['record', 2]);
    expect(rows.map(({ name, cells }) => [name, ...cells.map(({ is, text }) => `${is} ${text}`)])).toEqual([
      ['punt', 'own 6', 'own 1'],
      ['raft', 'replaced 4', 'inherited '],
      ['skiff', 'inherited ', 'same 1'],
    ]);
  });
});
