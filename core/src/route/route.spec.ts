/** What a play test can reach, and what lies off its way. */
import { keyOf } from '../model/graph.js';
import { readinessOf } from '../readiness/readiness.js';
import { scan, scene, useGrammars } from '../testing/project.js';
import { isOnRoute, onRoute, reachedBy, readRoutes, routesText, startsOf } from './route.js';

const part = (type: string): object => ({ parts: [{ type }] });
const FILES = {
  'scenes/weir.json': scene({ name: 'Weir', objects: [{ name: 'Gate', ...part('Gate') }] }),
  'scenes/lock.json': scene({ name: 'Lock', objects: [{ name: 'Bell', ...part('Bell') }] }),
  'scenes/attic.json': scene({ name: 'Attic', objects: [{ name: 'Chest', ...part('Chest') }] }),
  'scripts/gate.ts': 'export class Gate extends Behaviour { begin() { game.load("lock"); this.child("Hinge"); } }',
  'scripts/bell.ts': 'export class Bell extends Behaviour { begin() { this.child("Clapper"); } }',
  'scripts/chest.ts': 'export class Chest extends Behaviour { begin() { this.child("Lid"); } }',
};

describe('a route', () => {
  beforeAll(useGrammars);
  const { linked, findings } = (() => {
    let known: ReturnType<typeof scan> | undefined;
    const get = (): ReturnType<typeof scan> =>
      (known ??= scan(FILES, {
        calls: [
          { call: 'game.load($name)', means: 'load', target: { by: 'name', kinds: ['scene'] } },
          { call: 'this.child($name)', means: 'child' },
        ],
      }));
    return { linked: () => get().linked, findings: () => get().findings };
  })();
  const reached = (...from: string[]): ReturnType<typeof reachedBy> => reachedBy(linked().graph, { from });
  const lost = (pieces: Uint8Array): string[] =>
    onRoute(findings(), pieces)
      .filter(({ check }) => check === 'broken/missing-object')
      .map(({ files }) => files[0] ?? '')
      .sort();

  it('reaches what its scenes hold, run and load, and nothing else', () => {
    expect(lost(reached('scenes/weir.json').pieces)).toEqual(['scripts/bell.ts', 'scripts/gate.ts']);
    expect(lost(reached('lock').pieces)).toEqual(['scripts/bell.ts']);
    expect(lost(reached('scenes/attic.json', 'lock').pieces)).toEqual(['scripts/bell.ts', 'scripts/chest.ts']);
  });
  it('marks what only holds what is reached apart, and says what nothing is called', () => {
    const { pieces, unknown } = reached('Bell', 'Nobody');
    const { graph } = linked();
    const at = (key: string): number | undefined =>
      pieces[
        Array.from({ length: graph.pieceCount }, (_, piece) => piece).find((piece) => keyOf(graph, piece) === key) ?? -1
      ];
    expect([
      at('scene:scenes/lock.json'),
      at('object:scenes/lock.json#Lock/Bell'),
      at('scene:scenes/weir.json'),
    ]).toEqual([2, 1, 0]);
    expect(unknown).toEqual(['Nobody']);
  });
  it('counts what is about no piece at all', () => {
    expect([
      isOnRoute(new Uint8Array(2), []),
      isOnRoute(Uint8Array.from([0, 2]), [1]),
      isOnRoute(Uint8Array.from([0, 1]), [1]),
    ]).toEqual([true, false, true]);
  });
  it('begins with the scenes that nothing loads, unless the house says otherwise', () => {
    expect(startsOf(linked())).toEqual(['scene:scenes/weir.json', 'scene:scenes/attic.json']);
    const { plan, graph } = linked();
    const house = { ...plan.house, startScene: 'lock' };
    expect(startsOf({ graph, roles: [], plan: { ...plan, house } })).toEqual(['scene:scenes/lock.json']);
  });
  it('has its own verdict', () => {
    const { graph } = linked();
    const { pieces } = reached('lock');
    const own = readinessOf(graph, onRoute(findings(), pieces), { route: pieces });
    expect(own.pieces).toBeLessThan(graph.pieceCount);
    expect(own.bySeverity.error).toBeLessThan(readinessOf(graph, findings()).bySeverity.error);
  });
  it('is kept in the order of names', () => {
    const routes = { b: { from: ['x'] }, a: { from: ['y'], note: 'first' } };
    expect(readRoutes(routesText(routes))).toEqual(routes);
    expect(routesText(routes)).toBe(routesText({ a: routes.a, b: routes.b }));
    expect(readRoutes('{"routes": {"a": {"from": "x"}}}')).toEqual({ a: { from: ['x'] } });
    expect(() => readRoutes('{"routes": {"a": {}}}')).toThrowError(/line 1/);
  });
});
