/** Play logs: what a line is, and how what happened stands to the map. */
import { carrier, scan, scene, script, useGrammars } from '../testing/project.js';
import { createPlayReport, type PlayAgainstMap } from './against-map.js';
import { partingOf, timesBeside } from './beside.js';
import { LONGEST_LINE, readPlayLine, type PlayEvent } from './event.js';

const line = (more: object = {}): string =>
  JSON.stringify({ specversion: '1.0', id: '1', type: 'bell.rung', source: 'Bell', ...more });
const read = (more: object = {}): PlayEvent => {
  const found = readPlayLine(line(more));
  if ('problem' in found) throw new Error(found.problem);
  return found.event;
};
const problem = (text: string): string => {
  const found = readPlayLine(text);
  return 'problem' in found ? found.problem : '';
};

describe('a line of a play log', () => {
  it('is an event of the standard, with what we add and what others add', () => {
    expect(read()).toEqual({
      ...{ specversion: '1.0', id: '1', type: 'bell.rung', source: 'Bell', happening: 'sent', others: {} },
    });
    const more = { subject: '#gate', time: '2026-11-27T20:15:00.250+01:00', data: { pull: [1, null] } };
    const ours = { happening: 'handled', handler: 'Gate.open', frame: 7, side: 'server', cause: '0' };
    expect(read({ ...more, ...ours, traceparent: '00-ab', weight: 3 })).toEqual({
      ...{ specversion: '1.0', id: '1', type: 'bell.rung', source: 'Bell', ...more },
      ...(ours as Partial<PlayEvent>),
      happening: 'handled',
      others: { traceparent: '00-ab', weight: 3 },
    });
  });
  it('that the standard does not allow is told with the reason, and throws nothing', () => {
    expect(problem('{')).toBe('it is no JSON');
    expect(problem('7')).toContain('must be of type object');
    for (const [more, says] of [
      [{ specversion: '0.3' }, 'specversion'],
      [{ id: '' }, 'id'],
      [{ source: undefined }, 'source'],
      [{ time: 'yesterday' }, 'time'],
      [{ happening: 'guessed' }, 'happening'],
      [{ frame: 1.5 }, 'frame'],
      [{ frame: '7' }, 'frame'],
      [{ Trace_Id: 'x' }, 'Trace_Id'],
      [{ data_base64: '?' }, 'data_base64'],
    ] as const)
      expect(problem(line(more)))
        .withContext(says)
        .toContain(says);
    expect(problem('x'.repeat(LONGEST_LINE + 1))).toContain('longer than');
  });
});

