import type { Finding } from '../model/finding.js';
import {
  carrier,
  line,
  PLAN,
  scan,
  scanWith,
  scene,
  script,
  told,
  useGrammars,
  type Files,
} from '../testing/project.js';

/** A look-up in `begin` of a script on Line, which stands two levels below Tender. */
function lineUnder(code: string, tender: object[] = [], rest = ''): Files {
  return {
    'scripts/rope.ts': script('Rope', code, rest),
    'scenes/a.json': scene({
      name: 'Tender',
      objects: [...tender, { name: 'Stern', objects: [carrier('Line', 'rope.ts', { objects: [{ name: 'Knot' }] })] }],
    }),
  };
}

const findings = (check: string, files: Files): string[] => told(scan(files), check);

describe('broken/missing-object', () => {
  beforeAll(useGrammars);
  const check = 'broken/missing-object';

  it('fires when a child is not there, and says on which object', () => {
    expect(findings(check, lineUnder("this.holder.holder.child('Cleat').show();"))).toEqual([
      'Rope on a / Tender / Stern / Line looks for a child called Cleat, two steps up; Tender has no such child @ scripts/rope.ts:4',
    ]);
  });
  it('fires when nothing stands above', () => {
    expect(findings(check, lineUnder('this.holder.holder.holder.show();'))).toEqual([
      'Rope on a / Tender / Stern / Line steps up once more than its tree goes: nothing stands above it @ scripts/rope.ts:4',
    ]);
  });
  it('fires when the scene has no object of that name, though another has', () => {
    const files = { ...lineUnder("stage.find('Clock').show();"), 'scenes/b.json': scene({ name: 'Clock' }) };
    expect(findings(check, files)).toEqual([
      'Rope on a / Tender / Stern / Line looks for an object named Clock; its scene has none @ scripts/rope.ts:4',
    ]);
  });
  it('offers a slot only where something of the name is to be had', () => {
    const ways = (files: Files): string[] =>
      scan(files)
        .findings.filter((one) => one.check === check)[0]
        .repairs.map(({ title }) => title);
    const files = lineUnder("stage.find('Clock').show();");
    expect(ways(files)).toEqual(['Put it there, or look for another']);
    expect(ways({ ...files, 'scenes/b.json': scene({ name: 'Clock' }) })).toEqual(['Fill a slot instead']);
  });
  it('fires on a path of names where it leaves the tree', () => {
    expect(findings(check, lineUnder("this.way('../../Hull/Pin').show();", [{ name: 'Hull' }]))[0]).toContain(
      'looks for a child called Pin, two steps up; Hull has no such child',
    );
  });
  it('fires on an identity that nothing has', () => {
    const files: Files = {
      'scripts/b.ts': 'export class B { @slot() a?: X; }',
      'scenes/a.json': scene(carrier('Boat', 'b.ts', {}, { a: '#nine' })),
    };
    expect(findings(check, files)).toEqual([
      'a / Boat / B refers to nine in a; the project has nothing of that name or identity @ scenes/a.json:9',
    ]);
  });
  it('counts copies of a prefab once', () => {
    const files: Files = {
      'scripts/rope.ts': script('Rope', "this.child('Pin').show();"),
      'prefabs/line.json': { objects: [carrier('Line', 'rope.ts')] },
      'scenes/a.json': scene(...['One', 'Two', 'Three'].map((name) => ({ name, prefab: 'prefabs/line.json' }))),
    };
    const found = scan(files).findings.filter((finding) => finding.check === check);
    expect(found.map((finding) => finding.places)).toEqual([3]);
    const nested = scan({
      ...files,
      'prefabs/boat.json': { objects: [{ name: 'Boat', objects: [{ name: 'Line', prefab: 'prefabs/line.json' }] }] },
      'scenes/a.json': scene(...['One', 'Two'].map((name) => ({ name, prefab: 'prefabs/boat.json' }))),
    });
    expect(nested.findings.filter((finding) => finding.check === check).map((finding) => finding.places)).toEqual([2]);
  });

  const silent: [string, Files][] = [
    ['the child is there', lineUnder("this.holder.holder.child('Cleat').show();", [{ name: 'Cleat' }])],
    ['the code asks before use', lineUnder("const c = this.child('Cleat'); if (c) c.show();")],
    ['the name is made at run time', lineUnder('this.child(this.nick).show();')],
    ['the engine makes it', lineUnder("this.child('Joint').show();")],
    [
      'the object is spawned by a script',
      {
        ...lineUnder("this.child('Crate').show(); spawnFrom('prefabs/crate.json');"),
        'prefabs/crate.json': { objects: [{ name: 'Crate' }] },
      },
    ],
    ['the script hangs on nothing', { 'scripts/rope.ts': script('Rope', "this.child('X').show();") }],
    [
      'it stands in a prefab that no scene holds, and looks above it',
      {
        'scripts/rope.ts': script('Rope', "this.holder.child('X').show();"),
        'prefabs/l.json': { objects: [carrier('Line', 'rope.ts')] },
      },
    ],
    [
      'the prefab it would stand in is not known',
      {
        'scripts/rope.ts': script('Rope', "this.child('X').show();"),
        'scenes/a.json': scene(carrier('Line', 'rope.ts', { prefab: 'prefabs/gone.json' })),
      },
    ],
    [
      'one of two values finds it',
      lineUnder("let b = this; if (this.big) b = this.holder.holder; b.child('Cleat').show();", [{ name: 'Cleat' }]),
    ],
    ['the receiver is something the map does not know', lineUnder("make().child('Cleat').show();")],
  ];
  for (const [when, files] of silent) it(`is silent when ${when}`, () => expect(findings(check, files)).toEqual([]));
});

