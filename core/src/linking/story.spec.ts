import { carrier, scan, scene, script, useGrammars, type Files } from '../testing/project.js';
import { wiring, lifeCycle } from '../trace/wiring.js';
import type { StoryLine } from './linked.js';

const FLIGHT: Files = {
  'scripts/rope.ts': script('Rope', "bells.ring('tight', 3);"),
  'scripts/lock.ts': script(
    'Lock',
    "bells.hear('tight', this.onTight);",
    "onTight(load) { this.tell(); if (load > 2) bells.ring('hold'); } tell() { bells.ring('told'); spawnFrom('prefabs/a.json'); }",
  ),
  'scripts/gate.ts': script('Gate', "bells.hear('hold', this.hold);", "hold() { bells.ring('tight'); }"),
  'prefabs/a.json': { objects: [{ name: 'A' }] },
};

const told = (lines: StoryLine[]): string[] =>
  lines.map(
    ({ depth, who, does, what, mark }) =>
      '  '.repeat(depth) + [who, does, what, mark && `(${mark})`].filter(Boolean).join(' '),
  );

describe('the story of an event', () => {
  beforeAll(useGrammars);

  it('goes on through handlers and functions of their own, to its end or round in a circle', () => {
    expect(told(scan(FLIGHT).linked.storyOf('tight', 'forward'))).toEqual([
      'Lock hears it onTight()',
      '  Lock sends hold (only if load > 2)',
      '    Gate hears it hold()',
      '      Gate sends tight (round in a circle)',
      '  Lock sends told',
      '    nobody listens',
      '  Lock spawns prefabs/a.json',
    ]);
  });
  it('goes back to what can lead to it', () => {
    expect(told(scan(FLIGHT).linked.storyOf('hold', 'backward'))).toEqual([
      'Lock sends it in onTight() (only if load > 2)',
      '  tight leads to it',
      '    Gate sends it in hold()',
      '      hold leads to it (round in a circle)',
      '    Rope sends it in begin()',
      '      the engine calls it at the start',
    ]);
    expect(told(scan(FLIGHT).linked.storyOf('nothing', 'backward'))).toEqual(['nobody sends it']);
  });
  it('goes through functions written in place, and begins with the engine', () => {
    const files: Files = {
      'scripts/bell.ts': script(
        'Bell',
        "bells.hear('engine.dusk', () => this.toll());",
        "toll() { bells.ring('tolled'); }",
      ),
      'scripts/lad.ts': script('Lad', "bells.hear('tolled', () => bells.ring('up'));"),
    };
    const { storyOf } = scan(files).linked;
    expect(told(storyOf('engine.dusk', 'forward'))).toEqual([
      'Bell hears it in place',
      '  Bell sends tolled',
      '    Lad hears it in place',
      '      Lad sends up',
      '        nobody listens',
    ]);
    expect(told(storyOf('up', 'backward'))).toEqual([
      'Lad sends it',
      '  tolled leads to it',
      '    Bell sends it in toll()',
      '      engine.dusk leads to it',
      '        the engine sends it',
    ]);
  });
  it('follows wires that files save to the scripts on their objects', () => {
    const files: Files = {
      'scripts/gate.ts': 'export class Gate { open() { bells.ring("opened"); } }',
      'scenes/a.json': {
        ...scene(carrier('Gate', 'gate.ts', { id: 'g' })),
        wires: [{ when: 'noon', to: '#g', do: 'open' }],
      },
    };
    const { storyOf } = scan(files).linked;
    expect(told(storyOf('noon', 'forward'))).toEqual([
      'a / Gate hears it open()',
      '  Gate sends opened',
      '    nobody listens',
    ]);
    expect(told(storyOf('opened', 'backward'))).toEqual([
      'Gate sends it in open()',
      '  noon leads to it',
      '    nobody sends it',
    ]);
  });
});

describe('the story of an event with many ends', () => {
  beforeAll(useGrammars);

  it('follows children that take the place of a handler', () => {
    const { storyOf } = scan({
      'scripts/boat.ts': script('Boat', "bells.hear('tight', this.pull);", 'pull() {}'),
      'scripts/tug.ts': "export class Tug extends Boat { pull() { bells.ring('pulled'); } }",
      'scripts/punt.ts': 'export class Punt extends Boat { push() {} }',
    }).linked;
    expect(told(storyOf('tight', 'forward'))).toEqual([
      'Boat hears it pull()',
      'Tug hears it pull() (in place of Boat)',
      '  Tug sends pulled',
      '    nobody listens',
    ]);
  });
  it('follows calls of other objects, where the code says which type they are', () => {
    const { storyOf } = scan({
      'scripts/gate.ts': script(
        'Gate',
        "bells.hear('paid', this.open);",
        'office!: Office; open() { this.office.close(3); }',
      ),
      'scripts/office.ts':
        "export class Office { close(at: number) { this.tell(); } tell() { bells.ring('closed'); } }",
    }).linked;
    expect(told(storyOf('paid', 'forward'))).toEqual([
      'Gate hears it open()',
      '  Office sends closed (only if something holds)',
      '    nobody listens',
    ]);
  });
  it('says of a wire whose function is not there that it is not', () => {
    const wired = (code: string): string[] =>
      told(
        scan({
          'scripts/gate.ts': code,
          'scenes/a.json': {
            ...scene(carrier('Gate', 'gate.ts', { id: 'g' })),
            wires: [{ when: 'noon', to: '#g', do: 'opne' }],
          },
        }).linked.storyOf('noon', 'forward'),
      );
    expect(wired('export class Gate { open() {} }')).toEqual(['a / Gate hears it opne() (it has no such function)']);
    expect(wired('export class Gate extends Door { open() {} }')).toEqual(['a / Gate hears it opne()']);
  });
});

