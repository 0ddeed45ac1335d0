/** Play logs over the API: sent by games, read of files, looked through, exported, thrown away. */
import { appendFileSync, mkdirSync, rmSync, writeFileSync } from 'node:fs';
import { connect, type Socket } from 'node:net';
import { join } from 'node:path';
import { itemAt } from '@glue-trace/core';
import type {
  FindingDetail,
  FindingPage,
  PlayBesideView,
  PlayDetail,
  PlayEventPage,
  PlayMapView,
  PlayPage,
  PlaySessionPage,
  PlayTaken,
} from '../api.js';
import { OWN, SampleServer } from '../testing/sample-server.js';
import { linesOf } from './lines.js';

const API = '/api/projects/1/play';
const HOST = { host: OWN.host };

interface Event {
  id: string;
  type: string;
  source: string;
  [more: string]: unknown;
}
const event = (at: number, more: Partial<Event> = {}): object => ({
  specversion: '1.0',
  id: `e${at}`,
  type: 'bell.rung',
  source: 'scenes/upper-flight.scene.json',
  time: new Date(Date.UTC(2026, 0, 1, 12, 0, Math.floor(at / 10))).toISOString(),
  ...more,
});

describe('play logs', () => {
  let server: SampleServer;
  let token: string;
  // One server for all: each spec sends into sessions of its own.
  beforeAll(async () => {
    server = await new SampleServer().start();
    token = (await server.read<PlayPage>(API)).token;
  });
  afterAll(() => server.end());
  let game = '';
  let games = 0;
  beforeEach(() => (game = `game ${++games}`));

  const send = async (
    body: string,
    type = 'application/cloudevents-batch+json',
    more: { query?: string; headers?: Record<string, string> } = {},
  ): Promise<{ status: number; body: PlayTaken & { code?: string }; headers: Record<string, unknown> }> => {
    const {
      statusCode,
      body: answer,
      headers,
    } = await server.app.inject({
      method: 'POST',
      url: `/play/1${more.query ?? `?session=${encodeURIComponent(game)}`}`,
      payload: body,
      headers: { ...HOST, 'content-type': type, authorization: `Bearer ${token}`, ...more.headers },
    });
    return { status: statusCode, body: JSON.parse(answer) as PlayTaken & { code?: string }, headers };
  };
  const batch = (...events: object[]): Promise<Awaited<ReturnType<typeof send>>> => send(JSON.stringify(events));
  const page = (session: number, query = ''): Promise<PlayEventPage> =>
    server.read<PlayEventPage>(`${API}/sessions/${session}/events${query}`);
  const open = (session: number): Promise<PlaySessionPage> =>
    server.read<PlaySessionPage>(`${API}/sessions/${session}`);
  const file = (text: string, name = 'friday'): Promise<PlayTaken> =>
    server.app
      .inject({
        method: 'POST',
        url: `${API}/sessions?name=${name}`,
        payload: text,
        headers: { ...OWN, 'content-type': 'application/x-ndjson' },
      })
      .then(({ body }) => JSON.parse(body) as PlayTaken);
  const lines = (...events: object[]): string => events.map((one) => JSON.stringify(one)).join('\n');

  it('come from a game as one event, as a list and as lines, into one session', async () => {
    const one = await send(JSON.stringify(event(1)), 'application/cloudevents+json');
    expect([one.status, one.body.taken]).toEqual([202, 1]);
    expect((await batch(event(2, { data: { times: 3 } }), event(3, { type: 'gate.opened' }))).body.taken).toBe(2);
    expect((await send(`${lines(event(4), event(5))}\n`, 'application/x-ndjson')).body).toEqual({
      session: one.body.session,
      taken: 2,
      dropped: 0,
      problems: [],
    });
    const { sessions } = await server.read<PlayPage>(API);
    const own = sessions.filter(({ name }) => name === game);
    expect(own.map(({ events, cameBy, isOpen }) => [events, cameBy, isOpen])).toEqual([[5, 'sent', true]]);
    const { rows } = await page(one.body.session);
    expect(rows.map(({ at, id, data }) => [at, id, data])).toEqual([
      [5, 'e5', null],
      [4, 'e4', null],
      [3, 'e3', null],
      [2, 'e2', '{"times":3}'],
      [1, 'e1', null],
    ]);
    const { kinds, rates } = await open(one.body.session);
    expect(kinds.map(({ type, happening, events }) => [type, happening, events])).toEqual([
      ['bell.rung', 'sent', 4],
      ['gate.opened', 'sent', 1],
    ]);
    expect(rates.map(([, kind, events, first, last]) => [kind, events, first, last])).toEqual([
      [1, 4, 1, 5],
      [2, 1, 3, 3],
    ]);
  });

  it('of two games at once are two sessions, and one that has ended begins anew', async () => {
    const names = async (): Promise<(string | boolean)[][]> =>
      (await server.read<PlayPage>(API)).sessions
        .filter(({ name }) => name === 'left' || name === 'right')
        .map(({ name, isOpen }) => [name, isOpen]);
    await send(JSON.stringify([event(1)]), undefined, { query: '?session=left' });
    await send(JSON.stringify([event(1)]), undefined, { query: '?session=right' });
    expect(await names()).toEqual([
      ['right', true],
      ['left', true],
    ]);
    const end = await server.app.inject({
      method: 'POST',
      url: `/play/1/end?session=left&token=${token}`,
      headers: HOST,
    });
    expect(end.statusCode).toBe(204);
    await send(JSON.stringify([event(2)]), undefined, { query: '?session=left' });
    expect(await names()).toEqual([
      ['left', true],
      ['right', true],
      ['left', false],
    ]);
  });

  it('say what could not be read, and keep the rest', async () => {
    const { body } = await send(
      `${lines(event(1))}\n{ broken\n\n${JSON.stringify({ specversion: '0.3', id: '2' })}\n${lines(event(3))}\r\n`,
      'application/x-ndjson',
    );
    expect([body.taken, body.problems.length, body.problems[0]]).toEqual([2, 2, 'it is no JSON']);
    const { session } = await open(body.session);
    expect([session.events, session.unread]).toEqual([2, 2]);
    expect(session.problems.map(({ line }) => line)).toEqual([2, 4]);
  });

  it('are taken with the token of the project alone, from this machine alone', async () => {
    const wrong = await send('[]', undefined, { headers: { authorization: 'Bearer another' } });
    expect([wrong.status, wrong.body.code]).toEqual([403, 'play/token']);
    const elsewhere = await send('[]', undefined, { headers: { origin: 'http://elsewhere.example' } });
    expect([elsewhere.status, elsewhere.body.code]).toEqual([403, 'request/foreign']);
    const game = await send('[]', undefined, { headers: { origin: 'http://localhost:8080' } });
    expect([game.status, game.headers['access-control-allow-origin']]).toEqual([202, 'http://localhost:8080']);
    const broken = await send('{', 'application/cloudevents+json');
    expect([broken.status, broken.body.code]).toEqual([400, 'request/invalid']);
    const asked = await server.app.inject({
      method: 'OPTIONS',
      url: '/play/1',
      headers: { ...HOST, origin: 'http://localhost:8080', 'access-control-request-method': 'POST' },
    });
    expect([asked.statusCode, asked.headers['access-control-allow-headers']]).toEqual([
      204,
      'authorization, content-type',
    ]);
  });

  it('come over a socket', async () => {
    await server.app.ready();
    const socket = await server.app.injectWS(`/play/1/socket?session=live&token=${token}`, {
      headers: HOST,
      socket: { remoteAddress: '127.0.0.1' } as Socket,
    });
    const told = new Promise<string>((resolve) => socket.on('message', (data: Buffer) => resolve(data.toString())));
    socket.send(lines(event(1), event(2)));
    socket.send(JSON.stringify([event(3), event(4)]));
    socket.send('{ broken');
    expect(JSON.parse(await told)).toEqual({ problem: 'it is no JSON' });
    socket.terminate();
    const session = (await server.read<PlayPage>(API)).sessions.find(({ name }) => name === 'live');
    expect([session?.events, session?.unread]).toEqual([4, 1]);
  });

  it('do not come over a socket without the token, and the server goes on', async () => {
    const opened = server.app.injectWS('/play/1/socket?token=another', {
      headers: HOST,
      socket: { remoteAddress: '127.0.0.1' } as Socket,
    });
    await expectAsync(opened).toBeRejectedWithError(/403/);
    expect((await batch(event(1))).status).toBe(202);
  });

  it('of a file are a session of their own, narrowed by kind, text, who, side and stretch', async () => {
    const { session } = await file(
      lines(
        event(1, { data: 'Tender 9' }),
        event(2, { type: 'gate.opened', side: 'server' }),
        event(3, { source: 'Bell', handler: 'Gate.open', happening: 'handled' }),
        event(4, { type: 'gate.opened', subject: 'Lower gate', side: 'client' }),
      ),
    );
    const { kinds } = await open(session);
    const id = (type: string): number =>
      itemAt(
        kinds.filter((one) => one.type === type),
        0,
      ).id;
    const found = async (query: string): Promise<number[]> => (await page(session, query)).rows.map(({ at }) => at);
    expect(await found(`?without=${id('gate.opened')}`)).toEqual([3, 1]);
    expect(await found(`?only=${id('gate.opened')}`)).toEqual([4, 2]);
    expect(await found('?text=tender')).toEqual([1]);
    expect(await found('?text=gate.op')).toEqual([4, 2]);
    expect(await found('?who=gate')).toEqual([4, 3]);
    expect(await found('?side=client')).toEqual([4]);
    expect(await found('?from=2&to=3')).toEqual([3, 2]);
    expect(await found('?most=1&before=3')).toEqual([2]);
    expect((await page(session, '?most=1&before=3')).lookedTo).toBe(2);
    expect((await page(session, '?text=nothing')).lookedTo).toBe(1);
  });

  it('tell of an event what led to it, what it led to, and what the map knows of it', async () => {
    const { session } = await file(
      lines(
        event(1),
        event(2, { cause: 'e1', happening: 'handled', handler: 'Gate.open' }),
        event(3, { cause: 'e2', type: 'gate.opened' }),
        event(4, { cause: 'e2', type: 'gate.moved' }),
      ),
    );
    const detail = await server.read<PlayDetail>(`${API}/sessions/${session}/events/3`);
    expect(detail.ledHere.map(({ id }) => id)).toEqual(['e1', 'e2']);
    const middle = await server.read<PlayDetail>(`${API}/sessions/${session}/events/2`);
    expect(middle.ledTo.map(({ id }) => id)).toEqual(['e3', 'e4']);
    expect(middle.onMap?.map(({ written, piece }) => [written, piece.kind])).toEqual([
      ['event:bell.rung', 'event'],
      ['scenes/upper-flight.scene.json', 'scene'],
    ]);
    expect((await server.call<{ code: string }>('GET', `${API}/sessions/${session}/events/9`)).body.code).toBe(
      'play/unknown',
    );
  });

  const judged = (...sessions: number[]): Promise<PlayMapView> =>
    server.read<PlayMapView>(`${API}/map?sessions=${sessions.join(',')}`);
  const said = ({ findings }: PlayMapView, check: string): string[] =>
    findings.filter((one) => one.check === `play/${check}`).map(({ text }) => text);

  it('stand beside what the map expects, one of them or several, and for a route', async () => {
    const one = await file(lines(event(1), event(2, { type: 'bell.rnug' }), event(3, { source: 'nobody' })), 'one');
    const other = await file(lines(event(1, { type: 'bell.rnug' })), 'other');
    const told = await judged(one.session);
    expect([told.events, told.judged]).toEqual([3, [{ id: one.session, name: 'one', left: 0 }]]);
    expect(said(told, 'unknown-event')).toEqual([
      'bell.rnug came once, and the map does not know it; there is bell.rung',
    ]);
    expect(said(told, 'unknown-sender')).toEqual(['nobody was met once, and is not on the map']);
    expect(said(told, 'never-sent').length).toBeGreaterThan(3);
    expect(told.stops.stops.length).toBeGreaterThan(1);
    const both = await judged(one.session, other.session);
    expect(said(both, 'unknown-event')[0]).toContain('2 times');
    expect(both.findings.find(({ check }) => check === 'play/unknown-event')?.lines).toEqual([
      { session: 0, line: 2 },
      { session: 1, line: 1 },
    ]);
    const onRoute = await server.read<PlayMapView>(
      `${API}/map?sessions=${one.session}&route=${encodeURIComponent('scenes/toll-office.scene.json')}`,
    );
    expect(onRoute.seen.scenes.of).toBeLessThan(told.seen.scenes.of);
    expect(said(onRoute, 'never-sent').length).toBeLessThan(said(told, 'never-sent').length);
    expect((await server.call('GET', `${API}/map?sessions=999`)).status).toBe(404);
  });

  it('are held against what other sessions had', async () => {
    const burst = (count: number, second: number): string =>
      lines(...Array.from({ length: count }, (_, at) => event(second * 10, { id: `e${at}`, type: 'weir.risen' })));
    const calm = [await file(burst(8, 1), 'calm'), await file(burst(9, 2), 'calm')];
    const { session } = await file(burst(28, 3), 'storm');
    expect(said(await judged(session), 'storm')).toEqual([
      'weir.risen came 28 times within one second; in other sessions it was 9 at most',
    ]);
    expect(said(await judged(itemAt(calm, 0).session), 'storm')).toEqual([]);
  });

  it('say of findings of the scan whether they failed, came up, or never did', async () => {
    const list = (query = ''): Promise<FindingPage> =>
      server.read<FindingPage>(`/api/projects/1/findings?limit=200${query}`);
    const before = await list();
    const missing = before.rows.find(({ check }) => check === 'broken/missing-object');
    const place = `${missing?.file}:${missing?.line}`;
    await file(lines(event(1, { type: 'engine.failed', happening: 'failed', source: 'nobody', place }), event(2)));
    // What play says is worked out anew after a while.
    await new Promise((resolve) => setTimeout(resolve, 3100));
    const failed = await list('&played=failed');
    expect(failed.rows.map(({ file: at, line }) => `${at}:${line}`)).toContain(place);
    const [came, never] = [await list('&played=came'), await list('&played=never')];
    expect(failed.total + came.total + never.total).toBe(before.total);
    expect([came.total, never.total].every((total) => total > 0)).toBeTrue();
    const told = await server.read<FindingDetail>(`/api/projects/1/findings/${missing?.fingerprint}`);
    expect([told.play?.failed, (told.play?.sessions ?? 0) > 0]).toEqual([1, true]);
  });

  it('are followed as they grow, and begun anew when their file is', async () => {
    const log = join(server.folder, 'growing.play.ndjson');
    writeFileSync(log, `${lines(event(1))}\n`);
    const followed = await server.call<{ session: number }>('POST', `${API}/follow`, { file: 'growing.play.ndjson' });
    const until = async (events: number): Promise<void> => {
      while ((await open(followed.body.session)).session.events < events)
        await new Promise((resolve) => setTimeout(resolve, 50));
    };
    await until(1);
    appendFileSync(log, `${lines(event(2), event(3))}\n`);
    await until(3);
    expect((await open(followed.body.session)).session.isOpen).toBeTrue();
    expect((await server.call('POST', `${API}/sessions/${followed.body.session}/end`)).status).toBe(204);
    expect((await open(followed.body.session)).session.isOpen).toBeFalse();
    rmSync(log);
    const refused = await Promise.all(
      ['gone.play.ndjson', '/etc/hostname', '..'].map((one) =>
        server.call<{ code: string }>('POST', `${API}/follow`, { file: one }),
      ),
    );
    expect(refused.map(({ body }) => body.code)).toEqual(['file/missing', 'folder/not-allowed', 'file/missing']);
  });

  it('tell what the team says of an event, and where in the code it happened', async () => {
    const { session } = await file(lines(event(1, { place: 'scripts/gate.ts:12' }), event(2, { type: 'tide.turned' })));
    const detail = (at: number): Promise<PlayDetail> =>
      server.read<PlayDetail>(`${API}/sessions/${session}/events/${at}`);
    const rung = await detail(1);
    expect([rung.means, rung.event.place]).toEqual(['Somebody pulled a bell rope.', 'scripts/gate.ts:12']);
    expect((await detail(2)).means).toBeNull();
  });

  it('can be looked at in a project that cannot be scanned', async () => {
    const folder = join(server.base, 'bare');
    mkdirSync(folder);
    const { id } = (await server.call<{ id: number }>('POST', '/api/projects', { folder })).body;
    await server.settled(id);
    const log = await server.app.inject({
      method: 'POST',
      url: `/api/projects/${id}/play/sessions`,
      payload: lines(event(1)),
      headers: { ...OWN, 'content-type': 'application/x-ndjson' },
    });
    const { session } = JSON.parse(log.body) as PlayTaken;
    const detail = await server.read<PlayDetail>(`/api/projects/${id}/play/sessions/${session}/events/1`);
    expect([detail.event.id, detail.onMap]).toEqual(['e1', null]);
  });

  it('stand beside each other, from where they part', async () => {
    const one = await file(lines(event(1), event(2), event(3)), 'one');
    const other = await file(lines(event(1), event(2), event(3, { data: 'late' }), event(4)), 'other');
    const beside = await server.read<PlayBesideView>(`${API}/sessions/${one.session}/beside/${other.session}`);
    expect([beside.same, beside.one?.id, beside.other?.data]).toEqual([2, 'e3', 'late']);
    expect(beside.times).toEqual([{ type: 'bell.rung', happening: 'sent', one: 3, other: 4 }]);
    const same = await server.read<PlayBesideView>(`${API}/sessions/${one.session}/beside/${one.session}`);
    expect(same).toEqual({ same: 3, one: null, other: null, times: [] });
  });

  it('leave as they came, and as a table in which nothing is a formula', async () => {
    const all = [event(1, { data: { times: 3 }, own: 'kept' }), event(2, { type: '=gate()', frame: 7 }), event(3)];
    const { session } = await file(lines(...all));
    const get = (query: string): Promise<string> =>
      server.app
        .inject({ method: 'GET', url: `${API}/sessions/${session}/export${query}`, headers: OWN })
        .then(({ body }) => body);
    const back = (await get(''))
      .trim()
      .split('\n')
      .map((line) => JSON.parse(line) as object);
    expect(back).toEqual(all.map((one) => ({ happening: 'sent', ...one })));
    expect((await get('?from=2&to=2')).trim().split('\n').length).toBe(1);
    const rows = (await get('?format=csv')).trim().split('\r\n');
    expect(rows.length).toBe(4);
    expect(rows[2]).toContain("'=gate()");
  });

  it('are narrowed to a frame', async () => {
    const { session } = await file(lines(event(1, { frame: 6 }), event(2, { frame: 7 }), event(3)));
    expect((await page(session, '?frame=7')).rows.map(({ at }) => at)).toEqual([2]);
    expect((await server.call('GET', `${API}/sessions/${session}/events?frame=x`)).status).toBe(400);
  });

  it('are named, noted, marked, and thrown away', async () => {
    const { session } = await file(lines(event(1), event(2)));
    await server.call('PUT', `${API}/sessions/${session}`, { name: 'Friday', note: 'before the mend' });
    await server.call('PUT', `${API}/sessions/${session}/events/2`, { note: 'too late' });
    const marked = await open(session);
    expect([marked.session.name, marked.session.note, marked.marks]).toEqual([
      'Friday',
      'before the mend',
      [{ at: 2, note: 'too late' }],
    ]);
    await server.call('PUT', `${API}/sessions/${session}/events/2`, { note: '' });
    expect((await open(session)).marks).toEqual([]);
    expect((await server.call('DELETE', `${API}/sessions/${session}`)).status).toBe(204);
    expect((await server.read<PlayPage>(API)).sessions.map(({ id }) => id)).not.toContain(session);
    expect((await server.call<{ code: string }>('GET', `${API}/sessions/${session}`)).body.code).toBe('play/unknown');
  });

  it('come by thousands, and all of them are there', async () => {
    const many = Array.from({ length: 12_000 }, (_, at) => event(at, { type: `kind.${at % 1000}` }));
    const { body } = await send(`${lines(...many)}\n`, 'application/x-ndjson');
    expect(body.taken).toBe(12_000);
    const { session, kinds } = await open(body.session);
    expect([session.events, kinds.length]).toEqual([12_000, 1000]);
    // What comes rarely is drawn together, and the whole time in so many stretches.
    const { rates } = await open(body.session);
    expect(new Set(rates.map(([, kind]) => kind)).size).toBe(61);
    expect(new Set(rates.map(([second]) => second)).size).toBeLessThanOrEqual(240);
    expect(rates.reduce((sum, [, , events]) => sum + events, 0)).toBe(12_000);
    const { rows } = await page(body.session, '?most=1000&text=kind.777');
    expect(rows.length).toBe(12);
  });

  it('are told to whoever looks, while they come', async () => {
    const address = await server.app.listen({ host: '127.0.0.1', port: 0 });
    const { port } = new URL(address);
    const socket = connect(Number(port), '127.0.0.1');
    socket.write(`GET ${API}/live HTTP/1.1\r\nhost: 127.0.0.1:${port}\r\naccept: text/event-stream\r\n\r\n`);
    let told = '';
    socket.on('data', (chunk: Buffer) => (told += chunk.toString()));
    const until = async (text: string): Promise<void> => {
      while (!told.includes(text)) await new Promise((resolve) => setTimeout(resolve, 20));
    };
    await until('event: play');
    await batch(event(1), event(2));
    await until('"events":2');
    socket.destroy();
    expect(told).toContain('"unread":0');
  });
});

describe('lines of a stream', () => {
  const all = async (chunks: (string | Buffer)[], longest = 10): Promise<string[]> => {
    const found: string[] = [];
    async function* stream(): AsyncGenerator<Buffer | string> {
      yield* chunks;
    }
    for await (const line of linesOf(stream(), longest)) found.push(line);
    return found;
  };
  it('are whole, wherever they are cut, letters too', async () => {
    const whole = Buffer.from('lock\r\nSchütz\n\nweir');
    const cut = [whole.subarray(0, 9), whole.subarray(9, 10), whole.subarray(10)];
    expect(await all(cut)).toEqual(['lock', 'Schütz', '', 'weir']);
  });
  it('that never end are given up, and the next ones are read', async () => {
    expect(await all(['a'.repeat(8), 'b'.repeat(8), 'c'.repeat(30), 'd\nweir\n'])).toEqual(['aaaaaaaabbb', 'weir']);
  });
});
