/** Checks on who drives whom, what comes and goes, and what moves in the tree. */
import { plain } from '../model/finding.js';
import { carrier, scan, scene, script, told, useGrammars, type Files } from '../testing/project.js';

const found = (check: string, files: Files, changes: object = {}): string[] => told(scan(files, changes), check);

describe('fragile/reach-up', () => {
  beforeAll(useGrammars);
  const check = 'fragile/reach-up';
  const rope = (code: string, rest = ''): string[] =>
    found(check, {
      'scripts/rope.ts': script('Rope', code, rest),
      'scenes/a.json': scene({
        name: 'Barge',
        objects: [
          {
            name: 'Deck',
            objects: [{ name: 'Bow', objects: [carrier('Line', 'rope.ts', { objects: [{ name: 'Knot' }] })] }],
          },
        ],
      }),
    });

  it('counts the objects on which it does', () => {
    const boat = (name: string): object => ({
      name,
      objects: [{ name: 'Bow', objects: [carrier('Line', 'rope.ts')] }],
    });
    expect(
      found(check, {
        'scripts/rope.ts': script('Rope', 'this.holder.holder.stop();'),
        'scenes/a.json': scene(boat('Barge'), boat('Punt')),
      }),
    ).toEqual(['Rope drives what stands two steps above it, on Line and 1 more: it calls stop() @ scripts/rope.ts:4']);
  });
  it('fires on a child that calls its ancestor three levels up, or sets a field there', () => {
    expect(rope('this.holder.holder.holder.stop();')).toEqual([
      'Rope drives what stands three steps above it, on Line: it calls stop() @ scripts/rope.ts:4',
    ]);
    expect(rope('const barge = this.holder.holder; barge.speed = 0;')).toEqual([
      'Rope drives what stands two steps above it, on Line: it sets speed @ scripts/rope.ts:4',
    ]);
  });
  it('fires on what is kept in a field, and once for all that one script does', () => {
    expect(
      rope('this.barge = this.holder.holder; this.pull();', 'pull() { this.barge.stop(); this.barge.speed = 2; }'),
    ).toEqual(['Rope drives what stands two steps above it, on Line: it calls stop(), sets speed @ scripts/rope.ts:2']);
  });
  it('tells three of the things that are done, and how many more', () => {
    const acts = (count: number): string =>
      ['stop()', 'turn()', 'moor()', 'sink()']
        .slice(0, count)
        .map((act) => `this.holder.holder.${act};`)
        .join(' ');
    expect(rope(acts(3))[0]).toContain('it calls stop(), calls turn(), calls moor() @');
    expect(rope(acts(4))[0]).toContain('it calls stop(), calls turn(), calls moor() and 1 more @');
  });
  it('says when the way leads up and down again', () => {
    const files = (code: string): Files => ({
      'scripts/rope.ts': script('Rope', code),
      'scenes/a.json': scene({
        name: 'Barge',
        objects: [{ name: 'Deck', objects: [carrier('Line', 'rope.ts')] }, { name: 'Winch' }],
      }),
    });
    expect(found(check, files("this.holder.holder.child('Winch').turn();"))).toEqual([
      'Rope drives what stands two steps above it and down again, on Line: it calls turn() @ scripts/rope.ts:4',
    ]);
  });
  it('is a warning from two steps on, and a note on the own holder', () => {
    const weight = (code: string): string[] =>
      scan({
        'scripts/rope.ts': script('Rope', code),
        'scenes/a.json': scene({ name: 'Barge', objects: [{ name: 'Deck', objects: [carrier('Line', 'rope.ts')] }] }),
      })
        .findings.filter((finding) => finding.check === check)
        .map(({ severity }) => severity);
    expect(weight('this.holder.holder.stop();')).toEqual(['warning']);
    expect(weight('this.holder.stop();')).toEqual(['note']);
  });
  it('is silent on reading, on a notice that is sent, and on a child that a parent calls by name', () => {
    expect(rope('if (this.holder.holder.speed > 3) return; const depth = this.holder.holder.depth();')).toEqual([]);
    expect(rope("bells.ring('rope.taut');")).toEqual([]);
    expect(rope("this.child('Knot').untie();")).toEqual([]);
  });
});

