import { analyse } from '../analyse.js';
import { itemAt } from '../helpers/at.js';
import type { Finding, Repair } from '../model/finding.js';
import { NO_HISTORY, type History } from '../model/history.js';
import { carrier, factsOf, planOf, scan, scene, script, useGrammars, type Files } from '../testing/project.js';

/** Repairs that write something, of the first finding of a check: title and reason. */
function offered(files: Files, check: string, changes: object = {}): string[] {
  const finding = scan(files, changes).findings.find((one) => one.check === check);
  return (finding?.repairs ?? []).filter((repair) => repair.changes).map(({ title, words }) => `${title}: ${words}`);
}

describe('candidates for a file that is gone', () => {
  beforeAll(useGrammars);
  const files: Files = {
    'scripts/bell.ts': 'export class Bell { @slot() table?: X; }',
    'scenes/a.json': scene(carrier('Bell', 'bell.ts', {}, { table: 'data/tides.json' })),
    'data/old/tides.json': {},
    'data/tide.json': {},
    'data/levels.json': {},
  };
  const repairs = (history: Partial<History>): Repair[] => {
    const plan = planOf();
    const { facts, others } = factsOf(files, plan);
    const { findings } = analyse(facts, others, plan, undefined, { ...NO_HISTORY, ...history });
    return findings[0].repairs.filter(({ changes }) => changes);
  };

  it('are those of the same name elsewhere, then those written alike', () => {
    expect(offered(files, 'broken/missing-file')).toEqual([
      'Write “data/old/tides.json”: A file of the same name stands at data/old/tides.json.',
      'Write “data/tide.json”: data/tide.json is written almost the same.',
    ]);
  });
  it('are those of a folder that is written alike, with all of the rest below it', () => {
    const named = (path: string, more: Files = {}): [string, boolean][] => {
      const { findings } = scan({
        'scripts/bell.ts': 'export class Bell { @slot() table?: X; }',
        'scenes/a.json': scene(carrier('Bell', 'bell.ts', {}, { table: path })),
        'data/harbour/tides.json': {},
        'data/harbour/boats.json': {},
        ...more,
      });
      return findings[0].repairs.flatMap(({ title, sure, changes }) =>
        changes ? [[title, sure === true] as [string, boolean]] : [],
      );
    };
    expect(named('data/harbuor/boats.json')[0][0]).toBe('Write “data/harbour/boats.json”');
    expect(named('data/harbor/loft.json')).toEqual([]);
    const alike = { 'data/harbourt/boats.json': {} };
    expect(named('data/harbou/boats.json', alike).map(([, sure]) => sure)).not.toContain(true);
  });
  it('come first from the version history, then from what held the same', () => {
    const found = repairs({
      renamedTo: (path) => (path === 'data/tides.json' ? 'data/levels.json' : undefined),
      sameContent: (path) => (path === 'data/tides.json' ? ['data/tide.json'] : []),
    });
    expect(found.map(({ words }) => words)).toEqual([
      'The version history says that the file was renamed to data/levels.json.',
      'data/tide.json holds today, to the byte, what stood there in an earlier scan.',
      'A file of the same name stands at data/old/tides.json.',
    ]);
    expect(found[0].changes).toEqual([
      jasmine.objectContaining({
        is: 'replace',
        file: 'scenes/a.json',
        from: 'data/tides.json',
        to: 'data/levels.json',
      }),
    ]);
  });
  it('are written as the plan lets a path be written: from the file, by scheme, without ending, by name alone', () => {
    const gone = (reference: object, text: string): string[] => {
      const pieces = {
        objects: { at: '$..objects[*]', kind: 'object', parts: { at: '$.parts[*]', script: { field: '$.script' } } },
      };
      const plan = {
        files: {
          scenes: {
            match: 'scenes/*',
            as: 'scene',
            pieces,
            references: { files: { at: '$.table', by: 'path', ...reference } },
          },
          data: { match: 'data/**', as: 'data asset' },
        },
      };
      const found = { 'scenes/a.json': { table: text }, 'data/deep/tides.json': {} };
      return offered(found, 'broken/missing-file', plan).map((one) => one.split(':')[0]);
    };
    expect(gone({ from: 'file' }, '../tides.json')).toEqual(['Write “../data/deep/tides.json”']);
    expect(gone({ from: 'file', roots: ['data/deep'] }, 'tide.json')).toEqual(['Write “tides.json”']);
    expect(gone({ schemes: { 'data//': 'data' } }, 'data//tides.json')).toEqual(['Write “data//deep/tides.json”']);
    expect(gone({ roots: ['data'], endings: ['.json'] }, 'tide')).toEqual(['Write “deep/tides”']);
    expect(gone({ roots: ['data'], endings: ['.json'] }, 'other/tides.json')).toEqual(['Write “deep/tides.json”']);
  });
});