describe('code that may not run on every object', () => {
  beforeAll(useGrammars);
  const vessel = (call: string): Files => ({
    'scripts/vessel.ts': `export class Vessel { begin() { ${call} } lower() { this.child('Sail').lower(); } }`,
    'scenes/a.json': scene(
      carrier('Sloop', 'vessel.ts', { objects: [{ name: 'Sail' }] }),
      carrier('Barge', 'vessel.ts'),
    ),
  });

  it('is no fault where it fails, as long as nothing is known to call it and it holds elsewhere', () => {
    expect(scan(vessel('')).findings).toEqual([]);
  });
  it('is one as soon as a function that surely runs calls it', () => {
    expect(findings('broken/missing-object', vessel('this.lower();')).length).toBe(1);
  });
  it('is one when it fails on every object', () => {
    const files = vessel('');
    expect(
      findings('broken/missing-object', { ...files, 'scenes/a.json': scene(carrier('Barge', 'vessel.ts')) }).length,
    ).toBe(1);
  });
});

describe('broken/missing-file', () => {
  beforeAll(useGrammars);
  const check = 'broken/missing-file';
  const slot = (value: string): Files => ({
    'scripts/b.ts': 'export class B { @slot() a?: X; }',
    'scenes/a.json': scene(carrier('Boat', 'b.ts', {}, { a: value })),
  });

  it('fires on a script that is not there and names the file that is', () => {
    const files: Files = { 'scripts/bells/bell.ts': '', 'scenes/a.json': scene(carrier('Bell', 'bell.ts')) };
    expect(findings(check, files)).toEqual([
      'a / Bell names the file scripts/bell.ts; it does not exist, but scripts/bells/bell.ts does @ scenes/a.json:7',
    ]);
  });
  it('fires on a slot, a prefab, and a path in code', () => {
    expect(findings(check, slot('data/gone.json'))).toEqual([
      'a / Boat / B names the file data/gone.json in a; it does not exist @ scenes/a.json:9',
    ]);
    expect(findings(check, { 'scenes/a.json': scene({ name: 'Boat', prefab: 'prefabs/gone.json' }) }).length).toBe(1);
    expect(
      findings(check, { 'scripts/c.ts': script('C', "spawnFrom('prefabs/gone.json'); table('data/gone.json');") })
        .length,
    ).toBe(2);
  });

  it('names the file that stands there with another ending', () => {
    const files: Files = { ...slot('data/gate.json'), 'data/gate.toml': '', 'other/gate.ini': '' };
    expect(findings(check, files)).toEqual([
      'a / Boat / B names the file data/gate.json in a; it does not exist, but data/gate.toml does @ scenes/a.json:9',
    ]);
  });

  it('is silent on a path through a file: nobody looked into that', () => {
    expect(findings(check, { ...slot('data/box.json/gate.json'), 'data/box.json': {} })).toEqual([]);
    expect(findings(check, { ...slot('data/boxes/gate.json'), 'data/box.json': {} }).length).toBe(1);
  });

  describe('of several files that stand together elsewhere', () => {
    const NAMES = ['hemp', 'wire', 'chain', 'line', 'cable'];
    const moved = (begins: string, folder: string, count = NAMES.length): Files => ({
      'scripts/b.ts': 'export class B { @slot() a?: X; }',
      ...Object.fromEntries(NAMES.slice(0, count).map((name) => [`${folder}/ropes/${name}.json`, {}])),
      'scenes/a.json': scene(
        ...NAMES.slice(0, count).map((name) => carrier(name, 'b.ts', {}, { a: `${begins}/ropes/${name}.json` })),
      ),
    });
    const told = (files: Files): Finding[] => scan(files).findings.filter((one) => one.check === check);

    it('tells them once, and offers to write all paths anew', () => {
      const [finding, ...others] = told(moved('data/old', 'data/store'));
      expect(others).toEqual([]);
      expect([line(finding), finding.severity, finding.places]).toEqual([
        '5 files are named below data/old, and none is there; all of them stand in data/store @ scenes/a.json:9',
        'error',
        5,
      ]);
      const [anew] = finding.repairs.filter(({ changes }) => changes);
      expect(anew.sure).toBeUndefined();
      expect(anew.changes!.map((change) => ('to' in change ? change.to : ''))).toEqual(
        NAMES.map((name) => `data/store/ropes/${name}.json`),
      );
    });
    it('takes a beginning that is no folder for something that the plan leaves out', () => {
      const [finding, ...others] = told(moved('data/{side}', 'data/store'));
      expect([others, finding.severity, finding.places]).toEqual([[], 'warning', 5]);
      expect(finding.repairs[0].words).toContain('what “data/{side}” stands for');
    });
    it('writes no path that is put together of several texts', () => {
      const { findings } = scanWith(
        {
          'signs.json': { signs: NAMES.map((name) => ({ name })) },
          ...Object.fromEntries(NAMES.map((name) => [`data/store/${name}.svg`, ''])),
        },
        {
          files: {
            signs: {
              match: 'signs.json',
              as: 'data asset',
              references: {
                pictures: {
                  at: '$.signs[*]',
                  by: 'path',
                  text: { join: [{ text: 'data/old/' }, '$.name', { text: '.svg' }] },
                },
              },
            },
          },
        },
      );
      expect(findings.map((one) => [one.check, one.places, one.repairs.some(({ changes }) => changes)])).toEqual([
        [check, 5, false],
      ]);
    });
    it('tells few of them one by one', () => {
      expect(told(moved('data/old', 'data/store', 3)).length).toBe(3);
    });
    it('tells those apart that stand in different folders', () => {
      const files = moved('data/old', 'data/store');
      delete files['data/store/ropes/hemp.json'];
      delete files['data/store/ropes/wire.json'];
      const found = told({ ...files, 'data/loft/ropes/hemp.json': {}, 'data/loft/ropes/wire.json': {} });
      expect(found.length).toBe(5);
    });
  });

  const silent: [string, Files][] = [
    ['the file is there', { ...slot('data/ropes.json'), 'data/ropes.json': {} }],
    [
      'the file is there though nothing reads it',
      { 'scripts/c.ts': script('C', "table('notes/log.txt');"), 'notes/log.txt': '' },
    ],
    ['the slot is empty', slot('')],
    ['the text is no path', slot('hemp')],
    ['the engine provides the file', { 'scripts/c.ts': script('C', "table('engine/fonts.json');") }],
    ['the path is made at run time', { 'scripts/c.ts': script('C', 'table(`data/${this.name}.json`);') }],
  ];
  for (const [when, files] of silent) it(`is silent when ${when}`, () => expect(findings(check, files)).toEqual([]));
});

