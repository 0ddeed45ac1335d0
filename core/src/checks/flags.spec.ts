/** Checks on flags, on sides, on what is listened to too late, and on input. */
import { carrier, scan, scene, script, told, useGrammars, type Files } from '../testing/project.js';

const found = (check: string, files: Files, changes: object = {}): string[] => told(scan(files, changes), check);

describe('fragile/flag-order', () => {
  beforeAll(useGrammars);
  const check = 'fragile/flag-order';
  const gate = (body: string, more: Files = {}): string[] =>
    found(check, { 'scripts/gate.ts': `export class Gate { ${body} }`, ...more });
  const opens = "open() { if (!this.isLevel) return; bells.ring('open'); }";

  it('fires on a flag that nobody sets, and offers the one that is set instead', () => {
    expect(gate(`isLevel = false; ${opens}`)).toEqual([
      'Gate.isLevel is asked for in Gate.open() and nobody ever sets it @ scripts/gate.ts:1',
    ]);
    expect(gate(`isLevel = false; isLevl = false; ${opens} level() { this.isLevl = true; }`)).toEqual([
      'Gate.isLevel is asked for in Gate.open() and nobody ever sets it; isLevl is written almost the same @ scripts/gate.ts:1',
      'Gate.isLevl is set in Gate.level() and nobody ever reads it @ scripts/gate.ts:1',
    ]);
  });
  it('fires on a flag that is only ever set off, and on one that is set and never read', () => {
    expect(gate(`isLevel = false; ${opens} close() { this.isLevel = false; }`).length).toBe(1);
    expect(gate('isOpen = false; open() { this.isOpen = true; }')).toEqual([
      'Gate.isOpen is set in Gate.open() and nobody ever reads it @ scripts/gate.ts:1',
    ]);
  });
  it('fires on a flag set after the reader’s only moment', () => {
    const body = (begin: string, level: string): string =>
      `isLevel = false; begin() { ${begin} bells.hear('level', this.level); } level() { ${level} }`;
    expect(gate(body('if (this.isLevel) this.swing();', 'this.isLevel = true;'))).toEqual([
      'Gate.isLevel is read at the start alone in Gate.begin(), and set only later in Gate.level() @ scripts/gate.ts:1',
    ]);
    expect(gate(body('', 'this.isLevel = true; if (this.isLevel) this.swing();'))).toEqual([]);
  });
  it('fires on a gate opened without reading its flag, though a twin does read it', () => {
    const leaf = (name: string, near: string): string =>
      `export class ${name} extends Leaf { isLevel = false; level() { this.isLevel = true; } see() { return this.isLevel; } near() { ${near} bells.ring('open'); } }`;
    const pair = (near: string): string[] =>
      found(check, {
        'scripts/leaf.ts': 'export class Leaf {}',
        'scripts/east.ts': leaf('EastGate', 'if (!this.isLevel) return;'),
        'scripts/west.ts': leaf('WestGate', near),
      });
    expect(pair('')).toEqual([
      'WestGate.near() acts without asking for isLevel; EastGate.near() asks for it before it does the same @ scripts/west.ts:1',
    ]);
    expect(pair('if (this.isLevel === false) return;')).toEqual([]);
    expect(pair('if (!this.see()) return;')).toEqual([]);
  });

  /** What else the west gate's file says, beside a function that acts without asking. */
  const around: [string, string, string, boolean][] = [
    ['what calls it asks', 'tryIt() { if (this.isLevel) this.near(); }', '', true],
    [
      'what calls it asks for another flag',
      'isOld = false; age() { this.isOld = true; } tryIt() { if (this.isOld) this.near(); }',
      '',
      false,
    ],
    ['what it does not call asks', 'see() { return this.isLevel; }', '', false],
    [
      'another type of the file asks for its own',
      '',
      'export class Weir { isLevel = false; near() { return this.isLevel; } }',
      false,
    ],
  ];
  for (const [when, inside, beside, isSilent] of around)
    it(`${isSilent ? 'is silent' : 'fires'} on a twin’s gate when ${when}`, () => {
      const files: Files = {
        'scripts/leaf.ts': 'export class Leaf {}',
        'scripts/east.ts':
          "export class EastGate extends Leaf { isLevel = false; level() { this.isLevel = true; } near() { if (!this.isLevel) return; bells.ring('open'); } }",
        'scripts/west.ts': `export class WestGate extends Leaf { isLevel = false; level() { this.isLevel = true; } near() { bells.ring('open'); } ${inside} } ${beside}`,
      };
      const acts = found(check, files).filter((one) => one.includes('acts without asking'));
      expect(acts.length).toBe(isSilent ? 0 : 1);
    });
  it('follows a flag that a script sets on another one, and one that is a parent’s', () => {
    const other = (code: string): Files => ({
      'scripts/pump.ts': `export class Pump { gate: Gate; fill() { ${code} } }`,
    });
    expect(gate(`isLevel = false; ${opens}`, other('this.gate.isLevel = true;'))).toEqual([]);
    const child = { 'scripts/sluice.ts': 'export class Sluice extends Gate { fill() { this.isLevel = true; } }' };
    expect(gate(`isLevel = false; ${opens}`, child)).toEqual([]);
  });

  const LUA_TOO = {
    scripts: {
      ts: { match: 'scripts/*.ts', language: 'typescript', exposed: { decorators: ['slot'] } },
      lua: { match: 'scripts/*.lua', language: 'lua' },
    },
  };
  const GATE_TABLE = `local Gate = class('Gate')
    function Gate:begin() self.isLevel = false if self.isLevel then bells:ring('a') end end
    return Gate`;
  const TOOLS_TABLE = `local Tools = class('Tools')
    function Tools:level() self.isLevel = true end
    return Tools`;
  it('fires on a flag of a table as well', () => {
    expect(found(check, { 'scripts/gate.lua': GATE_TABLE }, LUA_TOO)).toEqual([
      'Gate.isLevel is asked for in Gate.begin() and nobody ever sets it @ scripts/gate.lua:2',
    ]);
  });
  const silent: [string, Files][] = [
    [
      'it is set and asked for',
      { 'scripts/gate.ts': `export class Gate { isLevel = false; ${opens} level() { this.isLevel = true; } }` },
    ],
    ['it is on from the start', { 'scripts/gate.ts': `export class Gate { isLevel = true; ${opens} }` }],
    [
      'it belongs to the type',
      {
        'scripts/gate.ts': 'export class Gate { static isLoud = false; ring() { if (Gate.isLoud) bells.ring("a"); } }',
      },
    ],
    ['people fill it in', { 'scripts/gate.ts': `export class Gate { @slot isLevel = false; ${opens} }` }],
    [
      'code sets it on something unknown',
      {
        'scripts/gate.ts': `export class Gate { isLevel = false; ${opens} }`,
        'scripts/pump.ts': script('Pump', 'this.find().isLevel = true;'),
      },
    ],
    [
      'code reads it on something unknown',
      {
        'scripts/gate.ts': 'export class Gate { isOpen = false; open() { this.isOpen = true; } }',
        'scripts/eye.ts': script('Eye', 'if (this.find().isOpen) this.blink();', 'blink() {}'),
      },
    ],
    [
      'objects may be made from a table that holds it',
      {
        'scripts/gate.ts': `export class Gate { isLevel = false; ${opens} }`,
        'scripts/make.ts': 'export const GATES = make({ isLevel: true });',
      },
    ],
    [
      'a function of another table sets it, where such functions may run on anything',
      { 'scripts/gate.lua': GATE_TABLE, 'scripts/tools.lua': TOOLS_TABLE },
    ],
    [
      'its parent is not known',
      { 'scripts/gate.ts': 'export class Gate extends Unknown { isOpen = false; open() { this.isOpen = true; } }' },
    ],
  ];
  for (const [when, files] of silent)
    it(`is silent when ${when}`, () => expect(found(check, files, LUA_TOO)).toEqual([]));

  it('finds both ends of a script that removes itself when its flag says so', () => {
    const rower = (flag: string): string[] =>
      found(
        check,
        {
          'scripts/rower.ts':
            'export class Rower { isLeaving = false; everyFrame() { if (this.isLeaving) remove(this.object); } }',
          'scripts/boat.ts': `export class Boat { board() { this.object.attach(Rower); } leave() { this.object.part(Rower).${flag} = true; } }`,
          'scenes/a.json': scene(carrier('Boat', 'boat.ts')),
        },
        {
          calls: [
            { call: '*.object', means: 'same object' },
            { call: '*.part($type)', means: 'part' },
            { call: '*.attach($type)', means: 'attach' },
            { call: 'remove($object)', means: 'destroy' },
          ],
        },
      );
    expect(rower('isLeaving')).toEqual([]);
    expect(rower('isLeavin')).toEqual([
      'Rower.isLeaving is asked for in Rower.everyFrame() and nobody ever sets it @ scripts/rower.ts:1',
    ]);
  });
});