describe('candidates for an object', () => {
  beforeAll(useGrammars);

  it('that one line of code finds nowhere are names that stand there, or in the scene', () => {
    const files = (code: string, ...names: string[]): Files => ({
      'scripts/rope.ts': script('Rope', code),
      'scenes/a.json': scene(carrier('Line', 'rope.ts', { objects: names.map((name) => ({ name })) })),
      'scenes/b.json': scene({ name: 'Cleat' }),
    });
    expect(offered(files("this.child('Clet').show();", 'Cleat', 'Mast'), 'broken/missing-object')).toEqual([
      'Write “Cleat”: “Cleat” stands there and is written almost the same.',
    ]);
    expect(offered(files("stage.find('Clet').show();", 'Mast'), 'broken/missing-object')).toEqual([]);
    expect(offered(files("this.child('cleat').show();", 'Cleat', 'cleats'), 'broken/case-only')).toEqual([
      'Write “Cleat”: “Cleat” stands there and differs only in capitals.',
    ]);
  });
  it('that carry the same parts count only where the same line finds some, and carries any', () => {
    const boats = (one: object, two: object, three: object): Files => ({
      'scripts/rope.ts': script('Rope', "this.holder.child('Cleat').show();"),
      'scripts/mooring.ts': 'export class Mooring {}',
      'scripts/lamp.ts': 'export class Lamp {}',
      'scenes/a.json': scene(
        ...[one, two, three].map((child, at) => ({ name: `Boat ${at}`, objects: [child, carrier('Line', 'rope.ts')] })),
      ),
    });
    const [cleat, post] = [carrier('Cleat', 'mooring.ts'), carrier('Post', 'mooring.ts')];
    expect(offered(boats(cleat, cleat, post), 'broken/missing-object').join()).toContain('on 2 other objects.');
    expect(offered(boats({ name: 'Cleat' }, { name: 'Cleat' }, { name: 'Post' }), 'broken/missing-object')).toEqual([]);
    expect(offered(boats(cleat, cleat, carrier('Post', 'lamp.ts')), 'broken/missing-object')).toEqual([]);
  });
  it('known by their names are offered by their identities', () => {
    const files: Files = {
      'scripts/rope.ts': 'export class Rope { @slot() to!: X; }',
      'scenes/a.json': scene(carrier('Line', 'rope.ts', {}, { to: '#Cleat' }), { name: 'Cleat', id: 'c-1' }),
    };
    expect(offered(files, 'broken/missing-object')).toEqual(['Write “c-1”: a / Cleat has that as its name.']);
  });
  it('that fit the slot are offered while there are few of them', () => {
    const files = (count: number): Files => ({
      'scripts/cleat.ts': 'export class Cleat {}',
      'scripts/rope.ts': 'export class Rope { @slot() to!: Cleat; }',
      'scenes/a.json': scene(
        carrier('Line', 'rope.ts', {}, { to: '#gone' }),
        ...Array.from({ length: count }, (_, at) => carrier(`C${at}`, 'cleat.ts', { id: `other-${at}` })),
        carrier('Nameless', 'cleat.ts'),
      ),
    });
    expect(offered(files(3), 'broken/missing-object').length).toBe(3);
    expect(offered(files(4), 'broken/missing-object')).toEqual([]);
  });

  it('are identities of the same file written alike, those that fit the slot’s type first', () => {
    const files: Files = {
      'scripts/cleat.ts': 'export class Cleat {}',
      'scripts/rope.ts': 'export class Rope { @slot() to!: Cleat; }',
      'scenes/a.json': scene(
        carrier('Line', 'rope.ts', {}, { to: '#cleat-3' }),
        { name: 'A', id: 'cleat-1' },
        carrier('B', 'cleat.ts', { id: 'cleat-2' }),
      ),
      'scenes/b.json': scene({ name: 'C', id: 'cleat-33' }),
    };
    expect(offered(files, 'broken/missing-object')).toEqual([
      'Write “cleat-2”: “cleat-2” is written almost the same and fits the slot’s type.',
      'Write “cleat-1”: “cleat-1” is written almost the same.',
    ]);
  });
  it('renamed: one referred to by its identity holds, one by its name is offered under the new one', () => {
    const code = "stage.find('Quay Bel').show();";
    const files: Files = {
      'scripts/crane.ts': script('Crane', code, '@slot() bell!: X;'),
      'scenes/a.json': scene(carrier('Crane', 'crane.ts', {}, { bell: '#bell' }), { name: 'Quay Bell', id: 'bell' }),
    };
    const { findings } = scan(files);
    expect(findings.map(({ check }) => check)).toEqual(['broken/missing-object']);
    expect(offered(files, 'broken/missing-object')).toEqual([
      'Write “Quay Bell”: “Quay Bell” stands there and is written almost the same.',
    ]);
  });
  it('that the same code finds elsewhere are renamed, by their name or by the parts they carry', () => {
    const boat = (name: string, child: object): object => ({
      name,
      objects: [{ ...child }, carrier('Line', 'rope.ts')],
    });
    const files = (child: object): Files => ({
      'scripts/rope.ts': script('Rope', "this.holder.child('Cleat').part(Mooring);"),
      'scripts/mooring.ts': 'export class Mooring {}',
      'scenes/a.json': scene(boat('One', carrier('Cleat', 'mooring.ts')), boat('Two', child)),
    });
    expect(offered(files({ name: 'Cleats' }), 'broken/missing-object')).toEqual([
      'Call it “Cleat”: “Cleats” stands there and is written almost the same, and the same line of code finds “Cleat” on 1 other object.',
    ]);
    expect(offered(files(carrier('Bollard', 'mooring.ts')), 'broken/missing-object')).toEqual([
      'Call it “Cleat”: “Bollard” stands there and carries the same parts as the “Cleat” of other objects, and the same line of code finds “Cleat” on 1 other object.',
    ]);
    expect(offered(files({ name: 'Mast' }), 'broken/missing-object')).toEqual([]);
  });
});

