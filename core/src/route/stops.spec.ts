/** The scenes of a route, the ways between them, and what was found on each. */
import { scan, scene, useGrammars } from '../testing/project.js';
import { viewFinding } from '../trace/finding-view.js';
import { reachedBy } from './route.js';
import { stopsOf, type Stops } from './stops.js';
import { routeDrawing } from '../reports/html-route.js';

const part = (type: string): object => ({ parts: [{ type }] });
const door = (to: string): string => `export class To${to} extends Behaviour { begin() { game.load("${to}"); } }`;
const FILES = {
  'scenes/weir.json': scene({ name: 'Weir', objects: [{ name: 'Gate', ...part('Over') }] }),
  'scenes/lock.json': scene({
    name: 'Lock',
    objects: [
      { name: 'Bell', ...part('Bell') },
      { name: 'Way', ...part('Toweir') },
    ],
  }),
  'scenes/attic.json': scene({ name: 'Attic', objects: [{ name: 'Chest', ...part('Bell') }] }),
  'scenes/quay.json': scene({ name: 'Quay', objects: [{ name: 'Gate', ...part('Tolock') }] }),
  'scripts/tolock.ts': door('lock'),
  'scripts/over.ts': 'export class Over extends Behaviour { begin() { game.enter("scenes/lock.json"); } }',
  'scripts/toweir.ts': door('weir'),
  'scripts/bell.ts': 'export class Bell extends Behaviour { begin() { this.child("Clapper"); } }',
};
const CALLS = [
  { call: 'game.load($name)', means: 'load', target: { by: 'name', kinds: ['scene'] } },
  { call: 'game.enter($path)', means: 'load' },
  { call: 'this.child($name)', means: 'child' },
];

describe('the stops of a route', () => {
  beforeAll(useGrammars);
  const stops = (from: string[], isWhole = false): Stops => {
    const { linked, findings } = scan(FILES, { calls: CALLS });
    const views = findings.map((finding) => viewFinding(linked.graph, finding));
    return stopsOf(linked.graph, reachedBy(linked.graph, { from }).starts, views, { isWhole });
  };
  const told = ({ stops: all, ways, more }: Stops) => ({
    stops: all.map(({ title, steps, counts }) => `${title} ${steps} ${counts.error}`),
    ways: ways.map(({ from, to, grip }) => `${all[from]?.title} → ${all[to]?.title} ${grip}`),
    more,
  });

  it('are the scenes that loads lead to, with what was found on what comes along with each', () => {
    expect(told(stops(['scenes/weir.json']))).toEqual({
      stops: ['weir 0 0', 'lock 1 1'],
      ways: ['weir → lock path', 'lock → weir name'],
      more: 0,
    });
  });
  it('of the whole are all scenes, those first that nothing leads to', () => {
    expect(told(stops(['scenes/quay.json'], true))).toEqual({
      stops: ['quay 0 0', 'lock 1 1', 'weir 2 0', 'attic 0 1'],
      ways: ['quay → lock name', 'lock → weir name', 'weir → lock path'],
      more: 0,
    });
  });
  it('have the weakest grip of what loads another one', () => {
    const both = {
      name: 'Quay',
      objects: [
        { name: 'A', ...part('Over') },
        { name: 'B', ...part('Tolock') },
      ],
    };
    const { linked } = scan({ ...FILES, 'scenes/quay.json': scene(both) }, { calls: CALLS });
    const { ways } = stopsOf(linked.graph, reachedBy(linked.graph, { from: ['scenes/quay.json'] }).starts, []);
    expect(ways[0]?.grip).toBe('name');
  });
  it('are drawn with a text that says the same, where there is a way to draw', () => {
    const drawn = routeDrawing(stops(['scenes/quay.json'], true));
    expect(drawn).toContain(
      'aria-label="Scenes and the ways between them. quay (a beginning): nothing found, leads to lock. lock: 1 error, leads to weir. weir: nothing found, leads to lock."',
    );
    expect(drawn).toContain('To or from 1 more scene the map knows no way.');
    expect([drawn.match(/<rect /g)?.length, drawn.match(/class="way \w+/g)]).toEqual([
      3,
      ['class="way name', 'class="way name', 'class="way path'],
    ]);
    expect(routeDrawing(stops(['scenes/attic.json']))).toBe('');
    expect(routeDrawing(undefined)).toBe('');
  });
});