describe('fragile/side-crossing', () => {
  beforeAll(useGrammars);
  const check = 'fragile/side-crossing';
  const rule = (folder: string, side: string): object => ({
    match: `scripts/${folder}/*.ts`,
    language: 'typescript',
    side,
    sided: { shared: 'shared', server: 'onServer', client: 'onClient' },
    moments: { start: ['begin'], everyFrame: ['everyFrame'] },
  });
  const SIDES = { scripts: { server: rule('server', 'server'), client: rule('client', 'client') } };
  const gate =
    'export class Gate { isOpen = false; begin() { bells.hear("go", this.open); } open() { this.isOpen = true; bells.ring("gate.opened"); } }';
  const button = (code: string, gateCode = gate): string[] =>
    found(
      check,
      {
        'scripts/server/gate.ts': gateCode,
        'scripts/client/button.ts': `export class Button { gate: Gate; begin() { bells.hear('gate.opened', this.light); } press() { ${code} } light() {} }`,
      },
      SIDES,
    );

  it('fires when a client script calls or sets what runs on the server', () => {
    expect(button('this.gate.open();')).toEqual([
      'Button runs on the client and calls Gate.open, which runs on the server, with no event between @ scripts/client/button.ts:1',
    ]);
    expect(button('this.gate.isOpen = true;').length).toBe(1);
  });
  it('fires when it reads a flag that the server alone sets in play', () => {
    expect(button('if (this.gate.isOpen) this.light();')).toEqual([
      'Button runs on the client and reads Gate.isOpen, which the server alone sets, with no event between @ scripts/client/button.ts:1',
    ]);
  });
  it('is silent when the server sends and the client listens', () => {
    expect(button("bells.ring('go');")).toEqual([]);
  });
  it('is silent on fields that both see, and on functions that say they run here', () => {
    expect(
      button('if (this.gate.isOpen) this.light();', gate.replace('isOpen = false', '@shared isOpen = false')),
    ).toEqual([]);
    expect(button('this.gate.open();', gate.replace('open()', '@onClient open()'))).toEqual([]);
  });
  it('is silent when the plan names no sides', () => {
    const files: Files = {
      'scripts/gate.ts': gate,
      'scripts/button.ts': 'export class Button { gate: Gate; press() { this.gate.open(); } }',
    };
    expect(found(check, files)).toEqual([]);
  });
});