describe('broken/missing-part', () => {
  beforeAll(useGrammars);
  const check = 'broken/missing-part';
  const asks = (code: string, parts: object[], children: object[] = []): Files => ({
    'scripts/engine.ts': 'export class Engine {}',
    'scripts/steam.ts': 'export class Steam extends Engine {}',
    'scripts/rope.ts': script('Rope', code),
    'scenes/a.json': scene({ name: 'Tender', parts, objects: [...children, carrier('Line', 'rope.ts')] }),
  });
  const part = (file: string): object => ({ script: `scripts/${file}` });

  it('fires when the object carries something else', () => {
    expect(findings(check, asks('this.holder.part(Engine).start();', [{ type: 'Body' }]))).toEqual([
      'Rope on a / Tender / Line asks Tender for its part Engine; it carries only Body @ scripts/rope.ts:4',
    ]);
  });
  it('offers to attach it only to what may carry parts', () => {
    const ways = (mode: string): string[] =>
      scanWith(
        {
          ...asks('this.holder.part(Engine).start();', [{ type: 'Body' }]),
          'scenes/a.json': scene({
            name: 'Tender',
            mode,
            parts: [{ type: 'Body' }],
            objects: [carrier('Line', 'rope.ts')],
          }),
        },
        {
          ...PLAN,
          files: {
            ...PLAN.files,
            scenes: {
              ...PLAN.files.scenes,
              pieces: {
                objects: { ...PLAN.files.scenes.pieces.objects, barred: { field: '$.mode', is: 'scenery' } },
              },
            },
          },
        },
      )
        .findings.filter((one) => one.check === check)
        .flatMap((one) => one.repairs.map(({ title }) => title));
    expect(ways('moves')).toEqual(['Attach Engine']);
    expect(ways('scenery')).toEqual(['Ask another object']);
  });
  it('fires when the part is on a child instead, and says so', () => {
    const files = asks('this.holder.part(Engine).start();', [], [{ name: 'Room', parts: [part('engine.ts')] }]);
    expect(findings(check, files)[0]).toContain('that part is on a / Tender / Room instead');
  });
  it('fires on its own object', () => {
    expect(findings(check, asks('this.part(Engine).start();', []))[0]).toContain(
      'asks its own object for its part Engine',
    );
  });

  const silent: [string, Files][] = [
    ['the object carries it', asks('this.holder.part(Engine).start();', [part('engine.ts')])],
    ['the object carries a child type of it', asks('this.holder.part(Engine).start();', [part('steam.ts')])],
    ['it is a part of the engine', asks('this.holder.part(Body).push();', [])],
    [
      'the object carries a part of which nothing is known',
      asks('this.holder.part(Engine).start();', [{ type: 'Odd' }]),
    ],
    ['nothing is known of such a part', asks('this.holder.part(Whistle).blow();', [])],
    ['the code asks before use', asks('const e = this.holder.part(Engine); if (e) e.start();', [])],
    [
      'the code asks for the part before',
      asks('const t = this.holder; if (t.hasPart(Engine)) t.part(Engine).start();', []),
    ],
    ['the object itself was not found', asks("this.holder.child('Gone').part(Engine).start();", [])],
  ];
  for (const [when, files] of silent) it(`is silent when ${when}`, () => expect(findings(check, files)).toEqual([]));
});

