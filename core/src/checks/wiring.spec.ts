/** Checks on who sends what to whom, and on what is looked up and done how often and to how many. */
import { linkAt } from '../model/graph.js';
import { carrier, scan, scanWith, scene, script, told, useGrammars, type Files } from '../testing/project.js';

const found = (check: string, files: Files, changes: object = {}): string[] => told(scan(files, changes), check);

describe('fragile/payload-mismatch', () => {
  beforeAll(useGrammars);
  const check = 'fragile/payload-mismatch';
  const bell = (send: string, handler: string): Files => ({
    'scripts/bell.ts': script('Bell', send),
    'scripts/keeper.ts': script('Keeper', "bells.hear('noon', this.hear);", handler),
  });

  it('fires when a handler needs more than is sent', () => {
    expect(found(check, bell("bells.ring('noon', 12);", 'hear(hour: number, bell: string) {}'))).toEqual([
      'noon is sent with 1 value by Bell; Keeper.hear() takes 2 values @ scripts/keeper.ts:2',
    ]);
  });
  it('fires on wires that files save, and on handlers of a parent', () => {
    const files: Files = {
      'scripts/bell.ts': script('Bell', "bells.ring('noon');"),
      'scripts/base.ts': 'export class Base { hear(hour: number) {} }',
      'scripts/keeper.ts': 'export class Keeper extends Base {}',
      'scenes/a.json': {
        ...scene(carrier('Keeper', 'keeper.ts', { id: 'k' })),
        wires: [{ when: 'noon', to: '#k', do: 'hear' }],
      },
    };
    expect(found(check, files)).toEqual([
      'noon is sent with no values by Bell; Base.hear() takes 1 value @ scripts/base.ts:1',
    ]);
  });
  it('fires on too many where the language does not pass over the rest', () => {
    const python = (handler: string): Files => ({
      'scripts/bell.py': "class Bell:\n  def begin(self):\n    bells.ring('noon', 1, 2, 3)\n",
      'scripts/keeper.py': `class Keeper:\n  def begin(self):\n    bells.hear('noon', self.hear)\n  def hear(self, ${handler}):\n    pass\n`,
    });
    expect(found(check, python('hour, bell')).length).toBe(1);
    expect(found(check, python('hour, *more'))).toEqual([]);
  });
  const silent: [string, Files][] = [
    ['as many come as are taken', bell("bells.ring('noon', 12);", 'hear(hour: number) {}')],
    ['a parameter has a default or may be left out', bell("bells.ring('noon');", 'hear(hour = 12, bell?: string) {}')],
    ['more come than are taken, and the language passes over them', bell("bells.ring('noon', 1, 2);", 'hear() {}')],
    ['the handler takes any number', bell("bells.ring('noon');", 'hear(...hours: number[]) {}')],
    [
      'the event is a type, whose object carries the values',
      {
        ...bell('bells.ring(Noon, 1, 2);', 'hear(noon: Noon, more: number, most: number) {}'),
        'scripts/noon.ts': 'export class Noon {}',
        'scripts/keeper.ts': script(
          'Keeper',
          'bells.hear(Noon, this.hear);',
          'hear(noon: Noon, a: number, b: number) {}',
        ),
      },
    ],
    ['the handler is not known', bell("bells.ring('noon');", 'other() {}')],
  ];
  for (const [when, files] of silent) it(`is silent when ${when}`, () => expect(found(check, files)).toEqual([]));
});