describe('calls that work on one side alone', () => {
  beforeAll(useGrammars);
  const hide = (side: string): string[] =>
    found(
      'broken/barred-target',
      {
        'scripts/lamp.ts': script('Lamp', "stage.find('Post').hide();"),
        'scenes/a.json': scene(carrier('Lamp', 'lamp.ts'), { name: 'Post' }),
      },
      {
        scripts: {
          ts: { match: 'scripts/*.ts', language: 'typescript', moments: { start: ['begin'] }, ...(side && { side }) },
        },
        calls: [
          { call: 'stage.find($name)', means: 'find' },
          { call: '*.hide()', means: 'switch', side: 'server' },
        ],
      },
    );

  it('are told when the script runs on the other', () => {
    expect(hide('client')).toEqual([
      'a / Lamp / Lamp switches a / Post, and that works on the other side alone @ scripts/lamp.ts:4',
    ]);
  });
  it('are fine on that side, on both, and where no side is known', () => {
    for (const side of ['server', 'both', '']) expect(hide(side)).toEqual([]);
  });
});

describe('fragile/late-listener', () => {
  beforeAll(useGrammars);
  const check = 'fragile/late-listener';
  const tide = (listens: string, more: { rest?: string; sends?: string; plan?: object } = {}): string[] =>
    found(
      check,
      {
        'scripts/tide.ts': script('Tide', more.sends ?? "bells.ring('tide.set', 3);"),
        'scripts/gauge.ts': script('Gauge', listens, `${more.rest ?? ''} draw(level = 0) {}`),
        'scenes/a.json': scene(carrier('Clock', 'tide.ts', { objects: [carrier('Gauge', 'gauge.ts')] })),
      },
      more.plan,
    );
  const hears = "bells.hear('tide.set', this.draw);";

  it('fires when both begin at the start and no order is stated', () => {
    expect(tide(hears)).toEqual([
      'Tide sends tide.set at the start of play; Gauge begins to listen then too, and no order is stated @ scripts/gauge.ts:4',
    ]);
  });
  it('fires when listening begins on an event that comes later', () => {
    expect(tide("bells.hear('engine.dusk', this.wake);", { rest: `wake() { ${hears} }` })).toEqual([
      'Tide sends tide.set at the start of play; Gauge begins to listen later @ scripts/gauge.ts:2',
    ]);
  });
  it('is silent with the extra look at the present value', () => {
    expect(tide(`${hears} this.draw();`)).toEqual([]);
    expect(tide(`${hears} const tide = stage.find('Clock'); this.show(tide.level);`)).toEqual([]);
  });
  it('is silent when the event is sent at other moments too', () => {
    expect(
      tide(hears, { sends: "bells.ring('tide.set', 3); bells.hear('engine.dawn', () => bells.ring('tide.set', 4));" }),
    ).toEqual([]);
  });
  it('is silent where the plan states an order in which it listens first', () => {
    const engine = { events: ['engine.*'] };
    expect(tide(hears, { plan: { engine: { ...engine, startOrder: 'held first' } } })).toEqual([]);
    expect(tide(hears, { plan: { engine: { ...engine, startOrder: 'holders first' } } }).length).toBe(1);
    const scripts = { ts: { match: 'scripts/*.ts', language: 'typescript', moments: { start: ['prepare', 'begin'] } } };
    expect(tide('', { rest: `prepare() { ${hears} }`, plan: { scripts } })).toEqual([]);
  });
});