describe('one cause', () => {
  beforeAll(useGrammars);

  it('is one finding with all its places: one missing target, one field, one line of code', () => {
    const told = (files: Files): Finding => {
      const { findings } = scan(files);
      expect(findings.length).toBe(1);
      return itemAt(findings, 0);
    };
    const twice = (slots: object): object => scene(carrier('A', 'b.ts', {}, slots), carrier('B', 'b.ts', {}, slots));
    const target = told({
      'scripts/b.ts': 'export class B { @slot() to?: X; }',
      'scenes/a.json': twice({ to: '#gone' }),
    });
    const field = told({ 'scripts/b.ts': 'export class B { @slot() to!: X; }', 'scenes/a.json': twice({}) });
    const line = told({ 'scripts/b.ts': script('B', "this.child('X').show();"), 'scenes/a.json': twice({}) });
    expect([target, field, line].map(({ places }) => places)).toEqual([2, 2, 2]);
    // The line of code is one: the second place is the other object.
    expect([target, field, line].map(({ files }) => files)).toEqual([
      ['scenes/a.json'],
      ['scenes/a.json'],
      ['scripts/b.ts', 'scenes/a.json'],
    ]);
    expect(new Set([target, field, line].map(({ fingerprint }) => fingerprint)).size).toBe(3);
  });

  it('is mended at all its places by one repair, and known by the same fingerprint when a place comes or goes', () => {
    const files = (...names: string[]): Files => ({
      'scripts/b.ts': 'export class B { @slot() table?: X; }',
      'data/tides.json': {},
      ...Object.fromEntries(
        names.map((name) => [`scenes/${name}`, scene(carrier('A', 'b.ts', {}, { table: 'data/tide.json' }))]),
      ),
    });
    const [finding, ...others] = scan(files('a.json', 'b.json', 'c.json')).findings;
    expect(others).toEqual([]);
    expect([finding.places, finding.files]).toEqual([3, ['scenes/a.json', 'scenes/b.json', 'scenes/c.json']]);
    expect(finding.evidence.map(({ file }) => file)).toEqual([
      'scenes/a.json',
      'scenes/a.json',
      'scenes/b.json',
      'scenes/c.json',
    ]);
    const [repair] = finding.repairs;
    expect(repair.changes!.map(({ file }) => file)).toEqual(['scenes/a.json', 'scenes/b.json', 'scenes/c.json']);
    expect(repair.mends).toBeUndefined();
    const [fewer] = scan(files('b.json')).findings;
    expect([fewer.places, fewer.fingerprint]).toEqual([1, finding.fingerprint]);
  });

  it('says which of its places a repair mends when it is not all of them', () => {
    const object = (name: string, child: string): object => ({
      ...carrier(name, 'mooring.ts'),
      objects: [{ name: child }],
    });
    const [finding] = scan({
      'scripts/mooring.ts': script('Mooring', "this.child('Cleat').show();"),
      'scenes/a.json': scene(object('East', 'Cleat'), object('North', 'Cleats'), object('South', 'Mast')),
    }).findings;
    expect(finding.places).toBe(2);
    expect(
      finding.repairs.filter(({ changes }) => changes).map(({ title, words, mends }) => [title, mends, words]),
    ).toEqual([
      [
        'Call it “Cleat”',
        1,
        '“Cleats” stands there and is written almost the same, and the same line of code finds “Cleat” on 1 other object. It mends one of the 2 places.',
      ],
    ]);
  });
});
