import { scanWith, told, useGrammars, type Files } from '../testing/project.js';

const PIECES = {
  objects: {
    at: '$..objects[*]',
    kind: 'object',
    id: '$.id',
    parts: { at: '$.parts[*]', script: { field: '$.script' } },
  },
};
const SCRIPTS = { ts: { match: '**/*.ts', language: 'typescript', moments: { start: ['begin'] } } };

describe('broken/wrong-place', () => {
  beforeAll(useGrammars);
  const check = 'broken/wrong-place';
  const tide = 'export class Tide { begin() {} }';
  const put = (files: Files, places: object[] = [], more: object = {}): string[] =>
    told(
      scanWith(files, {
        files: { scenes: { match: '**/*.json', as: 'scene', pieces: PIECES } },
        scripts: SCRIPTS,
        house: { places, ...more },
        calls: [
          { call: '*.attach($type)', means: 'attach' },
          { call: '*.child($name)', means: 'child' },
        ],
      }),
      check,
    );
  const carried = (script: string): object => ({
    objects: [{ name: 'A', parts: [{ script }], objects: [{ name: 'Hull' }] }],
  });

  it('fires on a script that stands where its kind does not run, and gives the house’s reason', () => {
    const rule = { scripts: '**/*.shore.ts', in: 'shore/**', because: 'only shore scripts run ashore' };
    expect(put({ 'boats/tide.shore.ts': tide, 'a.json': carried('boats/tide.shore.ts') }, [rule])).toEqual([
      'boats/tide.shore.ts is kept where its kind does not run; it belongs in shore/** (only shore scripts run ashore) @ boats/tide.shore.ts:1',
    ]);
    expect(put({ 'shore/tide.shore.ts': tide, 'a.json': carried('shore/tide.shore.ts') }, [rule])).toEqual([]);
  });
  it('fires on an object that carries a script whose kind does not run there', () => {
    const rule = { scripts: '**/*.shore.ts', carriedBy: 'shore/*.json' };
    const files = {
      'tide.shore.ts': tide,
      'shore/a.json': carried('tide.shore.ts'),
      'deep/b.json': carried('tide.shore.ts'),
    };
    expect(put(files, [rule])).toEqual(['b / A carries tide.shore.ts, whose kind does not run there @ deep/b.json:7']);
  });
  it('notes a script that nothing attaches', () => {
    const others = { 'bell.ts': 'class Bell { begin() {} }', 'a.json': carried('bell.ts') };
    expect(put({ 'tide.ts': tide, ...others })).toEqual([
      'Tide is attached to nothing: no object carries it, and no script extends it or takes it in @ tide.ts:1',
    ]);
  });

  const silent: [string, Files, object?][] = [
    [
      'objects carry only what descends from something else',
      { 'tide.ts': tide, 'bell.ts': 'class Bell extends Behaviour {}', 'a.json': carried('bell.ts') },
    ],
    ['an object carries it', { 'tide.ts': tide, 'a.json': carried('tide.ts') }],
    [
      'another type extends it',
      { 'tide.ts': tide, 'bore.ts': 'class Bore extends Tide { begin() {} }', 'a.json': carried('bore.ts') },
    ],
    ['another script takes it in', { 'tide.ts': tide, 'a.ts': "import { Tide } from './tide';" }],
    [
      'code attaches it',
      {
        'tide.ts': tide,
        'a.ts': "class A { begin() { this.child('Hull').attach(Tide); } }",
        'a.json': carried('a.ts'),
      },
    ],
    ['a text names its file', { 'tide.ts': tide, 'a.ts': "run('tide.ts');" }],
    ['the engine calls none of its functions', { 'tide.ts': 'export class Tide { rise() {} }' }],
    ['the house does not mind', { 'tide.ts': tide }, { unattached: 'fine' }],
  ];
  for (const [when, files, more] of silent)
    it(`is silent when ${when}`, () => expect(put(files, [], more)).toEqual([]));
});