describe('fragile/unguarded-input', () => {
  beforeAll(useGrammars);
  const check = 'fragile/unguarded-input';
  const CALLS = [
    { call: 'bells.ring($event, ...)', means: 'send' },
    { call: 'bells.hear($event, $handler)', means: 'listen' },
    { call: 'desk.isTyping()', means: 'asks input' },
    { call: 'pressed($action)', means: 'refer', target: { by: 'name', kinds: ['input action'] }, verb: 'reads' },
  ];
  const ENGINE = { events: ['engine.*'], inputs: ['engine.key'], ids: ['whistle'] };
  const whistle = (key: string, rest = '', calls: object[] = CALLS): string[] =>
    found(
      check,
      { 'scripts/whistle.ts': script('Whistle', "bells.hear('engine.key', this.key);", `key() { ${key} } ${rest}`) },
      { calls, engine: ENGINE },
    );

  it('fires on a key handler that acts whoever has the input', () => {
    expect(whistle("bells.ring('whistle');")).toEqual([
      'Whistle.key() sends an event on engine.key and does not ask whether a text box or menu has the input @ scripts/whistle.ts:2',
    ]);
  });
  it('fires on a function that asks for an action in every frame', () => {
    expect(whistle('', "everyFrame() { if (pressed('whistle')) bells.ring('whistle'); }").length).toBe(1);
  });
  it('is silent when it asks, when its caller asks, and when it does nothing of the kind', () => {
    expect(whistle("if (desk.isTyping()) return; bells.ring('whistle');")).toEqual([]);
    expect(whistle('if (!desk.isTyping()) this.blow();', "blow() { bells.ring('whistle'); }")).toEqual([]);
    expect(whistle('this.count = 3;')).toEqual([]);
  });
  it('is silent when the plan knows no call that asks', () => {
    expect(
      whistle(
        "bells.ring('whistle');",
        '',
        CALLS.filter(({ means }) => means !== 'asks input'),
      ),
    ).toEqual([]);
  });
});