describe('fragile/built-name', () => {
  beforeAll(useGrammars);
  const check = 'fragile/built-name';
  const board = (children: string[], code: string, more: Files = {}): string[] =>
    found(check, {
      'scripts/board.ts': `export class Board { begin(player: string, at: number) { ${code} } }`,
      'scenes/a.json': scene(carrier('Board', 'board.ts', { objects: children.map((name) => ({ name })) })),
      ...more,
    });

  it('fires when no child is called like that, and when one of a row is missing', () => {
    expect(board(['Lamp 1', 'Lamp 2'], 'this.child(`Light ${at}`).show();')).toEqual([
      'Board looks for a child of a / Board called Light …, and no child is called like that @ scripts/board.ts:1',
    ]);
    expect(board(['Lamp 1', 'Lamp 2', 'Lamp 4'], "this.child('Lamp ' + at).show();")).toEqual([
      'Board looks for a child of a / Board called Lamp …; 3 are there, and Lamp 3 is missing between them @ scripts/board.ts:1',
    ]);
  });
  it('is silent on a row without a gap, on a name that is the player’s alone, and on a step of a path', () => {
    expect(board(['Lamp 1', 'Lamp 2'], 'this.child(`Lamp ${at}`).show();')).toEqual([]);
    expect(board(['Lamp 1'], 'this.child(player).show();')).toEqual([]);
    expect(board(['Lamp 1'], 'this.way(`Crew/${player}/Hat`).show();')).toEqual([]);
  });
  it('is silent when the code asks, and when code spawns such things', () => {
    expect(board(['Lamp 1'], 'const light = this.child(`Light ${at}`); if (light) light.show();')).toEqual([]);
    const prefab = { 'prefabs/light.json': scene({ name: 'Light 1' }) };
    expect(board([], "spawnFrom('prefabs/light.json'); this.child(`Light ${at}`).show();", prefab)).toEqual([]);
  });
});

const LIFE = [
  { call: '*.holder', means: 'step up' },
  { call: '*.child($name)', means: 'child' },
  { call: '*.childAt($index)', means: 'child' },
  { call: '*.way($path)', means: 'object path' },
  { call: 'stage.find($name)', means: 'find' },
  { call: 'bells.ring($event, ...)', means: 'send' },
  { call: 'bells.hear($event, $handler)', means: 'listen' },
  { call: 'spawnFrom($path)', means: 'spawn', puts: 'own object' },
  { call: 'spawnOn($path, $parent)', means: 'spawn' },
  { call: 'spawnLoose($path)', means: 'spawn', puts: 'scene' },
  { call: 'remove($object)', means: 'destroy' },
  { call: '*.hide()', means: 'switch' },
  { call: '*.moveTo(_)', means: 'travel' },
  { call: '*.putUnder(_)', means: 'move' },
];

describe('fragile/used-after-gone', () => {
  beforeAll(useGrammars);
  const check = 'fragile/used-after-gone';
  const gauge = (
    body: string,
    crane = "remove(stage.find('Crate'));",
    begin = "this.crate = stage.find('Crate');",
  ): string[] =>
    found(
      check,
      {
        'scripts/gauge.ts': `export class Gauge { crate: X; begin() { ${begin} } everyFrame() { ${body} } }`,
        'scripts/crane.ts': script('Crane', "bells.hear('lift', this.lift);", `lift() { ${crane} }`),
        'scenes/a.json': scene({ name: 'Crate' }, carrier('Gauge', 'gauge.ts'), carrier('Crane', 'crane.ts')),
      },
      { calls: LIFE },
    );

  it('fires when another script destroys what this one reads in every frame', () => {
    expect(gauge('this.show(this.crate.tonnes);')).toEqual([
      'Gauge uses Crate in every frame and never asks whether it is still there; Crane destroys it @ scripts/gauge.ts:1',
    ]);
  });
  it('fires through a function that the frame calls, and on a slot', () => {
    const files: Files = {
      'scripts/gauge.ts':
        'export class Gauge { @slot crate: X; everyFrame() { this.draw(); } draw() { this.crate.weigh(); } }',
      'scripts/crane.ts': script('Crane', "remove(stage.find('Crate'));"),
      'scenes/a.json': scene(
        { name: 'Crate', id: 'c' },
        carrier('Gauge', 'gauge.ts', {}, { crate: '#c' }),
        carrier('Crane', 'crane.ts'),
      ),
    };
    expect(found(check, files, { calls: LIFE }).length).toBe(1);
  });
  it('is silent with a check, also in the function that calls it', () => {
    expect(gauge('if (!this.crate) return; this.show(this.crate.tonnes);')).toEqual([]);
    expect(gauge('if (this.crate) this.draw(); } draw() { this.show(this.crate.tonnes);')).toEqual([]);
    expect(gauge('this.show(this.crate?.tonnes);')).toEqual([]);
  });
  it('is silent when it is only switched off, when it is used at the start alone, and when it goes along', () => {
    expect(gauge('this.show(this.crate.tonnes);', "stage.find('Crate').hide();")).toEqual([]);
    expect(gauge('', undefined, "this.crate = stage.find('Crate'); this.show(this.crate.tonnes);")).toEqual([]);
    const inside: Files = {
      'scripts/gauge.ts':
        'export class Gauge { begin() { this.crate = this.holder; } everyFrame() { this.show(this.crate.tonnes); } }',
      'scripts/crane.ts': script('Crane', "remove(stage.find('Crate'));"),
      'scenes/a.json': scene({ name: 'Crate', objects: [carrier('Gauge', 'gauge.ts')] }, carrier('Crane', 'crane.ts')),
    };
    expect(found(check, inside, { calls: LIFE })).toEqual([]);
  });
});