describe('broken/empty-slot', () => {
  beforeAll(useGrammars);
  const check = 'broken/empty-slot';
  const gauge = (field: string, slots: object, rest = ''): Files => ({
    'scripts/gauge.ts': `export class Gauge extends Behaviour {\n  ${field}\n  ${rest}\n}`,
    'scenes/a.json': scene(carrier('Gauge 5', 'gauge.ts', {}, slots)),
  });

  it('fires when nothing is saved, null is saved, or an empty text', () => {
    expect(findings(check, gauge('@slot() tides!: Table;', {}))).toEqual([
      'Slot tides of Gauge is empty on a / Gauge 5 @ scenes/a.json:7',
    ]);
    expect(findings(check, gauge('@slot() tides!: Table;', { tides: null }))).toEqual([
      'Slot tides of Gauge is empty on a / Gauge 5 @ scenes/a.json:9',
    ]);
    expect(findings(check, gauge('@slot() tides!: Table;', { tides: '' })).length).toBe(1);
  });
  it('fires for a field of the parent type, and in Python', () => {
    const files = gauge('', {});
    expect(
      findings(check, {
        ...files,
        'scripts/board.ts': 'export class Board { @slot() face!: Picture; }',
        'scripts/gauge.ts': 'export class Gauge extends Board {}',
      }).length,
    ).toBe(1);
    expect(
      findings(check, {
        'scripts/gauge.py': 'class Gauge:\n  tides: Slot[Table]\n',
        'scenes/a.json': scene(carrier('Gauge 5', 'gauge.py')),
      }).length,
    ).toBe(1);
  });
  it('fires on the instance that empties what its prefab fills', () => {
    const files: Files = {
      'scripts/gauge.ts': 'export class Gauge { @slot() tides!: Table; }',
      'prefabs/g.json': { objects: [carrier('Gauge', 'gauge.ts', {}, { tides: 'x' })] },
      'scenes/a.json': scene(
        { name: 'Good', prefab: 'prefabs/g.json' },
        carrier('Bad', 'gauge.ts', { prefab: 'prefabs/g.json' }, { tides: null }),
      ),
    };
    expect(findings(check, files)).toEqual(['Slot tides of Gauge is empty on a / Bad @ scenes/a.json:13']);
  });

  const silent: [string, Files][] = [
    ['it is filled', gauge('@slot() tides!: Table;', { tides: 'x' })],
    ['it may be empty', gauge('@slot() tides?: Table;', {})],
    ['its type says that it may be empty', gauge('@slot() tides: Table | null;', {})],
    ['it has a default', gauge('@slot() depth = 4;', {})],
    ['it is not exposed', gauge('tides!: Table;', {})],
    ['the script sets it itself', gauge('@slot() tides!: Table;', {}, 'begin() { this.tides = make(); }')],
    [
      'another script sets it',
      {
        ...gauge('@slot() tides!: Table;', {}),
        'scripts/lock.ts': 'class Lock { begin() { this.gauge.tides = this.own; } }',
      },
    ],
  ];
  for (const [when, files] of silent) it(`is silent when ${when}`, () => expect(findings(check, files)).toEqual([]));
});

