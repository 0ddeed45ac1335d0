import { carrier, scan, scene, script, told, useGrammars, type Files } from '../testing/project.js';

const findings = (check: string, files: Files): string[] => told(scan(files), check);

const tree = (code: string, rest = ''): Files => ({
  'scripts/rope.ts': script('Rope', code, rest),
  'scenes/a.json': scene({
    name: 'Tender',
    objects: [
      { name: 'Cleat' },
      { name: 'Stern', objects: [carrier('Line', 'rope.ts', { objects: [{ name: 'Knot' }] }), { name: 'Lamp' }] },
    ],
  }),
});

describe('fragile/climb', () => {
  beforeAll(useGrammars);
  const check = 'fragile/climb';

  it('fires on two steps up, with or without a step down', () => {
    expect(findings(check, tree('this.holder.holder.show();'))).toEqual([
      'Rope climbs two steps up to reach what it needs, on Line @ scripts/rope.ts:4',
    ]);
    expect(findings(check, tree("this.holder.holder.child('Cleat').show();"))[0]).toContain(
      'two steps up and down again',
    );
  });
  it('fires on one step up and down again, and on a path that climbs', () => {
    expect(findings(check, tree("this.holder.child('Lamp').show();"))[0]).toContain(
      'climbs one step up and down again',
    );
    expect(findings(check, tree("this.way('../../Cleat').show();")).length).toBe(1);
  });
  it('fires once for a climb that several look-ups share', () => {
    expect(
      findings(check, tree("const b = this.holder.holder; b.child('Cleat').show(); b.child('Stern').show();")).length,
    ).toBe(1);
  });

  const silent: [string, Files][] = [
    ['it takes a single step up', tree('this.holder.show();')],
    ['it only goes down', tree("this.child('Knot').show();")],
    ['it leads nowhere anyway', tree("this.holder.holder.child('Gone').show();")],
    ['the climb is on no object', { 'scripts/rope.ts': script('Rope', 'this.holder.holder.show();') }],
  ];
  for (const [when, files] of silent) it(`is silent when ${when}`, () => expect(findings(check, files)).toEqual([]));
});

/** Two scripts, one that sends and one that listens. */
const events = (sends: string, hears: string): Files => ({
  'scripts/bell.ts': `export class Bell { ring() { ${sends} } }`,
  'scripts/keeper.ts': `export class Keeper { begin() { ${hears} } hear() {} }`,
});

describe('fragile/unheard', () => {
  beforeAll(useGrammars);
  const check = 'fragile/unheard';

  it('fires when nobody listens, and offers the name that is almost the same', () => {
    expect(findings(check, events("bells.ring('rope.parted');", "bells.hear('rope.part', this.hear);"))).toEqual([
      'rope.parted is sent by Bell and nobody listens; rope.part is listened to @ scripts/bell.ts:1',
    ]);
  });
  it('fires once for all senders', () => {
    expect(findings(check, events("bells.ring('a.b'); bells.ring('a.b', 1);", ''))).toEqual([
      'a.b is sent by Bell and 1 more, but nobody listens @ scripts/bell.ts:1',
    ]);
  });

  const silent: [string, Files][] = [
    ['somebody listens', events("bells.ring('a');", "bells.hear('a', this.hear);")],
    ['the engine listens', events("bells.ring('engine.shake');", '')],
    [
      'somebody listens by a constant',
      events(
        "bells.ring('a');",
        'bells.hear(Names.a, this.hear); } } export const Names = { a: "a" }; class X { f() {',
      ),
    ],
    [
      'a listener takes names at run time and this one stands in the code',
      events("bells.ring('a');", "for (const name of list('a', 'b')) bells.hear(name, this.hear);"),
    ],
    [
      'a listener’s name is made at run time and fits',
      events("bells.ring('gate.open');", 'bells.hear(`gate.${this.what}`, this.hear);'),
    ],
    ['the name that is sent is not known', events('bells.ring(this.what);', '')],
  ];
  for (const [when, files] of silent) it(`is silent when ${when}`, () => expect(findings(check, files)).toEqual([]));
});

/** Events that are types of their own: `Tide.announce(this)`. */
const TYPED = [
  { call: '$event.announce(_, ...)', means: 'send', under: 'Notice' },
  { call: '$event.await($handler)', means: 'listen', under: 'Notice' },
];
const typed = (sends: string): string[] =>
  scan(
    {
      'scripts/tide.ts': 'export class Tide extends Notice {}\nexport class Other {}',
      'scripts/clock.ts': `export class Clock { constructor(kind) { this.kind = kind; } turn() { ${sends} } }`,
      'scripts/gauge.ts': 'export class Gauge { begin() { Tide.await(this.show); Other.await(this.show); } show() {} }',
    },
    { calls: TYPED },
  ).findings.map((finding) => finding.check);

describe('events that are types', () => {
  beforeAll(useGrammars);

  it('are never sent when nobody announces them; other types are no events', () =>
    expect(typed('')).toEqual(['fragile/never-sent']));
  it('are sent by name, by a function handed on, and by a field that was given the type', () => {
    expect(typed('Tide.announce(this);')).toEqual([]);
    expect(typed('later(Tide.announce);')).toEqual([]);
    expect(typed('this.kind.announce(this); new Clock(Tide);')).toEqual([]);
  });
});