describe('fragile/spawn-parent', () => {
  beforeAll(useGrammars);
  const check = 'fragile/spawn-parent';
  const boat = (
    spawn: string,
    move = 'this.object.moveTo(3);',
    prefab: object = carrier('Buoy', 'buoy.ts'),
  ): string[] =>
    found(
      check,
      {
        'scripts/boat.ts': script('Boat', spawn, `everyFrame() { ${move} }`),
        'scripts/buoy.ts': script('Buoy', ''),
        'prefabs/buoy.json': scene(prefab),
        'scenes/a.json': scene(carrier('Tender', 'boat.ts'), { name: 'Quay' }),
      },
      { calls: [...LIFE, { call: '*.object', means: 'same object' }] },
    );

  it('fires on what is spawned under the boat that spawns it, when the boat moves', () => {
    expect(boat("spawnFrom('prefabs/buoy.json');")).toEqual([
      'Boat spawns buoy under a / Tender and moves that in play: buoy moves along @ scripts/boat.ts:4',
    ]);
    expect(boat("spawnOn('prefabs/buoy.json', this.object);").length).toBe(1);
  });
  it('fires when the parent goes away', () => {
    expect(boat("spawnFrom('prefabs/buoy.json');", 'remove(this.object);')).toEqual([
      'Boat spawns buoy under a / Tender and destroys that in play: buoy goes along @ scripts/boat.ts:4',
    ]);
  });
  it('is silent under the scene, under what stands still, and on things without a script', () => {
    expect(boat("spawnLoose('prefabs/buoy.json');")).toEqual([]);
    expect(boat("spawnOn('prefabs/buoy.json', stage.find('Quay'));")).toEqual([]);
    expect(boat("spawnFrom('prefabs/buoy.json');", '')).toEqual([]);
    expect(boat("spawnFrom('prefabs/buoy.json');", undefined, { name: 'Buoy' })).toEqual([]);
  });
});