describe('broken/case-only', () => {
  beforeAll(useGrammars);
  const check = 'broken/case-only';

  it('fires in place of the other checks, for children, scenes, identities and files', () => {
    expect(findings(check, lineUnder("this.child('knot').show();"))).toEqual([
      'Rope on a / Tender / Stern / Line asks for knot; what stands there is written Knot @ scripts/rope.ts:4',
    ]);
    expect(findings(check, lineUnder("stage.find('TENDER').show();")).length).toBe(1);
    const files: Files = {
      'scripts/B.ts': 'export class B { @slot() a?: X; }',
      'scenes/a.json': scene({ name: 'Ring', id: 'Ring1' }, carrier('Boat', 'b.ts', {}, {})),
    };
    expect(findings(check, files)).toEqual([
      'a / Boat / scripts/b.ts names scripts/b.ts; it is written scripts/B.ts @ scenes/a.json:11',
    ]);
    expect(scan(files).findings.length).toBe(1);
  });

  const silent: [string, Files][] = [
    ['the capitals are right', lineUnder("this.child('Knot').show();")],
    ['both spellings are there', lineUnder("this.holder.child('knot').show();")],
    ['the code asks before use', lineUnder("this.child('knot')?.show();")],
  ];
  for (const [when, files] of silent) it(`is silent when ${when}`, () => expect(findings(check, files)).toEqual([]));
});