describe('fragile/never-sent', () => {
  beforeAll(useGrammars);
  const check = 'fragile/never-sent';

  it('fires when nobody sends', () => {
    expect(findings(check, events('', "bells.hear('tide.turned', this.hear);"))).toEqual([
      'tide.turned is listened to by Keeper and nobody sends it @ scripts/keeper.ts:1',
    ]);
  });
  it('fires on both ends of a slip of the pen', () => {
    const analysis = scan(events("bells.ring('level.reached');", "bells.hear('level.reachd', this.hear);"));
    expect(analysis.findings.map((finding) => finding.check)).toEqual(['fragile/unheard', 'fragile/never-sent']);
  });

  const silent: [string, Files][] = [
    ['somebody sends', events("bells.ring('a');", "bells.hear('a', this.hear);")],
    ['the engine sends', events('', "bells.hear('engine.touched', this.hear);")],
    [
      'a wire in a scene sends',
      {
        ...events('', "bells.hear('pressed', this.hear);"),
        'scenes/a.json': {
          objects: [{ name: 'Plate', id: 'p' }],
          wires: [{ when: 'pressed', from: '#p', to: '#p', do: 'x' }],
        },
      },
    ],
    [
      'a sender takes names at run time and this one is given to it',
      events("const send = (name) => bells.ring(name); send('a');", "bells.hear('a', this.hear);"),
    ],
  ];
  for (const [when, files] of silent) it(`is silent when ${when}`, () => expect(findings(check, files)).toEqual([]));
});

describe('events that a file declares', () => {
  beforeAll(useGrammars);
  const declared = (sends: string, hears = ''): string[] =>
    told(
      scan(
        { ...events(sends, hears), 'events/bells.json': { bells: [{ name: 'noon' }] } },
        {
          files: {
            bells: { match: 'events/*', as: 'data asset', pieces: { bells: { at: '$.bells[*]', kind: 'event' } } },
          },
        },
      ),
      'fragile/never-sent',
    );

  it('are told when nobody uses them', () => {
    expect(declared('')).toEqual([
      'noon is declared as an event, and nobody sends it or listens to it @ events/bells.json:4',
    ]);
  });
  it('are fine when both ends are there, and when code mentions the name', () => {
    expect(declared("bells.ring('noon');", "bells.hear('noon', this.hear);")).toEqual([]);
    expect(declared("this.say('noon');")).toEqual([]);
  });
});

/** So many scripts, each on an object of its own, that all do the same. */
const crew = (count: number, code: (at: number) => string, ...others: object[]): Files => {
  const numbers = Array.from({ length: count }, (_, at) => at + 1);
  return {
    ...Object.fromEntries(numbers.map((at) => [`scripts/hand${at}.ts`, script(`Hand${at}`, code(at))])),
    'scenes/a.json': scene({ name: 'Winch' }, ...others, ...numbers.map((at) => carrier(`H${at}`, `hand${at}.ts`))),
  };
};

describe('fragile/hub', () => {
  beforeAll(useGrammars);
  const check = 'fragile/hub';

  it('fires when six scripts reach one object by its name', () => {
    expect(
      findings(
        check,
        crew(6, () => "stage.find('Winch').show();"),
      ),
    ).toEqual([
      'a / Winch is reached by its name or its place from 6 scripts, Hand1 and Hand2 among them @ scripts/hand1.ts:4',
    ]);
  });
  it('counts names and places together', () => {
    const mixed = crew(6, (at) => (at < 4 ? "stage.find('Winch').show();" : "this.way('../Winch').show();"));
    expect(findings(check, mixed).length).toBe(1);
  });

  it('counts the copies of one object of a prefab as one', () => {
    const hands = Array.from({ length: 6 }, (_, at) => carrier(`H${at + 1}`, `hand${at + 1}.ts`));
    const drum = { name: 'Drum' };
    const files = {
      ...crew(6, () => "this.way('../Drum').show();"),
      'prefabs/winch.json': scene({ name: 'Winch', objects: [drum, ...hands] }),
      'scenes/a.json': scene(
        { name: 'One', prefab: 'prefabs/winch.json' },
        { name: 'Two', prefab: 'prefabs/winch.json' },
      ),
    };
    expect(findings(check, files).length).toBe(1);
  });

  const own = Array.from({ length: 6 }, (_, at) => ({ script: `scripts/hand${at + 1}.ts`, slots: {} }));
  const silent: [string, Files][] = [
    [
      'they are all on that object',
      { ...crew(6, () => "stage.find('Winch').show();"), 'scenes/a.json': scene({ name: 'Winch', parts: own }) },
    ],
    [
      'slots of saved files hold it by its identity',
      {
        ...crew(6, () => ''),
        'scenes/a.json': scene(
          { name: 'Winch', id: 'w' },
          ...own.map((_, at) => carrier(`H${at + 1}`, `hand${at + 1}.ts`, {}, { winch: '#w' })),
        ),
      },
    ],
    ['five do', crew(5, () => "stage.find('Winch').show();")],
    ['one script does it six times', crew(1, () => "stage.find('Winch').show(); ".repeat(6))],
    ['they reach different objects', crew(6, (at) => `stage.find('H${(at % 6) + 1}').show();`)],
    ['nobody of that name is there', crew(6, () => "stage.find('Windlass').show();")],
  ];
  for (const [when, files] of silent) it(`is silent when ${when}`, () => expect(findings(check, files)).toEqual([]));
});
