/** Questions on the map, asked as the interface does. */
import type { Chains, Hit, Neighbourhood, LifeCycle, TracePage, Wiring } from '@glue-trace/core';
import type {
  CouplingLinks,
  CouplingPage,
  FamiliesPage,
  FamilyGrid,
  Problem,
  StoryPage,
  TwinsPage,
  ValuesPage,
  WalkPage,
} from '../api.js';
import { SampleServer, type Answer } from '../testing/sample-server.js';

const ROPE = 'type:scripts/boats/tow-rope.ts#TowRope';
const GATE = 'type:scripts/locks/gate.ts#Gate';

describe('questions on the map', () => {
  let server: SampleServer;

  async function ask<T>(path: string, query: Record<string, string | number> = {}): Promise<Answer<T>> {
    const texts = Object.entries(query).map(([key, value]): [string, string] => [key, String(value)]);
    return server.call<T>('GET', `/api/projects/1${path}?${new URLSearchParams(texts).toString()}`);
  }

  beforeAll(async () => {
    server = await new SampleServer().start();
  });
  afterAll(() => server.end());

  it('narrow Trace to a verb, a grip, a moment', async () => {
    const verbs = async (filter: Record<string, string>): Promise<string[]> => {
      const { body } = await ask<TracePage>('/trace', { piece: ROPE, ...filter });
      return body.reliesOn.map(({ verb }) => verb);
    };
    expect(await verbs({})).toEqual(['uses', 'sends']);
    expect(await verbs({ verb: 'sends' })).toEqual(['sends']);
    expect(await verbs({ grip: 'lost' })).toEqual(['uses']);
    expect(await verbs({ moment: 'every frame' })).toEqual([]);
    expect((await ask<Problem>('/trace', { piece: ROPE, verb: 'hugs' })).body.code).toBe('request/invalid');
  });

  it('tell the values in force, from the code to the instance', async () => {
    const { body } = await ask<ValuesPage>('/values', {
      piece: 'object:scenes/upper-flight.scene.json#Quay/Quay Bell',
    });
    const [code] = body.parts.find(({ typeName }) => typeName === 'SluiceBell')!.fields;
    expect(code!.levels.map(({ by, text }) => `${by}: ${text ?? 'empty'}`)).toEqual([
      'SluiceBell in code: empty',
      'prefab Bell: 3-1',
      'scene Upper Flight: 3-1',
    ]);
    expect((await ask<Problem>('/values', { piece: 'object:nowhere' })).body.code).toBe('piece/unknown');
  });

  it('walk a look-up that holds, step by step, and nothing else', async () => {
    const rope = (await ask<Hit[]>('/pieces', { text: 'TowRope part', limit: 20 })).body.find(({ title }) =>
      title.includes('Barge'),
    )!;
    const at = { piece: rope.key, file: 'scripts/boats/tow-rope.ts', line: 14, column: 18, endLine: 14, endColumn: 37 };
    const { body } = await ask<WalkPage>('/walk', at);
    expect(body.steps.map(({ asks }) => asks)).toEqual(['starts on', 'one step up', 'one step up', 'child “Cleat”']);
    expect(body.steps.at(-1)!.finds).toContain('Barge / Cleat');
    expect((await ask<WalkPage>('/walk', { ...at, line: 1, column: 1 })).body.steps).toEqual([]);
  });

  it('find chains from one piece to another', async () => {
    const { body } = await ask<Chains>('/chains', { from: ROPE, to: GATE });
    expect(body.shortest[0]!.map(({ words, to }) => `${words} ${to.name}`)).toEqual([
      'sends rope.tight',
      'is listened to by LockChamber',
      'calls Gate',
    ]);
    expect((await ask<Problem>('/chains', { from: ROPE, to: 'type:gone' })).body.code).toBe('piece/unknown');
  });

  it('look around a piece, as far and as much as asked', async () => {
    const near = (await ask<Neighbourhood>('/neighbourhood', { piece: ROPE, hops: 1, most: 40 })).body;
    const few = (await ask<Neighbourhood>('/neighbourhood', { piece: ROPE, hops: 2, most: 3 })).body;
    expect(near.pieces.every(({ hops }) => hops <= 1)).toBeTrue();
    expect([few.pieces.length, few.leftOut > 0]).toEqual([3, true]);
    expect((await ask<Problem>('/neighbourhood', { piece: ROPE, most: 4000 })).body.code).toBe('request/invalid');
  });

  it('tell the ledger of events, and the story of one', async () => {
    const ledger = (await ask<Wiring>('/wiring', { state: 'unheard' })).body;
    expect(ledger.rows.map(({ what }) => what.name)).toEqual(['rope.parted', 'crate.dropped']);
    expect((await ask<Wiring>('/wiring', { limit: 2 })).body.rows.length).toBe(2);
    expect((await ask<Problem>('/wiring', { state: 'odd' })).body.code).toBe('request/invalid');
    const story = (await ask<StoryPage>('/wiring/story', { piece: 'event:rope.tight' })).body;
    expect(story.lines.map(({ who, does, what }) => `${who} ${does} ${what}`)).toEqual([
      'LockChamber hears it onRopeTight()',
      'LockChamber sends gate.hold',
      'Gate hears it hold()',
    ]);
    expect(story.lines[0]!.key).toBe('type:scripts/locks/lock-chamber.ts#LockChamber');
    const back = (await ask<StoryPage>('/wiring/story', { piece: 'event:gate.hold', direction: 'backward' })).body;
    expect(back.lines.at(-1)!.who).toBe('TowRope');
    const life = (await ask<LifeCycle>('/life-cycle')).body;
    expect(life.groups.map(({ verb }) => verb)).toEqual(['spawns', 'destroys', 'switches', 'moves', 'loads']);
    expect(life.resets.map(({ flag }) => flag.title)).toContain('BasinBridge.isMended');
    const route = (await ask<Wiring>('/wiring', { route: 'start' })).body;
    expect([route.off, route.rows.filter(({ isOff }) => isOff).length]).toEqual([route.off, route.off]);
    expect(route.off).toBeGreaterThan(0);
    expect(route.off).toBeLessThan(route.total);
    expect(ledger.rows.some(({ isOff }) => isOff)).toBeFalse();
    const flags = (await ask<Wiring>('/wiring', { of: 'flags', state: 'never sent' })).body;
    expect(flags.rows.map(({ what }) => what.title)).toEqual(['LiftGate.isLevel']);
  });

  it('tell families, and one as a grid', async () => {
    const { families } = (await ask<FamiliesPage>('/families')).body;
    const { key } = families.find(({ name }) => name === 'LiftPart')!;
    const family = (await ask<FamilyGrid>('/family', { piece: key })).body;
    const limit = family.columns.findIndex(({ name }) => name === 'limit');
    expect(family.rows.map(({ name, cells }) => `${name} ${cells[limit]!.text || cells[limit]!.is}`)).toEqual([
      'LiftPart none',
      'LiftHook 9',
      'LiftChain never set',
      'LiftRope 6',
    ]);
    expect((await ask<Problem>('/family', { piece: 'type:scripts/basin/sling.ts#Sling' })).body.code).toBe(
      'piece/unknown',
    );
  });

  it('tell twins, and the same as a list of tasks', async () => {
    const { groups } = (await ask<TwinsPage>('/twins')).body;
    expect(groups.map(({ places, risk }) => [places.map(({ name }) => name).join(), risk])).toEqual([
      ['Bead,Second Bead', 'drifted apart'],
      ['toll-board.ts,tolls', 'drifted apart'],
      ['Dredger.onScrape(),IceBreaker.onScrape(),PilotBoat.onScrape()', 'values differ'],
      ['Fender,Long Fender', 'values differ'],
      ['RainLog.mean(),WindLog.mean()', 'the same'],
    ]);
    expect(groups[3]!.places[0]!.key).toBe('prefab:prefabs/fender.prefab.json');
    const response = await server.app.inject({ url: '/api/projects/1/twins.md', headers: { host: '127.0.0.1' } });
    expect(response.headers['content-type']).toContain('text/markdown');
    expect(response.body).toContain('- [ ] `RainLog.mean()` and 1 more');
  });

  it('count who relies on whom, and open a cell', async () => {
    const grid = (await ask<CouplingPage>('/coupling')).body;
    const at = (name: string): number => grid.groups.findIndex((group) => group.name === name);
    const cell = grid.cells.find(({ from, to }) => from === at('scripts') && to === at('prefabs'))!;
    expect(grid.folders).toEqual(['data', 'parcels', 'pictures', 'prefabs', 'scenes', 'scripts']);
    const onRoute = (await ask<CouplingPage>('/coupling', { depth: 2, route: 'start' })).body;
    const isOn = (name: string): boolean | undefined =>
      onRoute.onRoute?.[onRoute.groups.findIndex((group) => group.name === name)];
    expect([isOn('scripts/keeper'), isOn('parcels/pilots'), grid.onRoute]).toEqual([true, false, undefined]);
    const opened = (await ask<CouplingLinks>('/coupling/links', { from: 'scripts', to: 'prefabs' })).body;
    expect(opened.count).toBeGreaterThan(0);
    expect(opened.count).toBeLessThanOrEqual(cell.links);
    const lost = (await ask<CouplingLinks>('/coupling/links', { from: 'scripts', to: '' })).body;
    expect(lost.lines.every(({ to }) => to === null)).toBeTrue();
    const scenes = (await ask<CouplingPage>('/coupling', { by: 'scene' })).body;
    expect(scenes.groups.map(({ name }) => name)).toContain('Upper Flight (scene)');
  });
});
