/** Play logs: what a line is, and two sessions beside each other. */
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