describe('fragile/moves-at-run', () => {
  beforeAll(useGrammars);
  const check = 'fragile/moves-at-run';
  const crane = (hand: string, lift = "stage.find('Crate').putUnder(this.object);"): string[] =>
    found(
      check,
      {
        'scripts/crane.ts': script('Crane', "bells.hear('lift', this.lift);", `lift() { ${lift} }`),
        'scripts/hand.ts': `export class Hand { begin() { bells.hear('sign', this.sign); } sign() { ${hand} } }`,
        'scenes/a.json': scene(carrier('Crane', 'crane.ts'), {
          name: 'Quay',
          objects: [{ name: 'Crate', id: 'c', objects: [{ name: 'Label' }] }, carrier('Hand', 'hand.ts')],
        }),
      },
      { calls: LIFE },
    );

  it('fires on a way that leads to what is moved, or through it', () => {
    expect(crane("this.way('../Crate').show();")).toEqual([
      'Crane moves Crate to another place in the tree, and Hand reaches Crate by a way that leads through it @ scripts/crane.ts:2',
    ]);
    expect(crane("this.way('../Crate/Label').show();").length).toBe(1);
  });
  it('names the first of several ways, and counts scripts alone', () => {
    const files: Files = {
      'scripts/crane.ts': script(
        'Crane',
        "bells.hear('lift', this.lift);",
        "lift() { stage.find('Crate').putUnder(this.object); }",
      ),
      ...Object.fromEntries(
        ['a', 'b'].map((name) => [
          `scripts/hand-${name}.ts`,
          `export class Hand${name.toUpperCase()} { begin() { bells.hear('sign', this.sign); }\n sign() { this.way('../Crate').show();\n this.way('../Crate/Label').show(); } }`,
        ]),
      ),
      'scripts/label.ts':
        "export class Label { begin() { bells.hear('sign', this.sign); } sign() { this.way('../../Quay 2').show(); this.way('Ink').show(); } }",
      'scripts/hook.ts': 'export class Hook { @slot crate?: Crate; }',
      'scenes/a.json': scene(
        carrier('Crane', 'crane.ts'),
        { name: 'Crate', objects: [carrier('Label', 'label.ts', { objects: [{ name: 'Ink' }] })] },
        { name: 'Quay 2' },
        carrier('Hand 2', 'hand-b.ts'),
        carrier('Hand 1', 'hand-a.ts'),
        carrier('Hook', 'hook.ts', { objects: [{ name: 'Eye' }] }, { crate: '@../Crate' }),
      ),
    };
    const [finding] = scan(files, { calls: LIFE }).findings.filter((one) => one.check === check);
    expect(plain(finding.sentence)).toContain('and HandA reaches Crate by a way that leads through it');
    expect(finding.places).toBe(5);
    expect(finding.evidence.slice(1).map(({ file, range }) => `${file}:${range.line}`)).toEqual([
      'scripts/hand-a.ts:2',
      'scripts/hand-a.ts:3',
      'scripts/hand-b.ts:2',
      'scripts/hand-b.ts:3',
    ]);
  });
  it('is silent on a name, on a way beside it, and on what only moves in the world', () => {
    expect(crane("stage.find('Crate').show();")).toEqual([]);
    expect(crane('this.holder.show();')).toEqual([]);
    expect(crane("this.way('../Crate').show();", "stage.find('Crate').moveTo(9);")).toEqual([]);
  });
  it('is silent on ways walked at the start when the move comes later', () => {
    const files: Files = {
      'scripts/crane.ts': script(
        'Crane',
        "bells.hear('lift', this.lift);",
        "lift() { stage.find('Crate').putUnder(this.object); }",
      ),
      'scripts/hand.ts': script('Hand', "this.crate = this.way('../Crate');"),
      'scenes/a.json': scene(carrier('Crane', 'crane.ts'), { name: 'Crate' }, carrier('Hand', 'hand.ts')),
    };
    expect(found(check, files, { calls: LIFE })).toEqual([]);
  });
});

describe('fragile/order-bound', () => {
  beforeAll(useGrammars);
  const check = 'fragile/order-bound';
  const ENGINE = { events: ['engine.*'], toRoot: ['engine.touched'] };
  const hull = (code: string, objects: object[]): string[] =>
    found(
      check,
      { 'scripts/hull.ts': script('Hull', code, 'bump() {}'), 'scenes/a.json': scene(...objects) },
      { calls: LIFE, engine: ENGINE },
    );
  const two = [carrier('Boat', 'hull.ts', { objects: [{ name: 'Mast' }, { name: 'Keel' }] })];

  it('fires on a child picked by its number', () => {
    expect(hull('this.childAt(1).show();', two)).toEqual([
      'Hull picks a child of Boat by its number, 1, of 2 @ scripts/hull.ts:4',
    ]);
  });
  it('fires on an event of which only the topmost object is told', () => {
    const inside = [{ name: 'Boat', parts: [{ type: 'Body' }], objects: [carrier('Hull', 'hull.ts')] }];
    expect(hull("bells.hear('engine.touched', this.bump);", inside)).toEqual([
      'Hull listens to engine.touched on Hull, which stands inside another object, and only the topmost one is told @ scripts/hull.ts:4',
    ]);
  });
  it('is silent on an only child, on a number that is not written, and on a child by name', () => {
    expect(hull('this.childAt(0).show();', [carrier('Boat', 'hull.ts', { objects: [{ name: 'Mast' }] })])).toEqual([]);
    expect(hull('this.childAt(this.which).show();', two)).toEqual([]);
    expect(hull("this.child('Keel').show();", two)).toEqual([]);
  });
  it('is silent on a script at the top, and on other events', () => {
    expect(hull("bells.hear('engine.touched', this.bump);", [carrier('Hull', 'hull.ts')])).toEqual([]);
    const kept = [{ name: 'Boats', objects: [carrier('Hull', 'hull.ts')] }];
    expect(hull("bells.hear('engine.touched', this.bump);", kept)).toEqual([]);
    expect(
      hull("bells.hear('engine.dusk', this.bump);", [{ name: 'Boat', objects: [carrier('Hull', 'hull.ts')] }]),
    ).toEqual([]);
  });
});