describe('fragile/event-loop', () => {
  beforeAll(useGrammars);
  const check = 'fragile/event-loop';
  const hears = (name: string, event: string, code: string, rest = ''): string =>
    script(name, `bells.hear('${event}', this.go);`, `go() { ${code} } ${rest}`);

  it('fires on sends that lead back through other scripts, and through functions of their own', () => {
    const files: Files = {
      'scripts/a.ts': hears('A', 'one', "bells.ring('two');"),
      'scripts/b.ts': hears('B', 'two', 'this.tell();', "tell() { bells.ring('three'); }"),
      'scripts/c.ts': hears('C', 'three', "bells.ring('one');"),
    };
    expect(found(check, files)).toEqual([
      'one leads back to itself: A.go() sends two, B.go() sends three, C.go() sends one @ scripts/a.ts:2',
    ]);
    expect(found(check, { 'scripts/a.ts': hears('A', 'one', "bells.ring('one');") }).length).toBe(1);
  });
  const silent: [string, string][] = [
    ['one of the sends hangs on a condition', "if (this.open) bells.ring('one');"],
    ['it comes after a way out', "if (this.open) return; bells.ring('one');"],
    ['the function that sends is called on a condition', 'if (this.open) this.tell();'],
    ['another event is sent', "bells.ring('other');"],
  ];
  for (const [when, code] of silent) {
    it(`is silent when ${when}`, () =>
      expect(found(check, { 'scripts/a.ts': hears('A', 'one', code, "tell() { bells.ring('one'); }") })).toEqual([]));
  }
});

describe('fragile/key-clash', () => {
  const check = 'fragile/key-clash';
  const keys = (...actions: object[]): string[] =>
    told(
      scanWith(
        { 'keys.json': actions },
        {
          files: {
            keys: {
              match: 'keys.json',
              as: 'data asset',
              pieces: { keys: { at: '$[*]', kind: 'input action', details: { key: '$.key', context: '$.when' } } },
            },
          },
        },
      ),
      check,
    );

  it('fires on two actions on one key in one context', () => {
    expect(keys({ name: 'ring', key: 'B', when: 'ashore' }, { name: 'board', key: 'b', when: 'ashore' })).toEqual([
      'ring and board are both on the key B, ashore @ keys.json:3',
    ]);
  });
  it('is silent on other keys, other contexts, and actions without keys', () => {
    expect(keys({ name: 'ring', key: 'B', when: 'ashore' }, { name: 'board', key: 'B', when: 'aboard' })).toEqual([]);
    expect(keys({ name: 'ring', key: 'B' }, { name: 'board', key: 'C' }, { name: 'rest' }, { name: 'wait' })).toEqual(
      [],
    );
  });
});

describe('fragile/ambiguous-name', () => {
  beforeAll(useGrammars);
  const check = 'fragile/ambiguous-name';
  const CALLS = [
    { call: '*.child($name)', means: 'child' },
    { call: '*.children($name)', means: 'child', scope: 'all' },
    { call: 'stage.find($name)', means: 'find', scope: 'one' },
    { call: 'stage.all($name)', means: 'find', scope: 'all' },
  ];
  const crane = (code: string): string[] =>
    found(
      check,
      {
        'scripts/crane.ts': script('Crane', code),
        'scenes/a.json': scene(
          carrier('Crane', 'crane.ts', {
            objects: [{ name: 'Hook' }, { name: 'Hook', objects: [{ name: 'Pin' }] }, { name: 'Arm' }],
          }),
          { name: 'Bell' },
          { name: 'Quay', objects: [{ name: 'Bell' }] },
        ),
      },
      { calls: CALLS },
    );

  it('fires on a child and on a search that find several', () => {
    expect(crane("this.child('Hook');")).toEqual([
      'Crane on a / Crane looks for Hook, and there are 2 @ scripts/crane.ts:4',
    ]);
    expect(crane("stage.find('Bell');")).toEqual([
      'Crane on a / Crane looks for Bell, and there are 2 @ scripts/crane.ts:4',
    ]);
  });
  it('fires once where the choice is first open', () => {
    expect(crane("this.child('Hook').child('Pin');").length).toBe(1);
  });
  it('is silent on a single match, and when all are meant', () => {
    expect(crane("this.child('Arm'); this.children('Hook'); stage.all('Bell'); stage.find('Quay');")).toEqual([]);
  });
});

