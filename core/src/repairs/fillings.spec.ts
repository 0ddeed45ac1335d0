import { analyse } from '../analyse.js';
import { carrier, factsOf, planOf, scene, useGrammars, type Files } from '../testing/project.js';
import { applyEdits } from './change.js';
import { editsFor } from './write.js';

/** What the first empty slot could be filled with: title, and the line that changes. */
function offered(files: Files): string[] {
  const plan = planOf();
  const { facts, others } = factsOf(files, plan);
  const finding = analyse(facts, others, plan).findings.find(({ check }) => check === 'broken/empty-slot');
  return (finding?.repairs ?? []).flatMap(({ title, changes }) => {
    if (!changes) return [];
    const [{ file }] = changes;
    const content = files[file];
    const text = typeof content === 'string' ? content : JSON.stringify(content, null, 1);
    const after = applyEdits(text, editsFor(file, text, 'json', changes)).split('\n');
    // Lines that were not there before, each counted once.
    const before = text.split('\n');
    const added = after.filter((line) => {
      const at = before.indexOf(line);
      if (at >= 0) before.splice(at, 1);
      return at < 0;
    });
    return [`${title}: ${added.map((line) => line.trim()).join(' ')}`];
  });
}

const BELL = {
  'scripts/bell.ts': 'export class Bell { @slot() table!: Table; }',
  'data/tides.json': {},
  'data/tolls.json': {},
};

describe('what an empty slot could be filled with', () => {
  beforeAll(useGrammars);

  it('is what its prefab says, once the empty value is taken out', () => {
    const files = {
      ...BELL,
      'prefabs/bell.json': { objects: [carrier('Bell', 'bell.ts', {}, { table: 'data/tides.json' })] },
      'scenes/a.json': scene({
        name: 'A',
        prefab: 'prefabs/bell.json',
        parts: [{ script: 'scripts/bell.ts', slots: { table: null } }],
      }),
    };
    expect(offered(files)).toEqual(['Take what the prefab says: "slots": {}']);
  });
  it('is what the same slot of others holds, the most frequent first', () => {
    const other = (name: string, table: string): object =>
      carrier(name, 'bell.ts', {}, { table: `data/${table}.json` });
    const files = {
      ...BELL,
      'scenes/a.json': scene(
        carrier('A', 'bell.ts', {}, { table: null }),
        other('B', 'tolls'),
        other('C', 'tides'),
        other('D', 'tides'),
      ),
    };
    expect(offered(files)).toEqual([
      'Fill in “data/tides.json”: "table": "data/tides.json"',
      'Fill in “data/tolls.json”: "table": "data/tolls.json"',
    ]);
  });
  it('is nothing that stands in another slot, or in a slot of the same name of another script', () => {
    const files = {
      ...BELL,
      'scripts/bell.ts': 'export class Bell { @slot() table!: Table; @slot() other?: Table; }',
      'scripts/lamp.ts': 'export class Lamp { @slot() table?: Table; }',
      'scenes/a.json': scene(
        carrier('A', 'bell.ts', {}, { table: null, other: 'data/tides.json' }),
        carrier('B', 'bell.ts', {}, { other: 'data/tides.json', table: '' }),
        carrier('C', 'lamp.ts', {}, { table: 'data/tolls.json' }),
      ),
    };
    expect(offered(files)).toEqual([]);
  });
  it('is nothing of the prefab’s when that says something of another slot, or nothing either', () => {
    const files = (slots: object): Files => ({
      ...BELL,
      'scripts/bell.ts': 'export class Bell { @slot() table!: Table; @slot() other?: Table; }',
      'prefabs/bell.json': { objects: [carrier('Bell', 'bell.ts', {}, slots)] },
      'scenes/a.json': scene({
        name: 'A',
        prefab: 'prefabs/bell.json',
        parts: [{ script: 'scripts/bell.ts', slots: { table: null, other: 'data/tides.json' } }],
      }),
    });
    expect(offered(files({ other: 'data/tolls.json' }))).toEqual([]);
    expect(offered(files({ table: '' }))).toEqual([]);
    expect(offered(files({ table: 'data/tolls.json', other: '' }))).toEqual(['Take what the prefab says: ']);
  });
  it('is the object of the file that the slot’s type suits, and nothing when there are many', () => {
    const quay = (count: number): Files => ({
      'scripts/cleat.ts': 'export class Cleat {}',
      'scripts/bell.ts': 'export class Bell { @slot() to!: Cleat; }',
      'scenes/a.json': scene(
        carrier('A', 'bell.ts', {}, { to: '' }),
        ...Array.from({ length: count }, (_, n) => carrier(`Cleat ${n}`, 'cleat.ts', { id: `c${n}` })),
        { name: 'Post', id: 'post' },
      ),
    });
    expect(offered(quay(1))).toEqual(['Fill in Cleat 0: "to": "#c0"']);
    expect(offered(quay(4))).toEqual([]);
  });
  it('is nothing where nothing is known to fit', () => {
    expect(offered({ ...BELL, 'scenes/a.json': scene(carrier('A', 'bell.ts')) })).toEqual([]);
  });
});