describe('fragile/lost-state', () => {
  beforeAll(useGrammars);
  const check = 'fragile/lost-state';
  const CALLS = [
    ...LIFE,
    { call: '*.part($type)', means: 'part' },
    { call: '*.object', means: 'same object' },
    { call: 'stage.enter($name)', means: 'load', target: { by: 'name', kinds: ['scene'] } },
    { call: 'stage.keep($object)', means: 'keep' },
  ];
  const SCENES = {
    match: 'scenes/*',
    as: 'scene',
    pieces: {
      objects: {
        at: '$..objects[*]',
        kind: 'object',
        kept: { field: '$.stays', is: 'true' },
        parts: { at: '$.parts[*]', script: { field: '$.script' }, values: '$.slots' },
      },
    },
  };
  interface Lock {
    gate?: object;
    way?: string;
    begin?: string;
    mend?: string;
    reader?: string;
    more?: Files;
  }
  const lock = (more: Lock = {}, changes: object = {}, hasMark = true): string[] => {
    const { kept, ...unmarked } = SCENES.pieces.objects;
    const objects = hasMark ? { ...unmarked, kept } : unmarked;
    return found(
      check,
      {
        'scripts/gate.ts': `export class Gate { isMended = false; begin() { ${more.begin ?? ''} bells.hear('mend', this.mend); } mend() { ${more.mend ?? 'this.isMended = true;'} } }`,
        'scripts/keeper.ts': `export class Keeper { gate: Gate; begin() { ${more.reader ?? 'if (this.gate.isMended) this.rest();'} stage.enter('office'); } rest() {} }`,
        'scripts/clerk.ts': script('Clerk', more.way ?? "stage.enter('flight');"),
        'scenes/flight.json': scene(carrier('Gate', 'gate.ts', more.gate), carrier('Keeper', 'keeper.ts')),
        'scenes/office.json': scene(carrier('Clerk', 'clerk.ts')),
        ...more.more,
      },
      { calls: CALLS, files: { scenes: { ...SCENES, pieces: { objects } } }, ...changes },
    );
  };

  it('fires on a flag that is set in play on an object that nothing keeps', () => {
    expect(lock()).toEqual([
      'Gate.isMended on Gate is set in play and read by Keeper, but flight is left and entered again, and nothing keeps it @ scripts/gate.ts:1',
    ]);
  });
  it('is silent where the plan does not say what is kept', () => {
    const more = { calls: CALLS.filter(({ means }) => means !== 'keep') };
    expect(lock({}, more, false)).toEqual([]);
    expect(lock({}, more).length).toBe(1);
  });
  it('is silent on a flag that is only set off, set at the start, or read by its own family alone', () => {
    expect(lock({ mend: 'this.isMended = false;' })).toEqual([]);
    expect(lock({ begin: 'this.isMended = true;', mend: '' })).toEqual([]);
    expect(lock({ reader: '' })).toEqual([]);
  });
  it('follows a way round over several scenes, and is silent where none leads back', () => {
    const round = (last: string): string[] =>
      lock({
        way: "stage.enter('weir');",
        more: {
          'scripts/warden.ts': script('Warden', last),
          'scenes/weir.json': scene(carrier('Warden', 'warden.ts')),
        },
      });
    expect(round("stage.enter('flight');").length).toBe(1);
    expect(round("stage.enter('office');")).toEqual([]);
  });
  it('is silent on an object that is marked, or kept by a call', () => {
    expect(lock({ gate: { stays: true } })).toEqual([]);
    expect(lock({ begin: 'stage.keep(this.object);' })).toEqual([]);
  });
  it('is silent when nobody comes back, and when nobody else reads it', () => {
    expect(lock({ way: '' })).toEqual([]);
    expect(lock({ reader: '' })).toEqual([]);
  });
});