describe('broken/unlisted-scene', () => {
  beforeAll(useGrammars);
  const check = 'broken/unlisted-scene';
  const plan = {
    files: {
      scenes: { match: 'scenes/*.json', as: 'scene', id: '$.id', pieces: PIECES },
      list: {
        match: 'build.json',
        as: 'data asset',
        references: {
          scenes: { at: '$.scenes[*]', by: 'path', role: 'build list', verb: 'loads' },
          first: { at: '$.first', by: 'path', role: 'start scene', verb: 'loads' },
        },
      },
    },
    scripts: SCRIPTS,
    calls: [{ call: 'enter($scene)', means: 'load', target: { by: 'id', kinds: 'scene' } }],
  };
  const enter = 'class Door { open() { enter("attic"); } }';
  const scenes = { 'scenes/quay.json': { id: 'quay' }, 'scenes/attic.json': { id: 'attic' } };
  const build = (scenesListed: string[], first = 'scenes/quay.json', house: object = {}, code = enter): string[] =>
    told(
      scanWith({ ...scenes, 'door.ts': code, 'build.json': { first, scenes: scenesListed } }, { ...plan, house }),
      check,
    );
  const BOTH = ['scenes/quay.json', 'scenes/attic.json'];

  it('fires when a scene is loaded that is not listed', () => {
    expect(build(['scenes/quay.json'])).toEqual([
      'Door loads attic, which is not in the build list build.json @ door.ts:1',
    ]);
  });
  it('fires when a listed scene does not exist', () => {
    expect(build([...BOTH, 'scenes/atic.json'])).toEqual([
      'The build list names scenes/atic.json, and there is no such scene @ build.json:6',
    ]);
  });
  it('fires when the start scene is not set, not there, or not the one that is meant', () => {
    expect(build(BOTH, '')).toEqual(['build.json does not say which scene play begins with @ build.json:1']);
    expect(build(BOTH, 'scenes/quai.json')).toEqual([
      'The start scene names scenes/quai.json, and there is no such scene @ build.json:2',
    ]);
    expect(build(BOTH, undefined, { startScene: 'attic' })).toEqual([
      'Play begins with quay; the house means it to begin with attic @ build.json:2',
    ]);
  });
  it('tells each scene that is not listed once, with how many load it', () => {
    const more = {
      ...scenes,
      'scenes/loft.json': { id: 'loft' },
      'build.json': { first: 'scenes/quay.json', scenes: ['scenes/quay.json'] },
    };
    const code = 'class Door { open() { enter("attic"); enter("loft"); } close() { enter("attic"); } }';
    expect(told(scanWith({ ...more, 'door.ts': code }, plan), check)).toEqual([
      'Door loads attic, which is not in the build list build.json (and 1 more load it) @ door.ts:1',
      'Door loads loft, which is not in the build list build.json @ door.ts:1',
    ]);
  });
  it('is silent on what is loaded and is no scene', () => {
    const calls = [{ call: 'enter($scene)', means: 'load', target: { by: 'path' } }];
    const files = { ...scenes, 'door.ts': 'class Door { open() { enter("other.json"); } }', 'other.json': {} };
    const listed = { 'build.json': { first: 'scenes/quay.json', scenes: ['scenes/quay.json'] } };
    expect(told(scanWith({ ...files, ...listed }, { ...plan, calls }), check)).toEqual([]);
  });
  it('is silent when all is listed and begins as meant', () => {
    expect(build(BOTH)).toEqual([]);
    expect(build(BOTH, undefined, { startScene: 'scenes/quay.json' })).toEqual([]);
  });
  it('is silent on scenes that nothing loads, and without a list', () => {
    expect(build(['scenes/quay.json'], undefined, {}, 'class Door {}')).toEqual([]);
    expect(told(scanWith({ ...scenes, 'door.ts': enter }, plan), check)).toEqual([]);
  });
});

describe('broken/missing-package, by version', () => {
  const plan = (house: object = {}): object => ({
    files: {
      parcels: {
        match: '**/parcel.json',
        as: 'package',
        id: '$.id',
        version: '$.version',
        needs: { at: '$.needs[*]', id: '$.id', version: '$.version' },
      },
    },
    house,
  });
  const parcels = (version: string, wanted: string, house?: object): string[] =>
    told(
      scanWith(
        {
          'a/parcel.json': { id: 'flight', version: '1.0.0', needs: [{ id: 'rivers', version: wanted }] },
          'b/parcel.json': { id: 'rivers', version },
        },
        plan(house),
      ),
      'broken/missing-package',
    );

  it('fires on a version that does not do', () => {
    expect(parcels('1.4.2', '>=2.0')).toEqual([
      'parcel needs rivers in version >=2.0; the project has 1.4.2 @ a/parcel.json:6',
    ]);
    expect(parcels('1.4', '1.5').length).toBe(1);
  });
  it('is silent on versions that do, and on those that are no versions', () => {
    for (const [has, wanted] of [
      ['2.1.0', '^2.0.0'],
      ['1.4', '1.2'],
      ['spring', 'spring'],
      ['1.0', ''],
      ['', '>=3'],
    ])
      expect(parcels(has, wanted)).withContext(`${has} for ${wanted}`).toEqual([]);
  });
  it('fires on packages that the house asks for', () => {
    expect(
      parcels('1.0', '', { packages: [{ id: 'rivers', version: '>=2' }, { id: 'tides' }, { id: 'flight' }] }),
    ).toEqual([
      'The house asks for the package tides, which the project does not have @ a/parcel.json:2',
      'The house asks for rivers in version >=2; the project has 1.0 @ b/parcel.json:2',
    ]);
  });
});