describe('play against the map', () => {
  beforeAll(useGrammars);
  const against = (...events: object[]): PlayAgainstMap => againstWith([], ...events);
  const againstWith = (engines: string[], ...events: object[]): PlayAgainstMap => {
    const { linked } = scan(
      {
        'scenes/weir.json': scene({ name: 'Weir', objects: [{ name: 'Bell', parts: [{ type: 'Bell' }] }] }),
        'scripts/bell.ts':
          'export class Bell extends Behaviour { begin() { bells.ring("bell.rung"); bells.ring("bell.cracked"); bells.hear("bell.rung", () => {}); } }',
      },
      {},
    );
    const report = createPlayReport(linked.graph, engines);
    events.forEach((one, at) => report.add(read(one), at + 1));
    return report.end();
  };

  it('tells what the map does not know, how often, and where first', () => {
    const { events, byHappening, unknownEvents, unknownSenders } = against(
      {},
      { type: 'bell.rnug' },
      { type: 'bell.rnug', source: 'Horn' },
      { type: 'spawn', happening: 'spawned', source: 'scenes/weir.json#Weir/Bell' },
    );
    expect([events, byHappening]).toEqual([4, { sent: 3, spawned: 1 }]);
    expect(unknownEvents).toEqual([{ name: 'bell.rnug', times: 2, line: 2, near: 'bell.rung' }]);
    expect(unknownSenders.map(({ name }) => name)).toContain('Horn');
  });
  it('knows the engine’s own events, and who is called by the names from the top down', () => {
    const failed = { type: 'engine.failed', source: 'Weir/Bell' };
    expect(againstWith(['engine.*'], failed).unknownEvents).toEqual([]);
    expect(againstWith([], failed).unknownEvents.length).toBe(1);
    expect(against({ source: 'Weir/Bell' }, { source: 'Weir / Bell' }).unknownSenders).toEqual([]);
    expect(against({ source: 'Weir/Horn' }).unknownSenders.length).toBe(1);
  });
  it('tells what was never sent, and what was sent and handled by nothing where the log tells of handling', () => {
    expect(against({}).neverSent).toEqual(['bell.cracked']);
    expect(against({}).neverHandled).toEqual([]);
    expect(against({}, { type: 'bell.cracked', happening: 'handled' }).neverHandled).toEqual([
      { name: 'bell.rung', times: 1, line: 1 },
    ]);
    expect(against({}, { happening: 'handled' }).neverHandled).toEqual([]);
  });
  it('counts who listens in scenes alone that were loaded, where the log tells of them', () => {
    const { linked } = scan(
      {
        'scenes/weir.json': scene({ name: 'Weir', objects: [carrier('Bell', 'bell.ts')] }),
        'scenes/quay.json': scene({ name: 'Quay', objects: [carrier('Horn', 'horn.ts')] }),
        'scripts/bell.ts': script('Bell', 'bells.ring("bell.rung"); bells.hear("tide.turned", () => {});'),
        'scripts/horn.ts': script('Horn', 'bells.hear("bell.rung", () => {});'),
      },
      {},
    );
    const unhandled = (...events: object[]): string[] => {
      const report = createPlayReport(linked.graph);
      [...events, {}, { type: 'tide.turned' }, { type: 'x', happening: 'handled' }].forEach((one, at) =>
        report.add(read(one), at + 1),
      );
      return report.end().neverHandled.map(({ name }) => name);
    };
    const loaded = (file: string): object => ({ type: 'loaded', happening: 'loaded', subject: file });
    expect(unhandled()).toEqual(['bell.rung', 'tide.turned']);
    expect(unhandled(loaded('scenes/weir.json'))).toEqual(['tide.turned']);
    expect(unhandled(loaded('scenes/quay.json'))).toEqual(['bell.rung']);
  });
  it('tells what handled one sending twice, and not what handled two', () => {
    const handled = (cause: string, handler = 'Gate.open'): object => ({ happening: 'handled', cause, handler });
    const { handledTwice } = against(
      {},
      handled('e1'),
      handled('e2'),
      handled('e1', 'Bell.toll'),
      handled('e1'),
      { happening: 'handled', handler: 'Gate.open' },
      { happening: 'handled', handler: 'Gate.open' },
    );
    expect(handledTwice).toEqual([{ name: 'bell.rung · Gate.open', times: 1, line: 5 }]);
  });
  it('tells how much of the map was seen', () => {
    const loaded = { type: 'entered', happening: 'loaded', subject: 'scenes/weir.json' };
    expect(against({}, {}, loaded, loaded).seen).toEqual({
      events: { seen: 1, of: 2 },
      scenes: { seen: 1, of: 1 },
    });
    expect(against().seen).toEqual({ events: { seen: 0, of: 2 }, scenes: { seen: 0, of: 1 } });
  });
});

describe('two sessions beside each other', () => {
  const events = (...all: object[]): PlayEvent[] => all.map((one) => read(one));
  it('part where something else happens, whenever it came and however it was numbered', () => {
    const one = events({ id: '1', frame: 1 }, { id: '2', frame: 2, data: { times: 3 } }, { id: '3', frame: 3 });
    const later = events(
      { id: 'a', frame: 1, time: '2026-01-01T12:00:00Z' },
      { id: 'b', frame: 2, data: { times: 3 } },
    );
    expect(partingOf(one, [...later, ...events({ id: 'c', frame: 3 })])).toBeUndefined();
    expect(partingOf(one, later)).toEqual({ same: 2, one: one[2] });
    expect(partingOf(later, one)).toEqual({ same: 2, other: one[2] });
    const [first, , third] = one;
    const other = events({ id: '2', frame: 2, data: { times: 4 } });
    expect(partingOf(one, [first, ...other, third])).toEqual({ same: 1, one: one[1], other: other[0] });
    expect(partingOf([], [])).toBeUndefined();
  });
  it('tell what came more often in one of them, most first', () => {
    const kind = (type: string, number: number, happening: PlayEvent['happening'] = 'sent') => ({
      type,
      happening,
      events: number,
    });
    expect(
      timesBeside(
        [kind('bell.rung', 4), kind('tide.turned', 2), kind('gate.opened', 1)],
        [kind('bell.rung', 4), kind('tide.turned', 9), kind('bell.rung', 2, 'handled')],
      ),
    ).toEqual([
      { type: 'tide.turned', happening: 'sent', one: 2, other: 9 },
      { type: 'bell.rung', happening: 'handled', one: 0, other: 2 },
      { type: 'gate.opened', happening: 'sent', one: 1, other: 0 },
    ]);
  });
});
