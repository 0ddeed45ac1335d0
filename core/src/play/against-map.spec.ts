/** How what happened in play stands to the map: what is found in sessions, how much was seen, and what findings say of it. */
import { reachedBy } from '../route/route.js';
import { carrier, scan, scene, script, useGrammars } from '../testing/project.js';
import { viewFinding } from '../trace/finding-view.js';
import { createPlayReport, type PlayAgainstMap, type PlayFinding } from './against-map.js';
import { PLAY_CHECKS } from './checks/registry.js';
import { readPlayEvent, type PlayEvent } from './event.js';
import { playExpected } from './expected.js';
import { namesMet, seenInPlay, type MetName } from './seen.js';

const SECOND = 1000;
const event = (more: object = {}): PlayEvent => {
  const found = readPlayEvent({ specversion: '1.0', id: '1', type: 'bell.rung', source: 'Bell', ...more });
  if ('problem' in found) throw new Error(found.problem);
  return found.event;
};
const at = (milliseconds: number): { time: string } => ({ time: new Date(milliseconds).toISOString() });
const handled = (cause: string, handler: string, more: object = {}): object => ({
  happening: 'handled',
  ...{ cause, handler },
  ...more,
});
const loaded = (file: string): object => ({ type: 'loaded', happening: 'loaded', source: file, subject: file });
const times = <T>(count: number, make: (at: number) => T): T[] => Array.from({ length: count }, (_, one) => make(one));

/** Two scenes: a bell, and a horn that hears it. */
const FILES = {
  'scenes/weir.json': scene({
    name: 'Weir',
    objects: [carrier('Bell', 'bell.ts'), carrier('Gate', 'gate.ts'), carrier('Lamp', 'lamp.ts')],
  }),
  'scenes/quay.json': scene({ name: 'Quay', objects: [carrier('Horn', 'horn.ts')] }),
  'scripts/bell.ts': script('Bell', 'bells.ring("bell.rung", 3); bells.ring("bell.cracked");'),
  'scripts/gate.ts': script(
    'Gate',
    'bells.hear("bell.rung", this.open);',
    'isOpen = false;\n  open(times: number) { if (this.isOpen) { bells.ring("gate.opened"); } this.isOpen = true; }',
  ),
  'scripts/lamp.ts': script('Lamp', 'bells.hear("bell.rung", this.shine);', 'shine() {}'),
  'scripts/horn.ts': script('Horn', 'bells.hear("bell.rung", this.blow);', 'blow() {}'),
};

