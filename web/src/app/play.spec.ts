/** Play logs as the browser shows them: sessions, kinds, the chain of an event, the map beside it. */
import type { PlayDetail, PlayEventView, PlayMapView, PlayPage, PlaySessionPage } from '@glue-trace/server/api';
import { openPage, type Page } from './testing/page';

const ADDRESS = '/api/projects/1/play';
const session = (id: number, more: Partial<PlayPage['sessions'][number]> = {}): PlayPage['sessions'][number] => ({
  ...{ id, name: `play ${id}`, note: '', cameBy: 'sent', startedAt: '2026-01-01T12:00:00.000Z', endedAt: null },
  ...{ isOpen: true, events: 3, unread: 0, dropped: 0, problems: [] },
  ...more,
});
const page = (...sessions: PlayPage['sessions']): PlayPage => ({ token: 'secret', path: '/play/1', sessions });
const row = (at: number, more: Partial<PlayEventView> = {}): PlayEventView => ({
  ...{ at, kind: 1, time: 1_700_000_000_000 + at, id: `e${at}`, source: 'Bell', subject: null, handler: null },
  ...{ frame: at, side: null, cause: null, place: null, data: null },
  ...more,
});
const opened = (more: Partial<PlaySessionPage> = {}): PlaySessionPage => ({
  session: session(1),
  kinds: [
    { id: 1, type: 'bell.rung', happening: 'sent', events: 2 },
    { id: 2, type: 'gate.opened', happening: 'handled', events: 1 },
  ],
  rates: [
    [1_700_000_000, 1, 2, 1, 2],
    [1_700_000_009, 2, 1, 3, 3],
  ],
  marks: [],
  ...more,
});

