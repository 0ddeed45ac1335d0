/** Chains, neighbourhood and coupling: questions on the map beyond one piece. */
import type { Analysis } from '../analyse.js';
import { keyOf, type Graph } from '../model/graph.js';
import { circles } from '../model/circles.js';
import { carrier, scan, scene, script, useGrammars } from '../testing/project.js';
import { chainsBetween, MOST_CHAINS, type ChainStep } from './chains.js';
import { coupling, couplingLinks, foldersBelow } from './coupling.js';
import { neighbourhood } from './neighbourhood.js';
import { searchPieces } from './search.js';
import { pieceByKey, tracePiece } from './trace.js';

/** Bell rings, the gate hears it and looks a leaf up; the keeper holds the gate in a slot. */
function flight(): Analysis {
  return scan({
    'scripts/bell.ts': script('Bell', "bells.ring('noon');"),
    'scripts/gate.ts': script('Gate', "bells.hear('noon', this.open); this.child('Leaf').show();", 'open() {}'),
    'scripts/keeper.ts': script('Keeper', '', '@slot() gate?: Gate;'),
    'scenes/quay.json': scene(
      carrier('Bell', 'bell.ts', { id: 'bell' }),
      carrier('Gate', 'gate.ts', { id: 'gate', objects: [{ name: 'Leaf' }] }),
      carrier('Keeper', 'keeper.ts', {}, { gate: '#gate' }),
    ),
    'scenes/mill.json': scene({ name: 'Wheel', id: 'wheel' }),
  });
}

function named(graph: Graph, title: string, kind: string): number {
  const hit = searchPieces(graph, title, 50).find((one) => one.kind === kind && one.name === title);
  return pieceByKey(graph, hit!.key)!;
}
const told = (chain: ChainStep[] | null): string[] =>
  (chain ?? []).map(({ from, words, to, grip }) => `${from.name} ${words} ${to.name} (${grip})`);

describe('chains', () => {
  beforeAll(useGrammars);

  it('lead over slots and look-ups, firmest and shortest', () => {
    const { graph } = flight().linked;
    const { shortest, firmest, hasMore } = chainsBetween(
      graph,
      named(graph, 'Keeper', 'object'),
      named(graph, 'Leaf', 'object'),
    );
    expect(shortest.map(told)).toEqual([
      ['Keeper carries Keeper (fixed)', 'Keeper uses Gate (fixed)', 'Gate holds Leaf (fixed)'],
    ]);
    expect(told(firmest)).toEqual(told(shortest[0]));
    expect(hasMore).toBeFalse();
    expect(shortest[0][1].link).toEqual(jasmine.objectContaining({ file: 'scenes/quay.json' }));
  });
  it('lead from who sends an event to who hears it, and from who hears it to who sends it', () => {
    const { graph } = flight().linked;
    const [bell, gate] = [named(graph, 'Bell', 'type'), named(graph, 'Gate', 'type')];
    expect(told(chainsBetween(graph, bell, gate).shortest[0])).toEqual([
      'Bell sends noon (name)',
      'noon is listened to by Gate (name)',
    ]);
    expect(told(chainsBetween(graph, gate, bell).shortest[0])).toEqual([
      'Gate listens to noon (name)',
      'noon is sent by Bell (name)',
    ]);
  });
  it('lead on from one event to the next', () => {
    const { graph } = scan({
      'scripts/a.ts': script('A', "bells.ring('one');"),
      'scripts/b.ts': script('B', "bells.hear('one', this.go);", "go() { bells.ring('two'); }"),
      'scripts/c.ts': script('C', "bells.hear('two', this.go);", 'go() {}'),
    }).linked;
    expect(told(chainsBetween(graph, named(graph, 'A', 'type'), named(graph, 'C', 'type')).shortest[0])).toEqual([
      'A sends one (name)',
      'one is listened to by B (name)',
      'B sends two (name)',
      'two is listened to by C (name)',
    ]);
  });
  it('are none where nothing leads there', () => {
    const { graph } = flight().linked;
    const found = chainsBetween(graph, named(graph, 'Bell', 'object'), named(graph, 'Wheel', 'object'));
    expect([found.shortest, found.firmest]).toEqual([[], null]);
  });
  it('prefer a longer way that holds better, and count no more than can be read', () => {
    const { graph } = scan({
      'scripts/a.ts': script('A', "stage.find('End').show();", '@slot() mid?: X;'),
      'scripts/b.ts': script('B', '', '@slot() end?: X;'),
      'scenes/a.json': scene(
        carrier('Start', 'a.ts', {}, { mid: '#mid' }),
        carrier('Mid', 'b.ts', { id: 'mid' }, { end: '#end' }),
        { name: 'End', id: 'end' },
      ),
    }).linked;
    const found = chainsBetween(graph, named(graph, 'Start', 'object'), named(graph, 'End', 'object'));
    expect(found.shortest.map((chain) => told(chain).at(-1))).toEqual(['A uses End (name)']);
    expect(told(found.firmest)).toEqual([
      'Start carries A (fixed)',
      'A uses Mid (fixed)',
      'Mid carries B (fixed)',
      'B uses End (fixed)',
    ]);
    const slots = Object.fromEntries(Array.from({ length: 20 }, (_, n) => [`s${n}`, `#mid${n}`]));
    const mids = Array.from({ length: 20 }, (_, n) => carrier(`Mid ${n}`, 'b.ts', { id: `mid${n}` }, { end: '#end' }));
    const many = scan({
      'scripts/a.ts': 'export class A {}',
      'scripts/b.ts': 'export class B {}',
      'scenes/a.json': scene(carrier('Start', 'a.ts', {}, slots), ...mids, { name: 'End', id: 'end' }),
    }).linked.graph;
    const chains = chainsBetween(many, named(many, 'Start', 'object'), named(many, 'End', 'object'));
    expect([chains.shortest.length, chains.hasMore]).toEqual([MOST_CHAINS, true]);
  });
});

