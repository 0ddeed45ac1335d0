/** Events that a row of the plan states, handlers that hear by their name, names that are identifiers. */
import { plain } from '../model/finding.js';
import { carrier, PLAN, scan, scanWith, scene, script, useGrammars, type Files } from '../testing/project.js';

const CALLS = [
  { call: 'on.$event($handler)', means: 'listen', event: 'on.*' },
  { call: 'post($event)', means: 'send', event: 'on.*' },
  { call: 'tide.turn()', means: 'send', event: 'tide.turned' },
  { call: 'tide.onTurn($handler)', means: 'listen', event: 'tide.turned' },
  { call: 'bells.ring($event, ...)', means: 'send' },
  { call: 'bells.hear($event, $handler)', means: 'listen' },
];
const HANDLERS = { functions: 'on([A-Z]\\w*)', event: 'on.*' };

/** What is told of events, in the whole project. */
function told(files: Files, more: object = {}): string[] {
  const { linked, findings } = scanWith(files, {
    ...PLAN,
    calls: CALLS,
    scripts: {
      ts: { ...PLAN.scripts.ts, ...more },
      lua: { match: 'scripts/*.lua', language: 'lua', ...more },
      cs: { match: 'scripts/*.cs', language: 'csharp', ...more },
    },
  });
  const ends = linked.events.map(
    ({ name, senders, listeners }) =>
      `${name}: ${senders.length} sent, ${listeners.map(({ handler }) => handler).join()}`,
  );
  return [
    ...ends,
    ...findings.flatMap(({ check, sentence }) => (/event|sent|heard/.test(check) ? [plain(sentence)] : [])),
  ];
}
const hears = (code: string): Files => ({ 'scripts/a.ts': script('A', code, 'up() { this.body.rise(); }') });

describe('an event', () => {
  beforeAll(useGrammars);

  it('is put together from the chain by the row', () =>
    expect(told({ ...hears('on.Moored(this.up);'), 'scripts/b.lua': 'post("Moored")' })).toEqual([
      'on.Moored: 1 sent, up',
    ]));
  it('is what the row states', () =>
    expect(told({ ...hears('tide.onTurn(this.up);'), 'scripts/b.lua': 'tide.turn()' })).toEqual([
      'tide.turned: 1 sent, up',
    ]));
  it('that is put together and not sent is told', () =>
    expect(told({ ...hears('on.Moored(this.up);'), 'scripts/b.lua': 'post("Mored")' }).length).toBeGreaterThan(2));
  it('that is only known at run time is not told', () =>
    expect(told({ ...hears('on.Moored(this.up);'), 'scripts/b.lua': 'post(what())' })).toEqual([
      'on.Moored: 0 sent, up',
    ]));
  it('may be an identifier that stands for itself', () => {
    const files: Files = {
      'scripts/a.ts': script('A', 'bells.hear(TIDE_TURNED, this.up);', 'up() { this.body.rise(); }'),
      'scripts/b.lua': 'bells.ring(TIDE_TURNED)',
    };
    expect(told(files)).toEqual(['TIDE_TURNED: 1 sent, up']);
    expect(told({ ...files, 'scripts/b.lua': 'bells.ring(tide)' })[0]).toBe('TIDE_TURNED: 0 sent, up');
  });

  describe('heard by the name of a function', () => {
    const BY_NAME: Files = {
      'scripts/a.ts': script('A', '', 'onMoored() { this.body.rise(); } only() {} onward() {}'),
      'scripts/b.lua': 'post("Moored")',
    };
    it('has that function for a listener', () =>
      expect(told(BY_NAME, { handlers: HANDLERS })).toEqual(['on.Moored: 1 sent, onMoored']));
    it('has none without the rule', () => expect(told(BY_NAME)[0]).toBe('on.Moored: 1 sent, '));
    it('is told when its name is misspelt on either side', () => {
      const [ends, other, ...findings] = told({ ...BY_NAME, 'scripts/b.lua': 'post("Mored")' }, { handlers: HANDLERS });
      expect([ends, other].sort()).toEqual(['on.Moored: 0 sent, onMoored', 'on.Mored: 1 sent, ']);
      expect(findings.length).toBe(2);
    });
    it('is heard in C# as well, and by several types', () => {
      const files: Files = {
        'scripts/a.cs': 'class A { void onMoored() { rise(); } }\nclass B { void onMoored() { rise(); } }',
        'scripts/b.lua': 'post("Moored")',
      };
      expect(told(files, { handlers: HANDLERS })).toEqual(['on.Moored: 1 sent, onMoored,onMoored']);
    });
    it('goes on into the function in the story', () => {
      const files: Files = {
        'scripts/a.ts': script('A', '', "onMoored() { bells.ring('fast'); }"),
        'scripts/b.lua': 'post("Moored")',
      };
      const scripts = { ts: { ...PLAN.scripts.ts, handlers: HANDLERS }, lua: { match: '**/*.lua', language: 'lua' } };
      const { linked } = scanWith(files, { ...PLAN, calls: CALLS, scripts });
      expect(linked.storyOf('on.Moored', 'forward').map(({ does, what }) => `${does} ${what}`.trim())).toContain(
        'sends fast',
      );
    });
  });
});