describe('broken/loop', () => {
  beforeAll(useGrammars);
  const check = 'broken/loop';
  const row = { at: '$.rows[*]', kind: 'record', id: '$.id', extends: { field: '$.like' } };
  const object = { ...PIECES.objects, madeFrom: { field: '$.prefab' } };
  const held = { at: '$.all[*]', kind: 'object', id: '$.id', parent: { field: '$.in', by: 'id' } };
  const plan = {
    files: {
      rows: { match: 'data/*', as: 'data asset', pieces: { row } },
      prefabs: { match: 'prefabs/*', as: 'prefab', pieces: { object } },
      scenes: { match: 'scenes/*', as: 'scene', pieces: { held } },
      parcels: { match: '*/parcel.json', as: 'package', id: '$.id', needs: { at: '$.needs[*]', id: '$' } },
    },
    scripts: SCRIPTS,
  };
  const circles = (files: Files): string[] => told(scanWith(files, plan), check);

  it('fires on types and records that descend from themselves', () => {
    expect(circles({ 'a.ts': 'class A extends B {} class B extends C {} class C extends A {}' })).toEqual([
      'A descends from itself, through B, C @ a.ts:1',
    ]);
    expect(
      circles({
        'data/d.json': {
          rows: [
            { name: 'x', id: 'x', like: 'y' },
            { name: 'y', id: 'y', like: 'x' },
          ],
        },
      }).length,
    ).toBe(1);
  });
  it('fires on prefabs that hold themselves', () => {
    const prefab = (other: string): object => ({ objects: [{ name: 'In', prefab: `prefabs/${other}.json` }] });
    expect(circles({ 'prefabs/a.json': prefab('b'), 'prefabs/b.json': prefab('a') })).toEqual([
      'a holds itself, through b @ prefabs/a.json:5',
    ]);
    expect(circles({ 'prefabs/a.json': prefab('a') })).toEqual(['a holds itself @ prefabs/a.json:5']);
  });
  it('fires on objects that are their own holders', () => {
    const all = [
      { name: 'Hull', id: 'hull', in: 'mast' },
      { name: 'Mast', id: 'mast', in: 'hull' },
    ];
    expect(circles({ 'scenes/a.json': { all } })).toEqual([
      'Mast names hull as its holder, which stands below it @ scenes/a.json:9',
    ]);
  });
  it('fires on packages that need each other, and notes scripts that take each other in', () => {
    const found = scanWith(
      {
        'p/parcel.json': { id: 'p', needs: ['q'] },
        'q/parcel.json': { id: 'q', needs: ['p'] },
        'a.ts': "import { b } from './b';",
        'b.ts': "import { a } from './a.js';",
      },
      plan,
    ).findings.filter((finding) => finding.check === check);
    expect(found.map(({ severity }) => severity)).toEqual(['error', 'note']);
  });
  it('is silent on ways that meet and do not close', () => {
    expect(circles({ 'a.ts': 'class A extends C {} class B extends C {} class C {}' })).toEqual([]);
    const leaf = { objects: [{ name: 'In', prefab: 'prefabs/c.json' }] };
    expect(
      circles({ 'prefabs/a.json': leaf, 'prefabs/b.json': leaf, 'prefabs/c.json': { objects: [{ name: 'C' }] } }),
    ).toEqual([]);
    expect(circles({ 'a.ts': "import './b';", 'b.ts': "import './c';", 'c.ts': '' })).toEqual([]);
  });
});