describe('fragile/wide-scope', () => {
  beforeAll(useGrammars);
  const check = 'fragile/wide-scope';
  const CALLS = [
    { call: 'stage.every($type)', means: 'find type' },
    { call: 'stage.labelled($label)', means: 'find label' },
    { call: '*.hide()', means: 'switch' },
    { call: 'remove($object)', means: 'destroy' },
  ];
  const hide = (code: string): string[] =>
    found(
      check,
      {
        'scripts/crane.ts': script('Crane', code),
        'scripts/gate.ts': 'export class Gate {}',
        'scripts/lamp.ts': 'export class Lamp {}',
        'scenes/a.json': scene(
          carrier('Crane', 'crane.ts'),
          ...['One', 'Two', 'Three'].map((name) => carrier(name, 'gate.ts')),
          carrier('Post', 'lamp.ts'),
        ),
      },
      { calls: CALLS },
    );

  it('fires on all of a type where three exist', () => {
    expect(hide('stage.every(Gate).hide();')).toEqual([
      'Crane switches everything of the type Gate, and there are 3: a / One, a / Two, a / Three @ scripts/crane.ts:4',
    ]);
    expect(hide('remove(stage.every(Gate));').length).toBe(1);
  });
  it('has links that say so', () => {
    const files: Files = {
      'scripts/crane.ts': script('Crane', 'stage.every(Gate).hide();'),
      'scripts/gate.ts': 'export class Gate {}',
      'scenes/a.json': scene(carrier('Crane', 'crane.ts'), carrier('One', 'gate.ts'), carrier('Two', 'gate.ts')),
    };
    const { graph } = scan(files, { calls: CALLS }).linked;
    const switches = Array.from({ length: graph.linkCount }, (_, at) => linkAt(graph, at)).filter(
      ({ verb }) => verb === 'switches',
    );
    expect(switches.map(({ scope }) => scope)).toEqual(['all', 'all']);
  });
  it('is silent where exactly one exists, and on what is labelled on purpose', () => {
    expect(hide('stage.every(Lamp).hide();')).toEqual([]);
    expect(hide("stage.labelled('gate').hide();")).toEqual([]);
  });
});

describe('fragile/polling', () => {
  beforeAll(useGrammars);
  const check = 'fragile/polling';
  const dial = (body: string): string[] =>
    found(check, {
      'scripts/dial.ts': `export class Dial { clock: X; begin() { this.clock = stage.find('Clock'); } everyFrame() { ${body} } }`,
      'scenes/a.json': scene({ name: 'Clock' }, carrier('Dial', 'dial.ts', { objects: [{ name: 'Hand' }] })),
    });

  it('fires once for a function that looks things up in every frame', () => {
    expect(dial("stage.find('Clock').show(); this.child('Hand').turn(3);")).toEqual([
      'Dial looks 2 things up in every frame, on Dial @ scripts/dial.ts:1',
    ]);
  });
  it('is silent on what is looked up only if something holds, there or in a function that is called then', () => {
    expect(dial("if (this.late) stage.find('Clock').show();")).toEqual([]);
    expect(dial("if (this.late) this.turn(); } turn() { stage.find('Clock').show();")).toEqual([]);
    expect(dial("this.turn(); } turn() { stage.find('Clock').show();").length).toBe(1);
  });
  it('fires on a field that is asked in every frame though an event says when it changes', () => {
    const gauge = (chamber: string, asks = 'if (this.lock.level > 1) this.ring();'): string[] =>
      found(check, {
        'scripts/lock.ts': `export class Lock { level = 0; fill() { this.level = 2; ${chamber} } }`,
        'scripts/gauge.ts': `export class Gauge { lock: Lock; everyFrame() { ${asks} } ring() {} }`,
      });
    expect(gauge("bells.ring('level.reached');")).toEqual([
      'Gauge asks Lock.level in every frame, and Lock sends level.reached when it changes @ scripts/gauge.ts:1',
    ]);
    expect(gauge('')).toEqual([]);
    expect(gauge("bells.ring('level.reached');", 'this.draw(this.lock.level);')).toEqual([]);
  });
  it('is silent on what is kept from before, and on steps up', () => {
    expect(dial('this.clock.show();')).toEqual([]);
    expect(dial('this.holder.turn(3);')).toEqual([]);
  });
});