describe('broken/unknown-label', () => {
  beforeAll(useGrammars);
  const plan = {
    files: {
      lists: {
        match: 'labels.json',
        as: 'data asset',
        pieces: { labels: { at: '$.labels[*]', kind: 'label', named: '$' } },
      },
      scenes: {
        match: '*.json',
        as: 'scene',
        pieces: { items: { at: '$.items[*]', kind: 'object', labels: '$.labels[*]' } },
        references: { asks: { at: '$.asks[*]', by: 'label' } },
      },
    },
    scripts: { ts: { match: '*.ts', language: 'typescript' } },
    calls: [{ call: 'hasLabel($label)', means: 'refer', target: { by: 'label' }, verb: 'reads' }],
    engine: { labels: ['solid'] },
  };
  const found = (files: Files): string[] => told(scanWith(files, plan), 'broken/unknown-label');
  const items = [{ name: 'Tender', labels: ['boat'] }];

  it('fires for a label that nothing carries, and offers the one that was meant', () => {
    expect(found({ 'a.json': { items, asks: ['boats'] } })).toEqual([
      'a asks for the label boats; there is boat, but no such label @ a.json:11',
    ]);
    expect(found({ 'a.json': { items }, 's.ts': "class A { f() { hasLabel('harbour'); } }" })).toEqual([
      'A asks for the label harbour; no object carries it and no list declares it @ s.ts:1',
    ]);
    const capitals = scanWith({ 'a.json': { items, asks: ['Boat'] } }, plan);
    expect(capitals.findings.map((finding) => finding.check)).toEqual(['broken/case-only']);
  });

  it('is silent for labels that something carries, that a list declares, that the engine has, or that are made up', () => {
    expect(found({ 'a.json': { items, asks: ['boat', 'solid'] } })).toEqual([]);
    expect(found({ 'labels.json': { labels: ['mooring'] }, 'a.json': { asks: ['mooring'] } })).toEqual([]);
    expect(found({ 'a.json': { items }, 's.ts': 'class A { f(x) { hasLabel(x); hasLabel(`boat-${x}`); } }' })).toEqual(
      [],
    );
  });
});

describe('broken/missing-package', () => {
  const found = (needs: string[], engine: object = {}): string[] =>
    told(
      scanWith(
        { 'locks/pack.json': { id: 'locks', needs }, 'boats/pack.json': { id: 'boats' } },
        {
          files: {
            packs: {
              match: '*/pack.json',
              as: 'package',
              id: '$.id',
              named: '$.id',
              needs: { at: '$.needs[*]', id: '$' },
            },
          },
          engine,
        },
      ),
      'broken/missing-package',
    );

  it('fires for a package that is not there', () => {
    expect(found(['tides'])).toEqual([
      'locks needs the package tides, which the project does not have @ locks/pack.json:4',
    ]);
    expect(found(['boat'])).toEqual([
      'locks needs the package boat, which the project does not have; there is boats @ locks/pack.json:4',
    ]);
  });

  it('is silent for packages that are there, and for those of the engine', () => {
    expect(found(['boats'])).toEqual([]);
    expect(found(['deck'], { ids: ['deck*'] })).toEqual([]);
    expect(found([])).toEqual([]);
  });
});

describe('changes of what a prefab does not hold', () => {
  const scanned = (change: object): string[] => {
    const pieces = {
      items: {
        at: '$..items[*]',
        kind: 'object',
        madeFrom: { field: '$.prefab' },
        parts: { at: '$.parts[*]', type: '$.type' },
        overrides: { at: '$.changes[*]', on: '$.on', part: '$.part' },
      },
    };
    const { findings: all } = scanWith(
      {
        'boat.json': { items: [{ name: 'Boat', items: [{ name: 'Mast', parts: [{ type: 'Flag' }] }] }] },
        'scene.json': { items: [{ name: 'Boat 1', prefab: 'boat.json', changes: [change] }] },
      },
      { files: { all: { match: '*.json', as: 'scene', pieces } } },
    );
    return all.map((finding) => `${finding.check}: ${line(finding)}`);
  };

  it('are told for objects and for parts', () => {
    expect(scanned({ on: 'Sail' })).toEqual([
      'broken/missing-object: scene / Boat 1 changes Sail inside its prefab, which holds nothing of that name @ scene.json:8',
    ]);
    expect(scanned({ on: 'Mast', part: 'Lamp' })).toEqual([
      'broken/missing-part: scene / Boat 1 changes the part Mast: Lamp of its prefab, which has no such part @ scene.json:8',
    ]);
  });

  it('are not told when they find what they change', () => {
    expect(scanned({ on: 'Mast', part: 'Flag' })).toEqual([]);
    expect(scanned({})).toEqual([]);
  });
});