describe('broken/unreadable', () => {
  beforeAll(useGrammars);
  const plan = { files: { all: { match: '*.json', as: 'data asset' } }, scripts: SCRIPTS };
  const faults = (files: Files): string[] => told(scanWith(files, plan), 'broken/unreadable');

  it('fires once for each file, at the first fault', () => {
    expect(faults({ 'a.json': '{\n "a": 1\n "b": 2\n "c": 3\n}' })).toEqual([
      'a.json cannot be read to its end: comma expected (and 1 more) @ a.json:3',
    ]);
    expect(faults({ 'a.ts': 'class A { begin( { }' }).length).toBe(1);
  });
  it('fires once for all files of a folder of which hardly any can be read, as a warning', () => {
    const folder = (bad: number, good: number): Files =>
      Object.fromEntries([
        ...Array.from({ length: bad }, (_, at): [string, string] => [`b${at}.json`, '{ "a": 1 "b": 2 }']),
        ...Array.from({ length: good }, (_, at): [string, string] => [`g${at}.json`, '{}']),
      ]);
    expect(faults(folder(5, 1))).toEqual([
      'Hardly any of the files .json in the project can be read to their end, 5 cannot, as b0.json: comma expected @ b0.json:1',
    ]);
    expect(scanWith(folder(5, 1), plan).findings.map(({ severity, places }) => [severity, places])).toEqual([
      ['warning', 5],
    ]);
    expect(faults(folder(5, 2)).length).toBe(5);
    const skins = Object.fromEntries([1, 2, 3, 4, 5].map((at) => [`skins/${at}/skin.json`, '{ "a": 1 "b": 2 }']));
    const wide = { files: { all: { match: '**/*.json', as: 'data asset' } }, scripts: SCRIPTS };
    expect(told(scanWith({ ...skins, 'other.json': '[' }, wide), 'broken/unreadable').length).toBe(2);
    expect(faults(folder(4, 0)).length).toBe(4);
  });
  it('is a warning on a file of which most lines do not keep to the format', () => {
    const ini = { files: { all: { match: '*.ini', as: 'data asset' } }, scripts: SCRIPTS };
    const severities = (lines: string[]): string[] =>
      scanWith({ 'a.ini': lines.join('\n') }, ini).findings.map(({ severity, check }) => `${severity} ${check}`);
    const names = ['Tender', 'Barge', 'Punt', 'Raft', 'Ferry'];
    expect(severities(names)).toEqual(['warning broken/unreadable']);
    expect(told(scanWith({ 'a.ini': names.join('\n') }, ini), 'broken/unreadable')[0]).toContain(
      'a.ini is no file of the format that its rule reads it by',
    );
    expect(severities([...names, ...names.map((name) => `${name} = 1`), 'length = 1'])).toEqual([
      'warning broken/unreadable',
    ]);
    expect(severities([...names.map((name) => `${name} = 1`), 'length = 1', ...names])).toEqual([
      'error broken/unreadable',
    ]);
  });
  it('is silent on files that can be read, and on those that nothing reads', () => {
    expect(faults({ 'a.json': '{ "a": 1 } // noon', 'a.ts': 'class A {}', 'a.txt': '{' })).toEqual([]);
  });
});

describe('broken/unknown-label, for what lists declare', () => {
  beforeAll(useGrammars);
  const plan = {
    files: {
      keys: { match: 'keys.json', as: 'data asset', pieces: { keys: { at: '$[*]', kind: 'input action' } } },
      labels: { match: 'labels.json', as: 'data asset', pieces: { labels: { at: '$[*]', kind: 'label', named: '$' } } },
      hints: {
        match: 'hints/*',
        as: 'data asset',
        references: { keys: { at: '$.text', by: 'name', kinds: 'input action', every: true, pattern: '\\{(\\w+)\\}' } },
      },
    },
    scripts: SCRIPTS,
    calls: [
      { call: 'pressed($action)', means: 'refer', target: { by: 'name', kinds: 'input action' } },
      { call: 'labelled($label)', means: 'find label' },
      { call: '*.carries($label)', means: 'refer', target: { by: 'label' } },
    ],
  };
  const lists = { 'keys.json': [{ name: 'wind' }, { name: 'ring' }], 'labels.json': ['boat'] };
  const told2 = (files: Files): string[] => told(scanWith({ ...lists, ...files }, plan), 'broken/unknown-label');

  it('fires on a placeholder in a text for an action that does not exist', () => {
    expect(told2({ 'hints/a.json': { text: 'Press {wind}, then {wring}.' } })).toEqual([
      'a asks for the input action wring; there is ring, but no such input action @ hints/a.json:2',
    ]);
  });
  it('fires on an action that code asks for and no list declares', () => {
    expect(told2({ 'a.ts': "class A { begin() { if (pressed('hoist')) go(); } }" })).toEqual([
      'A asks for the input action hoist; nothing declares it @ a.ts:1',
    ]);
  });
  it('fires on a label that is looked for or compared and that nothing carries, and can declare it', () => {
    const found = scanWith(
      { ...lists, 'a.ts': "class A { go(x) { labelled('float'); x.carries('mooring'); } }" },
      plan,
    ).findings;
    expect(found.map(({ check }) => check)).toEqual(['broken/unknown-label', 'broken/unknown-label']);
    expect(found[0].repairs.find(({ title }) => title === 'Declare “float”')!.changes).toEqual([
      { is: 'add item', file: 'labels.json', list: '$', to: 'float' },
    ]);
  });
  it('is silent on what is declared, and on names made at run time', () => {
    expect(
      told2({
        'a.ts': "class A { begin() { pressed('wind'); labelled('boat'); pressed(key); labelled(`b${n}`); } }",
      }),
    ).toEqual([]);
    expect(told2({ 'hints/a.json': { text: 'Press {wind}.' } })).toEqual([]);
  });
});