describe('Play logs', () => {
  const open = async (query = '', whole = opened()): Promise<Page> => {
    const found = await openPage(`/p/1/play${query}`);
    await found.answer(ADDRESS, page(session(1), session(2)));
    await found.answer(`${ADDRESS}/sessions/1`, whole);
    await found.answer(`${ADDRESS}/sessions/1/events`, {
      rows: [row(3, { kind: 2, handler: 'Gate.open' }), row(2, { data: '{"times":3}' }), row(1)],
      lookedTo: 1,
      events: 3,
    });
    return found;
  };

  it('say how to begin where nothing was played yet', async () => {
    const found = await openPage('/p/1/play');
    await found.answer(ADDRESS, page());
    expect(found.text('.card b')).toBe('Nothing has been played yet.');
    expect(found.text('.card pre')).toContain(`POST ${location.origin}/play/1 Authorization: Bearer secret`);
    expect(found.element.querySelector('aside')).toBeNull();
  });
  it('show the newest session, its kinds and its events', async () => {
    const found = await open();
    expect(found.text('h1')).toBe('Play logs 3 events');
    expect(found.texts('.kind')).toEqual(['bell.rung 2 mute', 'gate.opened handled 1 mute']);
    expect(found.texts('.row')).toEqual([
      '3 frame 3 gate.opened handled Bell · Gate.open',
      '2 frame 2 bell.rung Bell {"times":3}',
      '1 frame 1 bell.rung Bell',
    ]);
    expect(found.element.querySelector('canvas')!.getAttribute('aria-label')).toContain('most of them, 2,');
  });
  it('mute kinds and pick them out, by mouse and keys, and say how much is muted', async () => {
    const found = await open();
    await found.click('.kind .mute');
    expect(found.url()).toBe('/p/1/play?without=1');
    expect(found.text('.kinds')).toContain('2 events muted');
    await found.press('a');
    expect(found.url()).toBe('/p/1/play');
    await found.press('j');
    await found.press('o');
    expect(found.url()).toBe('/p/1/play?only=2');
  });
  it('are narrowed to a frame, and by what is no number to nothing', async () => {
    const found = await open();
    const box = found.element.querySelector<HTMLInputElement>('input[aria-label="Frame"]')!;
    box.value = ' 7 ';
    box.dispatchEvent(new Event('change'));
    await found.settle();
    expect(found.url()).toBe('/p/1/play?frame=7');
    await found.press('a');
    expect(found.url()).toBe('/p/1/play');
  });
  it('pause without losing anything, and clear', async () => {
    const found = await open();
    await found.press('p');
    expect(found.text('.note')).toBe('Paused: 0 came since, and none of them is lost.');
    await found.press('p');
    expect(found.text('.note')).toBe('');
    await found.press('x');
    expect(found.url()).toBe('/p/1/play?from=4');
  });
  it('tell of an event what led to it and what the map knows, and keep a mark', async () => {
    const found = await open('?at=2');
    const detail: PlayDetail = {
      event: { ...row(2, { data: '{"times":3}' }), others: null },
      ledHere: [row(1)],
      ledTo: [row(3, { kind: 2 })],
      means: 'Somebody rings.',
      onMap: [{ written: 'Bell', piece: { key: 'object:a', kind: 'object', name: 'Bell', title: 'Quay / Bell' } }],
    };
    await found.answer(`${ADDRESS}/sessions/1/events/2`, detail);
    expect(found.texts('aside h3')).toEqual([
      'What was passed along',
      'What led to it',
      'What it led to',
      'On the map',
      'A mark',
    ]);
    expect(found.text('aside .note')).toBe('Somebody rings.');
    expect(found.text('aside pre')).toBe('{ "times": 3 }');
    expect(found.text('aside a')).toBe('Quay / Bell');
    const box = found.element.querySelector<HTMLInputElement>('aside input')!;
    box.value = ' too late ';
    box.dispatchEvent(new Event('change'));
    await found.settle();
    expect(await found.answer(`${ADDRESS}/sessions/1/events/2`, null)).toEqual({ note: 'too late' });
    expect(found.texts('.row')[1]).toContain('marked');
  });
  it('tell of an event without a map, too', async () => {
    const found = await open('?at=1');
    await found.answer(`${ADDRESS}/sessions/1/events/1`, {
      ...{ event: { ...row(1), others: null }, ledHere: [], ledTo: [], means: null, onMap: null },
    });
    expect(found.text('aside')).toContain('There is no map: the project could not be scanned.');
  });
  it('stand beside the map, alone or with others, and lead back to the events', async () => {
    const found = await open();
    await found.press('c');
    expect(found.url()).toBe('/p/1/play?map=1');
    const seen = { seen: 1, of: 2 };
    const told: PlayMapView = {
      ...{ sessions: 1, events: 3, byHappening: { sent: 3 }, route: '', judged: [{ id: 1, name: 'play 1', left: 0 }] },
      counts: { 'play/storm': 1 },
      checks: [{ id: 'play/storm', title: 'A storm of events', why: 'It is slow.', decides: 'Counts.' }],
      findings: [
        {
          ...{ check: 'play/storm', severity: 'warning', text: 'bell.rung came 60 times', sure: 'Counted.', times: 60 },
          ...{ sentence: [{ name: 'bell.rung' }, ' came 60 times'], lines: [{ session: 0, line: 2 }] },
          pieces: [{ key: 'event:bell.rung', kind: 'event', name: 'bell.rung', title: 'bell.rung' }],
          evidence: [],
        },
      ],
      seen: {
        ...{ events: seen, wires: { seen: 3, of: 5 }, scenes: { seen: 0, of: 4 }, spawns: { seen: 0, of: 0 } },
        unseen: [{ key: 'scene:weir', title: 'Weir' }],
      },
      stops: {
        ...{ more: 0, ways: [{ from: 0, to: 1, grip: 'name' }] },
        stops: [
          {
            ...{ key: 'scene:quay', title: 'Quay', steps: 0, counts: { error: 0, warning: 0, note: 0 } },
            seen: { loaded: 2, events: seen, wires: { seen: 2, of: 2 }, spawns: seen },
          },
          { key: 'scene:weir', title: 'Weir', steps: 1, counts: { error: 0, warning: 0, note: 0 } },
        ],
      },
    };
    await found.answer(`${ADDRESS}/map`, told);
    const shown = found.text('glue-play-map');
    expect(shown).toContain(
      'Seen of the whole map: 0 of 4 scenes loaded, 1 of 2 events sent, 3 of 5 listeners handled',
    );
    expect(shown).toContain('1 found in play');
    expect(shown).toContain('bell.rung came 60 times');
    expect(found.texts('glue-route-drawing li')).toEqual([
      'Quay (a beginning): 2×, 2 of 2 wires, leads to Weir',
      'Weir: never loaded',
    ]);
    await found.click('.together input:not(:disabled)');
    expect(found.url()).toBe('/p/1/play?map=1&session=1&with=2');
    await found.answer(`${ADDRESS}/map`, { ...told, judged: [...told.judged, { id: 2, name: 'play 2', left: 5 }] });
    expect(found.text('glue-play-map')).toContain('Judged is the beginning: 5 events came after it.');
    await found.click('glue-play-map .plain');
    expect(found.url()).toBe('/p/1/play?map=1&session=1&with=2&at=2');
    await found.press('c');
    expect(found.url()).toBe('/p/1/play?session=1');
    expect(found.texts('.row').length).toBe(3);
  });
  it('follow a file, and say where it is not', async () => {
    const found = await open();
    const box = found.element.querySelector<HTMLInputElement>('.follow input')!;
    box.value = ' logs/gone.ndjson ';
    await found.click('.follow button');
    await found.answer(
      `${ADDRESS}/follow`,
      { code: 'file/missing', title: 'No such file', detail: 'There is no play log.', status: 404 },
      404,
    );
    expect(found.text('glue-trouble')).toContain('There is no play log.');
    // It has been read by whoever goes on.
    await found.press('j');
    expect(found.text('glue-trouble')).toBe('');
  });
  it('stand beside another session, from where they part', async () => {
    const found = await open();
    const box = found.element.querySelector<HTMLSelectElement>('aside select')!;
    box.value = '2';
    box.dispatchEvent(new Event('change'));
    await found.settle();
    const event = { specversion: '1.0', id: 'e3', type: 'bell.rung', source: 'Bell', happening: 'sent', others: {} };
    await found.answer(`${ADDRESS}/sessions/1/beside/2`, {
      ...{ same: 2, one: { ...event, frame: 7 }, other: null },
      times: [{ type: 'bell.rung', happening: 'sent', one: 3, other: 2 }],
    });
    expect(found.text('aside')).toContain('2 events are the same; then they part. Here: bell.rung, Bell, frame 7.');
    expect(found.text('aside')).toContain('There: nothing more.');
    expect(found.text('aside')).toContain('bell.rung sent: 3 here, 2 there');
  });
  it('say what could not be read, and throw a session away when that is said twice', async () => {
    const found = await open(
      '',
      opened({ session: session(1, { unread: 1, problems: [{ line: 2, problem: 'it is no JSON' }] }) }),
    );
    expect(found.text('aside')).toContain('1 line could not be read.');
    expect(found.text('aside')).toContain('line 2: it is no JSON');
    await found.click('aside .links button:last-of-type');
    await found.click('aside .links button:nth-of-type(3)');
    await found.answer(`${ADDRESS}/sessions/1`, null);
    await found.answer(ADDRESS, page(session(2)));
    expect(found.texts('option').length).toBe(1);
  });
  it('say what is wrong when nothing can be loaded', async () => {
    const found = await openPage('/p/1/play');
    await found.answer(ADDRESS, { code: 'store/busy', title: 'The store is in use', detail: 'x', mistakes: [] }, 503);
    expect(found.text('[role=alert] b')).toBe('The store is in use');
  });
});