describe('play against the map', () => {
  beforeAll(useGrammars);
  interface Given {
    plan?: object;
    route?: string[];
    usual?: Record<string, number>;
    files?: object;
  }
  const judge = (sessions: readonly (readonly object[])[], { plan = {}, route, usual, files }: Given = {}) => {
    const { linked } = scan({ ...FILES, ...files }, plan);
    const { graph } = linked;
    const reached = route && reachedBy(graph, { from: route });
    const report = createPlayReport(graph, playExpected(linked), {
      starts: reached?.starts ?? reachedBy(graph, { from: ['scenes/weir.json'] }).starts,
      ...(reached && { route: reached.pieces }),
      ...(usual && { usual: new Map(Object.entries(usual)) }),
    });
    for (const events of sessions) {
      report.session();
      events.forEach((one, line) => report.add(event(one), line + 1));
    }
    return report.end();
  };
  const said = ({ findings }: PlayAgainstMap, check: string): string[] =>
    findings.filter((one) => one.check === `play/${check}`).map(({ text }) => text);
  const told = (check: string, events: readonly object[], given?: Given): string[] =>
    said(judge([events], given), check);
  const only = (check: string, events: readonly object[], given?: Given): PlayFinding | undefined =>
    judge([events], given).findings.find((one) => one.check === `play/${check}`);

  it('counts what happened, and tells what is worst first', () => {
    const { events, sessions, byHappening, findings, counts } = judge([
      [{}, { type: 'bell.rnug' }, { type: 'engine.failed', happening: 'failed', data: 'it is stuck' }],
      [{ type: 'spawn', happening: 'spawned', source: 'Bell' }],
    ]);
    expect([events, sessions, byHappening]).toEqual([4, 2, { sent: 2, failed: 1, spawned: 1 }]);
    expect(findings.map(({ severity }) => severity)).toEqual(['error', 'warning', 'note', 'note']);
    expect(counts).toEqual({ 'play/failed': 1, 'play/unknown-event': 1, 'play/never-sent': 2 });
  });

  it('tells events that the map does not know, how often and where first, and not those of the engine', () => {
    const found = only('unknown-event', [{}, { type: 'bell.rnug' }, { type: 'bell.rnug' }]);
    expect(found?.text).toBe('bell.rnug came 2 times, and the map does not know it; there is bell.rung');
    expect(found?.lines[0]).toEqual({ session: 0, line: 2 });
    const touched = [{ type: 'deck.touched' }, { type: 'spawned', happening: 'spawned' }];
    expect(told('unknown-event', touched, { plan: { engine: { events: ['deck.*'] } } })).toEqual([]);
    expect(told('unknown-event', touched).length).toBe(1);
  });

  it('tells senders that are on no map, and knows those that are called from the top down', () => {
    expect(told('unknown-sender', [{ source: 'Weir/Horn' }])).toEqual([
      'Weir/Horn was met once, and is not on the map',
    ]);
    expect(
      told('unknown-sender', [{ source: 'Weir/Bell' }, { source: 'Weir / Bell' }, { source: 'scenes/weir.json' }]),
    ).toEqual([]);
  });

  it('names the log of a line, when one before it is empty, too', () => {
    const { sessions, findings } = judge([[], [{ type: 'bell.rnug' }]]);
    expect(sessions).toBe(2);
    expect(findings.find(({ check }) => check === 'play/unknown-event')?.lines).toEqual([{ session: 1, line: 1 }]);
  });
  it('knows senders that are written as URI references', () => {
    expect(told('unknown-sender', [{ source: 'scenes%2Fweir.json' }, { source: 'scenes/weir.json' }])).toEqual([]);
    expect(told('unknown-sender', [{ source: '50%' }]).length).toBe(1);
  });
  it('knows senders that were spawned before under their name', () => {
    const spawned = {
      type: 'spawned',
      happening: 'spawned',
      source: 'Bell',
      subject: 'x',
      data: { as: 'Weir/Raft 2' },
    };
    expect(told('unknown-sender', [spawned, { source: 'Weir/Raft 2' }])).toEqual([]);
    expect(told('unknown-sender', [{ source: 'Weir/Raft 2' }, spawned]).length).toBe(1);
  });

  it('tells what failed, once for each message and place', () => {
    const failure = { type: 'engine.failed', happening: 'failed', data: { message: 'it is stuck' } };
    const found = judge([
      [{ ...failure, place: 'scripts/gate.ts:4' }, { ...failure, place: 'scripts/gate.ts:4', source: 'Gate' }, failure],
    ]).findings.filter(({ check }) => check === 'play/failed');
    expect(found.map(({ text }) => text)).toEqual([
      'it is stuck – failed 2 times by Bell and 1 more',
      'it is stuck – failed once by Bell',
    ]);
    expect(found[0]?.evidence[0]).toEqual(jasmine.objectContaining({ file: 'scripts/gate.ts' }));
    expect(found[0]?.evidence[0]?.range.line).toBe(4);
    expect(told('failed', [{ data: 'it is stuck' }])).toEqual([]);
  });

  it('tells events of the map that never came, of scenes that were loaded alone where logs tell', () => {
    expect(told('never-sent', [{}])).toEqual([
      'bell.cracked never came; Bell can send it',
      'gate.opened never came; Gate can send it',
    ]);
    expect(told('never-sent', [{}, loaded('scenes/quay.json')])).toEqual([]);
    expect(told('never-sent', [{}], { route: ['scenes/quay.json'] })).toEqual([]);
    expect(told('never-sent', [{}, { type: 'bell.cracked' }, { type: 'gate.opened' }])).toEqual([]);
  });

  it('tells what was sent and nothing handled, where logs tell of handling', () => {
    expect(told('unhandled', [{}])).toEqual([]);
    const other = { type: 'tide.turned', happening: 'handled', handler: 'Moon.rise' };
    expect(told('unhandled', [{}, other])).toEqual([
      'bell.rung came once and nothing handled it, though on the map 3 listen',
    ]);
    expect(told('unhandled', [{}, other], { route: ['scenes/quay.json'] })).toEqual([
      'bell.rung came once and nothing handled it, though on the map one listens',
    ]);
  });
  it('tells who did not handle what others did, and not where functions are not named', () => {
    const all = (...handlers: string[]): object[] => [
      loaded('scenes/weir.json'),
      { id: 'e1' },
      ...handlers.map((handler) => handled('e1', handler)),
    ];
    expect(told('unhandled', all('Gate.open'))).toEqual([
      'bell.rung came once and Lamp.shine never handled it, as others did',
    ]);
    expect(told('unhandled', all('Gate.open', 'Lamp.shine'))).toEqual([]);
    expect(told('unhandled', [...all('Gate.open'), { happening: 'handled', cause: 'e1' }])).toEqual([]);
  });

  it('tells what handled one sending twice, and not what handled two, or one in each session', () => {
    const twice = [{ id: 'e1' }, handled('e1', 'Gate.open'), handled('e1', 'Lamp.shine'), handled('e1', 'Gate.open')];
    expect(told('handled-twice', twice)).toEqual([
      'Gate.open handled a sending of bell.rung that it had handled already, once',
    ]);
    expect(told('handled-twice', [{}, handled('e1', 'Gate.open'), handled('e2', 'Gate.open')])).toEqual([]);
    const once = [{ id: 'e1' }, handled('e1', 'Gate.open')];
    expect(said(judge([once, once]), 'handled-twice')).toEqual([]);
    expect(said(judge([twice, twice]), 'handled-twice')[0]).toContain('2 times');
  });

  it('tells storms by the plan, by other sessions, and by what is usual', () => {
    const burst = times(60, (one) => at(one));
    expect(told('storm', burst)).toEqual([]);
    expect(told('storm', burst, { plan: { play: { storms: { 'bell.*': 59 } } } })).toEqual([
      'bell.rung came 60 times within one second; the plan allows 59',
    ]);
    expect(told('storm', burst, { plan: { play: { storms: { 'bell.*': 60 } } } })).toEqual([]);
    expect(told('storm', burst, { usual: { 'bell.rung': 19 } })).toEqual([
      'bell.rung came 60 times within one second; in other sessions it was 19 at most',
    ]);
    expect(told('storm', burst, { usual: { 'bell.rung': 20 } })).toEqual([]);
    const calm = times(12, (one) => at((one + 2) * SECOND));
    expect(told('storm', [...burst, ...calm])).toEqual(['bell.rung came 60 times within one second; mostly it is 1']);
    expect(
      told(
        'storm',
        times(72, (one) => at(one * 20)),
      ),
    ).toEqual([]);
    // Of frames, too; and of neither nothing can be said.
    const plan = { play: { storms: { '*': 59 } } };
    expect(
      told(
        'storm',
        times(60, (frame) => ({ frame })),
        { plan },
      ).length,
    ).toBe(1);
    expect(
      told(
        'storm',
        times(60, () => ({})),
        { plan },
      ),
    ).toEqual([]);
  });

  it('tells what leads to itself over and over, through what others send and handle', () => {
    const round = (count: number): object[] =>
      times(count, (one) => ({ id: `e${one}`, ...(one > 0 && { cause: `h${one - 1}` }) })).flatMap((sent, one) => [
        sent,
        handled(`e${one}`, 'Gate.open', { id: `h${one}` }),
      ]);
    expect(told('goes-round', round(7))).toEqual(['bell.rung led to itself 6 times, one out of the other']);
    expect(told('goes-round', round(3))).toEqual([]);
    expect(
      told(
        'goes-round',
        times(20, (one) => ({ id: `e${one}` })),
      ),
    ).toEqual([]);
  });

  it('tells what was sent before anybody listened', () => {
    const listening = { happening: 'listening', source: 'Gate', handler: 'Gate.open' };
    expect(told('too-early', [{}, listening])).toEqual([
      'bell.rung was sent once before Gate.open began to listen, and not again after it',
    ]);
    const again = only('too-early', [{}, listening, {}]);
    expect([again?.text, again?.severity]).toEqual([
      'bell.rung was sent once before Gate.open began to listen',
      'note',
    ]);
    expect(told('too-early', [listening, {}, { ...listening, handler: 'Lamp.shine' }])).toEqual([]);
    expect(told('too-early', [listening, { ...listening, happening: 'ended' }, {}, listening]).length).toBe(1);
    expect(said(judge([[{}], [listening]]), 'too-early')).toEqual([]);
    expect(told('too-early', [{}, {}])).toEqual([]);
    const engine = { plan: { engine: { events: ['bell.*'] } } };
    expect(told('too-early', [{}, listening], engine)).toEqual([]);
  });

  it('tells what comes without what the plan puts before it', () => {
    const plan = { play: { order: [['bell.rung', 'gate.opened']] } };
    const opened = { type: 'gate.opened' };
    expect(told('other-order', [opened, {}, opened], { plan })).toEqual([
      'gate.opened came once without bell.rung before it',
    ]);
    expect(told('other-order', [{}, opened, {}, opened], { plan })).toEqual([]);
    expect(told('other-order', [{}, opened, opened], { plan }).length).toBe(1);
    expect(said(judge([[{}], [opened]], { plan }), 'other-order').length).toBe(1);
    expect(told('other-order', [opened])).toEqual([]);
  });
  it('tells functions that handle one event in another order than mostly', () => {
    const both = (one: number, first: string, second: string): object[] => [
      handled(`e${one}`, first),
      handled(`e${one}`, second),
    ];
    const mostly = times(12, (one) => both(one, 'Gate.open', 'Lamp.shine')).flat();
    const found = only('other-order', [...mostly, ...both(99, 'Lamp.shine', 'Gate.open')]);
    expect(found?.text).toBe('Gate.open handles bell.rung before Lamp.shine 12 times, and after it once');
    expect(found?.lines).toEqual([{ session: 0, line: 26 }]);
    expect(told('other-order', mostly)).toEqual([]);
    expect(told('other-order', [...both(1, 'Gate.open', 'Lamp.shine'), ...both(2, 'Lamp.shine', 'Gate.open')])).toEqual(
      [],
    );
  });

  it('tells what can be repeated and adds up', () => {
    const shots = (gap: number, effect: object = { happening: 'spawned', subject: 'prefabs/raft.json' }): object[] =>
      times(5, (one) => [
        { id: `e${one}`, ...at(one * gap) },
        handled(`e${one}`, 'Gate.open', { id: `h${one}` }),
        { type: 'spawned', cause: `h${one}`, source: 'Gate', ...effect },
      ]).flat();
    expect(told('adds-up', shots(100))).toEqual([
      'bell.rung came 5 times within one second from one sender, and each time led to spawned prefabs/raft.json',
    ]);
    expect(told('adds-up', shots(500))).toEqual([]);
    expect(told('adds-up', shots(100, { happening: 'moved', subject: 'Gate' }))).toEqual([]);
    expect(
      told(
        'adds-up',
        times(5, (one) => at(one)),
      ),
    ).toEqual([]);
  });

  it('tells flags that were asked for before they were set', () => {
    const set = { type: 'flag set', happening: 'flag set', source: 'Gate', subject: 'Gate.isOpen' };
    const found = only('flag-unset', [{ id: 'e1' }, handled('e1', 'Gate.open'), set]);
    expect(found?.text).toBe('Gate.open asks for Gate.isOpen and ran once before it was set');
    expect(found?.evidence[0]?.file).toBe('scripts/gate.ts');
    expect(told('flag-unset', [set, handled('e1', 'Gate.open')])).toEqual([]);
    expect(told('flag-unset', [handled('e1', 'Gate.open')])).toEqual([]);
    expect(told('flag-unset', [handled('e1', 'Lamp.shine'), set])).toEqual([]);
  });

  it('tells what was used after it was gone', () => {
    const gone = { type: 'destroyed', happening: 'destroyed', source: 'Bell', subject: 'Weir/Gate', frame: 7 };
    const moved = { type: 'moved', happening: 'moved', source: 'Bell', subject: 'Weir/Gate', frame: 9 };
    expect(told('gone', [gone, moved])).toEqual(['Weir/Gate was moved once after it was destroyed']);
    expect(told('gone', [gone, { source: 'Weir/Gate', frame: 9 }])).toEqual([
      'Weir/Gate sent once after it was destroyed',
    ]);
    // It may say goodbye, come again, or go with its scene.
    expect(told('gone', [gone, { ...moved, frame: 7 }])).toEqual([]);
    const back = { type: 'spawned', happening: 'spawned', subject: 'prefabs/gate.json', data: { as: 'Weir/Gate' } };
    expect(told('gone', [gone, back, moved])).toEqual([]);
    expect(told('gone', [gone, loaded('scenes/weir.json'), moved])).toEqual([]);
    expect(told('gone', [moved, gone])).toEqual([]);
  });

  it('tells payloads of another count than the map says', () => {
    const files = { 'scripts/bell.ts': script('Bell', 'bells.ring("bell.rung", 3, "low");') };
    expect(told('payload', [{ data: [3, 'low', true] }], { files })).toEqual([
      'bell.rung came once with 3 values; on the map it is sent with 2 values',
    ]);
    for (const data of [[3, 'low'], { times: 3 }, undefined])
      expect(told('payload', [{ data }], { files }))
        .withContext(JSON.stringify(data))
        .toEqual([]);
    // One value may be a list itself.
    expect(told('payload', [{ data: [1, 2] }])).toEqual([]);
  });
  it('tells an entry that is of another kind than mostly', () => {
    const mostly = times(24, (one) => ({ data: { times: one } }));
    const found = only('payload', [...mostly, { data: { times: 'often' } }]);
    expect([found?.text, found?.severity]).toEqual([
      'times of bell.rung is a number 24 times, and a text once',
      'note',
    ]);
    expect(told('payload', [...mostly, { data: {} }, { data: { times: 7 } }])).toEqual([]);
    expect(told('payload', [...mostly.slice(0, 6), { data: { times: 'often' } }])).toEqual([]);
  });

  it('tells how much of the map was seen, of a route, and of each scene', () => {
    const events = [loaded('scenes/weir.json'), {}, handled('e1', 'Gate.open')];
    const { seen, stops } = judge([events]);
    expect([seen.events, seen.wires, seen.scenes]).toEqual([
      { seen: 1, of: 3 },
      { seen: 1, of: 3 },
      { seen: 1, of: 2 },
    ]);
    expect(seen.unseen.map(({ key }) => key)).toEqual(['scene:scenes/quay.json']);
    expect(stops.stops.map(({ key, seen: one }) => [key, one?.loaded, one?.wires])).toEqual([
      ['scene:scenes/weir.json', 1, { seen: 1, of: 2 }],
      ['scene:scenes/quay.json', 0, { seen: 0, of: 1 }],
    ]);
    const onRoute = judge([events], { route: ['scenes/quay.json'] });
    expect([onRoute.seen.scenes, onRoute.seen.wires]).toEqual([
      { seen: 0, of: 1 },
      { seen: 0, of: 1 },
    ]);
    expect(judge([[{}]]).seen.wires).toBeNull();
  });

  it('has a name of its own and a reason for each check', () => {
    expect(new Set(PLAY_CHECKS.map(({ id }) => id)).size).toBe(PLAY_CHECKS.length);
    for (const { id, why, decides } of PLAY_CHECKS)
      expect([id.startsWith('play/'), why.length > 20, decides.length > 40]).toEqual([true, true, true]);
  });
});

