import { carrier, scan, scene, script, useGrammars, type Files } from '../testing/project.js';
import { wiring, lifeCycle } from '../trace/wiring.js';
import type { StoryLine } from './story.js';

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
      ({ event, state, senders, listeners }) =>
        `${event.name} ${state}: ${senders.map(({ piece }) => piece.name).join()} → ${listeners.map(({ piece }) => piece.name).join()}`,
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
      lifeCycle(graph, losses).map(({ verb, lines }) => `${verb} ${lines.map(({ to }) => to?.name).join()}`),
    ).toEqual(['spawns a']);
  });
});