describe('the ledger of events', () => {
  beforeAll(useGrammars);
  const ledger = (filter = {}): string[] =>
    wiring(
      scan({
        ...FLIGHT,
        'scripts/x.ts': script('X', "bells.hear('engine.dusk', this.go); bells.hear('never', this.go);", 'go() {}'),
      }).linked.graph,
      filter,
      0,
      50,
    ).rows.map(
      ({ what, state, senders, listeners }) =>
        `${what.name} ${state}: ${senders.map(({ piece }) => piece.name).join()} → ${listeners.map(({ piece }) => piece.name).join()}`,
    );

  it('has both ends of each, and says which lack one', () => {
    expect(ledger()).toEqual([
      'engine.dusk engine:  → X',
      'hold joined: Lock → Gate',
      'never never sent:  → X',
      'tight joined: Gate,Rope → Lock',
      'told unheard: Lock → ',
    ]);
  });
  it('is narrowed by ends, moment and words', () => {
    expect(ledger({ state: 'unheard' })).toEqual(['told unheard: Lock → ']);
    expect(ledger({ text: 'rope' })).toEqual(['tight joined: Gate,Rope → Lock']);
    expect(ledger({ moment: 'every frame' })).toEqual([]);
    expect(ledger({ side: 'server' })).toEqual([]);
  });
  it('counts the places that send, by moment', () => {
    const { sends, total } = wiring(scan(FLIGHT).linked.graph, {}, 0, 1);
    expect([sends['start'], sends['on an event'], total]).toEqual([1, 3, 3]);
  });
  it('tells what comes into play', () => {
    const { graph, losses } = scan(FLIGHT).linked;
    expect(
      lifeCycle(graph, losses).groups.map(({ verb, lines }) => `${verb} ${lines.map(({ to }) => to?.name).join()}`),
    ).toEqual(['spawns a']);
  });
});

describe('the ledger of flags', () => {
  beforeAll(useGrammars);
  const GATE: Files = {
    'scripts/gate.ts': script(
      'Gate',
      "bells.hear('level', this.level);",
      'isLevel = false; isOpen = false; level() { this.isLevel = true; } open() { if (this.isLevel) this.isOpen = true; }',
    ),
    'scripts/eye.ts': script('Eye', 'if (!this.gate.isLevel) return;', 'gate: Gate;'),
    'scenes/a.json': scene(carrier('Lock', 'gate.ts')),
  };

  it('has who sets each and who asks for it, with the condition as written', () => {
    const { rows } = wiring(scan(GATE).linked.graph, { of: 'flags' }, 0, 50);
    expect(
      rows.map(({ what, state, senders, listeners }) => [
        what.title,
        state,
        senders.map(({ piece, link }) => `${piece.name} ${link.label}, ${link.moment}`),
        listeners.map(({ piece, link }) => `${piece.name} ${link.label}`),
      ]),
    ).toEqual([
      [
        'Gate.isLevel',
        'joined',
        ['Gate set on in level(), on an event'],
        ['Eye asked in begin(): !this.gate.isLevel', 'Gate asked in open(): this.isLevel'],
      ],
      ['Gate.isOpen', 'unheard', ['Gate set on in open(), unknown'], []],
    ]);
    const unread = wiring(scan(GATE).linked.graph, { of: 'flags', state: 'unheard', text: 'gate' }, 0, 50);
    expect(unread.rows.map(({ what }) => what.name)).toEqual(['isOpen']);
  });
  it('says what a scene change sets back, and not what is kept', () => {
    const resets = (calls: object[]): string[][] => {
      const { graph, losses } = scan(
        { ...GATE, 'scripts/keep.ts': script('Keep', 'stage.keep(this.object);'), 'scenes/a.json': scene(KEPT) },
        { calls },
      ).linked;
      return lifeCycle(graph, losses).resets.map(({ flag, objects }) => [
        flag.title,
        ...objects.map(({ title }) => title),
      ]);
    };
    const KEPT = {
      name: 'Lock',
      parts: [{ script: 'scripts/gate.ts' }, { script: 'scripts/keep.ts' }],
    };
    const CALLS = [
      { call: 'bells.hear($event, $handler)', means: 'listen' },
      { call: '*.object', means: 'same object' },
    ];
    expect(resets(CALLS)).toEqual([['Gate.isLevel', 'a / Lock']]);
    expect(resets([...CALLS, { call: 'stage.keep($object)', means: 'keep' }])).toEqual([]);
  });
  it('says what attaches a script in play, and what removes itself', () => {
    const files: Files = {
      'scripts/boat.ts': script('Boat', 'this.object.attach(Rower);'),
      'scripts/rower.ts': 'export class Rower { leave() { remove(this.object); } }',
      'scenes/a.json': scene(carrier('Boat', 'boat.ts')),
    };
    const calls = [
      { call: '*.object', means: 'same object' },
      { call: '*.attach($type)', means: 'attach' },
      { call: 'remove($object)', means: 'destroy' },
    ];
    const { graph, losses } = scan(files, { calls }).linked;
    expect(
      lifeCycle(graph, losses).groups.map(({ verb, lines }) => [verb, ...lines.map(({ link }) => link.label)]),
    ).toEqual([
      ['carries', 'attached in play'],
      ['destroys', 'itself'],
    ]);
  });
});