describe('findings of a scan, in play', () => {
  beforeAll(useGrammars);
  const files = {
    'scenes/weir.json': scene({ name: 'Weir', objects: [carrier('Bell', 'bell.ts'), carrier('Post', 'post.ts')] }),
    'scripts/bell.ts': script('Bell', 'stage.find("Clapper").swing();\n    bells.ring("bell.rung");'),
    'scripts/post.ts': script('Post', ''),
  };
  const seen = (check: string, ...events: object[]) => {
    const analysis = scan(files);
    const { graph } = analysis.linked;
    const met: MetName[] = events.flatMap((one) => namesMet(event(one)).map(([as, name]) => ({ as, name, times: 1 })));
    const finding = analysis.findings.find((one) => one.check === check);
    if (!finding) throw new Error(`nothing found by ${check}`);
    const views = analysis.findings.map((one) => viewFinding(graph, one));
    const said = seenInPlay(graph, met, 1, views).get(finding.fingerprint);
    if (!said) throw new Error('play says nothing');
    return said;
  };
  const failure = (source: string, place?: string): object => ({
    ...{ type: 'engine.failed', happening: 'failed', source },
    ...(place && { place }),
  });

  it('are said to have failed where the game says so: on their line, or in their file by those they speak of', () => {
    const failed = (...events: object[]): number => seen('broken/missing-object', ...events).failed;
    expect(failed(failure('Weir/Post', 'scripts/bell.ts:4'))).toBe(1);
    expect(failed(failure('Weir/Bell', 'scripts/bell.ts:9'), failure('Weir/Bell', 'scripts/bell.ts:4'))).toBe(2);
    expect(failed(failure('Weir/Post', 'scripts/bell.ts:9'))).toBe(0);
    expect(failed(failure('Weir/Bell', 'scripts/post.ts:4'))).toBe(0);
    expect(failed({})).toBe(0);
  });
  it('are said to have come up when what they speak of did something', () => {
    expect(seen('fragile/unheard', {}, {}, { type: 'tide.turned', source: 'Weir/Post' }).came).toBeGreaterThan(1);
    expect(seen('fragile/unheard', { type: 'tide.turned', source: 'Weir/Post' }).came).toBe(0);
    expect(seen('broken/missing-object', { type: 'tide.turned', source: 'Weir%2FBell' }).came).toBe(1);
    expect(seen('broken/missing-object', { type: 'tide.turned', source: 'Weir/Bell' })).toEqual({
      ...{ sessions: 1, failed: 0, came: 1 },
    });
  });
});