describe('events that are objects', () => {
  beforeAll(useGrammars);
  const calls = [
    ...PLAN.calls,
    { call: '*.below($name)', means: 'child' },
    { call: '$event.strike(...)', means: 'send' },
    { call: '$event.hear($handler)', means: 'listen' },
  ];
  const told = (send: string, hear: string, ...more: object[]): string[] =>
    scan(
      {
        'scripts/own.ts': script('Own', '', `later() { ${send} }`),
        'scripts/hearer.ts': script('Hearer', '', `wake() { ${hear} } turn() {}`),
        'scenes/a.json': scene(
          carrier('Boat', 'own.ts'),
          carrier('Lad', 'hearer.ts'),
          { name: 'Bells', objects: [{ name: 'Fog' }, { name: 'Dusk' }] },
          ...more,
        ),
      },
      { calls },
    ).findings.map(({ check, sentence }) => `${check} ${plain(sentence)}`);

  it('are known by what is looked up, whatever way leads to it, at once or kept', () => {
    expect(told("stage.find('Bells').below('Fog').strike();", "stage.find('Fog').hear(this.turn);")).toEqual([]);
    expect(
      told(
        "const fog = stage.find('Bells').below('Fog'); fog.strike();",
        "this.fog = stage.find('Bells').below('Fog'); this.fog.hear(this.turn);",
      ),
    ).toEqual([]);
    expect(
      told("stage.find('Bells').below('Fog').strike();", "stage.find('Bells').below('Dusk').hear(this.turn);"),
    ).toEqual([
      'fragile/unheard Fog is sent by Own and nobody listens',
      'fragile/never-sent Dusk is listened to by Hearer and nobody sends it',
    ]);
  });
  it('of one name are told apart by the way to them', () => {
    const other = { name: 'Whistles', objects: [{ name: 'Fog' }] };
    expect(
      told("stage.find('Bells').below('Fog').strike();", "stage.find('Whistles').below('Fog').hear(this.turn);", other),
    ).toEqual([
      'fragile/unheard Bells/Fog is sent by Own and nobody listens',
      'fragile/never-sent Whistles/Fog is listened to by Hearer and nobody sends it',
    ]);
  });
  describe('in slots', () => {
    const filled = (bell: string): Files => ({
      'scripts/own.ts': script('Own', '', '@slot() bell;\n later() { this.bell.strike(); }'),
      'scripts/hearer.ts': script(
        'Hearer',
        '',
        "wake() { stage.find('Bells').below('Fog').hear(this.turn); } turn() {}",
      ),
      'scenes/a.json': scene(carrier('Boat', 'own.ts', {}, { bell }), carrier('Lad', 'hearer.ts'), {
        name: 'Bells',
        objects: [
          { name: 'Fog', id: 'fog' },
          { name: 'Dusk', id: 'dusk' },
        ],
      }),
    });
    const saying = (files: Files): string[] =>
      scan(files, { calls }).findings.map(({ check, sentence }) => `${check} ${plain(sentence)}`);

    it('are known by what fills them', () => {
      expect(saying(filled('#fog'))).toEqual([]);
      expect(saying(filled('#dusk'))).toEqual([
        'fragile/unheard Dusk is sent by Own and nobody listens',
        'fragile/never-sent Fog is listened to by Hearer and nobody sends it',
      ]);
    });
    it('are not known where a slot is empty or lost', () => {
      expect(saying(filled('#gone')).filter((one) => one.startsWith('fragile/unheard'))).toEqual([]);
    });
  });
  it('that are services are known by their type', () => {
    const services = [...calls, { call: 'service($type)', means: 'find type', scope: 'one' }];
    const saying = (heard: string): string[] =>
      scan(
        {
          'scripts/own.ts': script('Own', '', 'later() { service(Horn).strike(); }'),
          'scripts/hearer.ts': script(
            'Hearer',
            '',
            `wake() { this.horn = service(${heard}); this.horn.hear(this.turn); } turn() {}`,
          ),
          'scripts/horn.ts': script('Horn', '') + script('Gong', ''),
          'scenes/a.json': scene(carrier('Boat', 'own.ts'), carrier('Lad', 'hearer.ts'), carrier('Horn', 'horn.ts'), {
            name: 'Gong',
            parts: [{ type: 'Gong' }],
          }),
        },
        { calls: services },
      )
        .findings.map(({ check }) => check)
        .filter((check) => ['fragile/unheard', 'fragile/never-sent'].includes(check));
    expect(saying('Horn')).toEqual([]);
    expect(saying('Gong').sort()).toEqual(['fragile/never-sent', 'fragile/unheard']);
  });
  it('are not known where the way is made at run time, or something else gives them', () => {
    expect(told('stage.find(this.name).strike();', 'this.pick().hear(this.turn);')).toEqual([]);
  });
});