describe('fragile/no-cooldown', () => {
  beforeAll(useGrammars);
  const check = 'fragile/no-cooldown';
  const ENGINE = { engine: { events: ['engine.*'], repeats: ['engine.touched'] } };
  const plate = (body: string, event = 'engine.touched'): string[] =>
    found(
      check,
      {
        'scripts/plate.ts': script(
          'Plate',
          `bells.hear('${event}', this.go);`,
          `go() { ${body} } tell() { bells.ring('pressed'); }`,
        ),
      },
      ENGINE,
    );

  it('fires on a trigger that sends on every touch, also through a function of its own', () => {
    expect(plate("bells.ring('pressed');")).toEqual([
      'Plate.go() sends pressed whenever engine.touched comes, and it comes again and again @ scripts/plate.ts:2',
    ]);
    expect(plate('this.tell();').length).toBe(1);
  });
  it('fires on a sensor that sends the same message in every frame', () => {
    const sensor = (frame: string): string[] =>
      found(check, {
        'scripts/sensor.ts': `export class Sensor { everyFrame() { ${frame} } tell() { bells.ring('wet'); } }`,
      });
    expect(sensor("bells.ring('wet');")).toEqual([
      'Sensor.everyFrame() sends wet in every frame @ scripts/sensor.ts:1',
    ]);
    expect(sensor('this.tell();')).toEqual(['Sensor.tell() sends wet in every frame @ scripts/sensor.ts:1']);
    expect(sensor("if (this.isWet) bells.ring('wet');")).toEqual([]);
    expect(sensor('if (this.isWet) this.tell();')).toEqual([]);
  });
  it('is silent with a flag, with a timer, and on events that come once', () => {
    expect(plate("if (this.held) return; this.held = true; bells.ring('pressed');")).toEqual([]);
    expect(plate("if (now() - this.last > 2) bells.ring('pressed');")).toEqual([]);
    expect(plate("bells.ring('pressed');", 'engine.dusk')).toEqual([]);
  });
});

describe('fragile/leaked-listener', () => {
  beforeAll(useGrammars);
  const check = 'fragile/leaked-listener';
  const CALLS = [
    { call: 'bells.hear($event, $handler)', means: 'listen' },
    { call: 'bells.forget($event)', means: 'let go' },
    { call: 'spawnFrom($path)', means: 'spawn' },
    { call: 'stage.find($name)', means: 'find' },
    { call: 'remove($object)', means: 'destroy' },
  ];
  const gull = (leave: string, crane = "spawnFrom('prefabs/gull.json');", calls: object[] = CALLS): string[] =>
    found(
      check,
      {
        'scripts/gull.ts': script('Gull', "bells.hear('noon', this.cry);", `cry() {} end() { ${leave} }`),
        'scripts/crane.ts': script('Crane', crane),
        'prefabs/gull.json': { objects: [carrier('Gull', 'gull.ts')] },
        'scenes/a.json': scene(carrier('Crane', 'crane.ts'), { name: 'A gull', prefab: 'prefabs/gull.json' }),
      },
      { calls },
    );

  it('fires on what code takes off its object', () => {
    const calls = [
      ...CALLS,
      { call: '*.attach($type)', means: 'attach' },
      { call: '*.detach($type)', means: 'detach' },
    ];
    expect(gull('', 'this.attach(Gull);', calls)).toEqual([]);
    expect(gull('', 'this.attach(Gull); this.detach(Gull);', calls)).toEqual([
      'Gull listens to noon and never lets go, though it is detached by Crane @ scripts/gull.ts:4',
    ]);
    expect(gull("bells.forget('noon');", 'this.attach(Gull); this.detach(Gull);', calls)).toEqual([]);
  });
  it('fires on what is spawned or destroyed, and says what to call', () => {
    expect(gull('')).toEqual([
      'Gull listens to noon and never lets go, though it is spawned by Crane @ scripts/gull.ts:4',
    ]);
    expect(gull('', "remove(stage.find('A gull'));")).toEqual([
      'Gull listens to noon and never lets go, though it is destroyed by Crane @ scripts/gull.ts:4',
    ]);
  });
  it('is silent when it lets go, when nothing takes it out, and when the plan knows no such call', () => {
    expect(gull("bells.forget('noon');")).toEqual([]);
    expect(gull('', '')).toEqual([]);
    expect(
      gull(
        '',
        undefined,
        CALLS.filter(({ means }) => means !== 'let go'),
      ),
    ).toEqual([]);
  });
});