describe('a neighbourhood', () => {
  beforeAll(useGrammars);

  it('holds the nearest pieces, parts counted with their objects, and says what it left out', () => {
    const { graph } = flight().linked;
    const gate = named(graph, 'Gate', 'object');
    const all = neighbourhood(graph, gate, 40, 1);
    expect(all.pieces.map(({ name, kind, hops }) => `${name} ${kind} ${hops}`)).toEqual([
      'Gate object 0',
      'Keeper object 1',
      'Gate type 1',
      'Leaf object 1',
    ]);
    expect(all.links).toContain({ from: 1, to: 0, verbs: ['uses'], grip: 'fixed', count: 1 });
    expect(all.leftOut).toBe(0);
    const few = neighbourhood(graph, gate, 2, 2);
    expect(few.pieces.length).toBe(2);
    expect(few.leftOut).toBe(3);
    expect(few.pieces[0].leftOut).toBe(2);
  });
});

describe('coupling', () => {
  beforeAll(useGrammars);
  const BY_FOLDER = { by: 'folder', below: '', depth: 1 } as const;

  it('counts links among folders with their weakest grip, and opens each cell', () => {
    const { graph, losses } = flight().linked;
    const grid = coupling(graph, BY_FOLDER);
    const names = grid.groups.map(({ name }) => name);
    expect(names).toEqual(['scenes', 'scripts']);
    expect(
      grid.cells.map(({ from, to, links, weakest }) => `${names[from]} → ${names[to]} ${links} ${weakest}`),
    ).toEqual(['scenes → scripts 3 path', 'scripts → scenes 1 path']);
    expect(grid.cells.map(({ runsBack }) => runsBack)).toEqual([false, true]);
    expect(grid.groups.map(({ layer }) => layer)).toEqual([1, 2]);
    // Scenes run scripts, and scripts look into scenes.
    expect([grid.circles.length, grid.cells.every(({ inCircle }) => inCircle)]).toEqual([1, true]);
    const cell = couplingLinks(graph, losses, BY_FOLDER, 'scripts', 'scenes', 10);
    expect([cell.count, cell.lines[0].to!.name]).toEqual([1, 'Leaf']);
    expect(couplingLinks(graph, losses, BY_FOLDER, 'scripts', 'nowhere', 10).count).toBe(0);
    expect(foldersBelow(graph, '')).toEqual(['scenes', 'scripts']);
  });
  it('tells scenes and prefabs apart, and goes down into a folder', () => {
    const { graph } = flight().linked;
    const scenes = coupling(graph, { by: 'scene', below: '', depth: 1 });
    expect(scenes.groups.map(({ name }) => name)).toEqual([
      ...['quay (scene)', 'mill (scene)', '(scripts)', '(events)'],
    ]);
    const below = coupling(graph, { by: 'folder', below: 'scripts', depth: 1 });
    expect(below.groups.map(({ name, pieces }) => `${name} ${pieces}`)).toEqual(['scripts (files) 6']);
  });
  it('counts the smallest of very many together, and what is lost', () => {
    const files = Object.fromEntries(
      Array.from({ length: 60 }, (_, n) => [
        `scenes/s${n}.json`,
        scene({ name: 'A' }, ...(n < 3 ? [{ name: 'B' }] : [])),
      ]),
    );
    const { graph } = scan({
      ...files,
      'scripts/a.ts': script('A', "this.child('X');"),
      'scenes/s0.json': scene(carrier('A', 'a.ts')),
    }).linked;
    const grid = coupling(graph, { by: 'scene', below: '', depth: 1 });
    expect([grid.groups.length, grid.groups.some(({ name }) => name === '(others)')]).toEqual([40, true]);
    expect(grid.together).toBe(22);
    expect(grid.groups.reduce((sum, { lost }) => sum + lost, 0)).toBe(1);
  });
});

describe('circles', () => {
  it('are the shortest ones through the first piece of each knot', () => {
    const edges = [
      [1, 2],
      [2, 3],
      [3, 1],
      [2, 1],
      [4, 4],
      [5, 6],
      [6, 7],
    ].map(([from, to]) => ({ from, to }));
    expect(circles(edges).map((circle) => circle.map(({ from }) => from))).toEqual(
      jasmine.arrayWithExactContents([[1, 2], [4]]),
    );
  });
});

describe('trace, narrowed', () => {
  beforeAll(useGrammars);

  it('gives only links of a verb, a grip or a moment', () => {
    const { graph, losses } = flight().linked;
    const gate = named(graph, 'Gate', 'type');
    const verbs = (filter: object): string[] => {
      const page = tracePiece(graph, losses, gate, filter);
      return [...page.reliedOnBy, ...page.reliesOn].map(({ verb }) => verb);
    };
    expect(verbs({})).toEqual(['runs', 'uses', 'listens to']);
    expect(verbs({ grip: 'name' })).toEqual(['listens to']);
    expect(verbs({ verb: 'uses', moment: 'start' })).toEqual(['uses']);
    expect(verbs({ moment: 'every frame' })).toEqual([]);
  });
  it('finds every piece again by its key', () => {
    const { graph } = flight().linked;
    for (let piece = 0; piece < graph.pieceCount; piece++) expect(pieceByKey(graph, keyOf(graph, piece))).toBe(piece);
    expect(pieceByKey(graph, 'object:scenes/quay.json#Nobody')).toBeUndefined();
  });
});
