/** Play logs: what games send, what is read of files, and what a page shows of it. */
import { realpathSync, statSync } from 'node:fs';
import { dirname, resolve } from 'node:path';
import { Readable } from 'node:stream';
import {
  createPlayReport,
  csvRows,
  GlueError,
  LONGEST_LINE,
  partingOf,
  PLAY_CHECKS,
  pieceName,
  piecesCalled,
  playRuleFor,
  reachedBy,
  timesBeside,
  type PlayEvent,
} from '@glue-trace/core';
import type { FastifyInstance, FastifyReply, FastifyRequest } from 'fastify';
import Joi from 'joi';
import type {
  PlayBesideView,
  PlayDetail,
  PlayEventPage,
  PlayEventView,
  PlayKind,
  PlayMapView,
  PlayNews,
  PlayPage,
  PlaySessionPage,
  PlaySessionView,
  PlayTaken,
} from '../api.js';
import type { EventFilter, EventRow, SessionRow } from '../play/play-store.js';
import { createIntake, type OpenSession } from '../play/intake.js';
import { isSame } from '../own-pages.js';
import { valid } from '../problems.js';
import { growing } from '../play/growing.js';
import { linesOf } from '../play/lines.js';
import { loadPlan } from '../plans/plan-files.js';
import type { ProjectRow } from '../store/store.js';
import { doneScanOf, mapOf, projectOf, type Context } from './context.js';
import type { Sight } from './play-routes.js';

const sessionParams = Joi.object<{ session: number }>({
  session: Joi.number().integer().positive().required(),
}).unknown();
const eventParams = Joi.object<{ at: number }>({ at: Joi.number().integer().positive().required() }).unknown();
const besideParams = Joi.object<{ other: number }>({
  other: Joi.number().integer().positive().required(),
}).unknown();
const ids = Joi.string()
  .pattern(/^\d+(,\d+)*$/)
  .allow('')
  .default('');
interface EventQuery {
  before?: number;
  most: number;
  without: string;
  only: string;
  text: string;
  who: string;
  side: string;
  frame?: number;
  from?: number;
  to?: number;
}
const position = Joi.number().integer().min(1);
const eventQuery = Joi.object<EventQuery>({
  before: position,
  most: Joi.number().integer().min(1).max(1000).default(200),
  without: ids,
  only: ids,
  text: Joi.string().max(200).allow('').default(''),
  who: Joi.string().max(200).allow('').default(''),
  side: Joi.string().max(100).allow('').default(''),
  frame: Joi.number().integer(),
  from: position,
  to: position,
});
const exportQuery = Joi.object<EventQuery & { format: 'ndjson' | 'csv' }>({
  format: Joi.string().valid('ndjson', 'csv').default('ndjson'),
}).concat(eventQuery as Joi.ObjectSchema<EventQuery & { format: 'ndjson' | 'csv' }>);
const sessionName = Joi.string().trim().min(1).max(100);
const sendQuery = Joi.object<{ session: string; token: string }>({
  session: sessionName.default('game'),
  token: Joi.string().max(200).allow('').default(''),
});
const mapQuery = Joi.object<{ sessions: string; route?: string }>({
  sessions: Joi.string()
    .pattern(/^\d+(,\d+){0,99}$/)
    .required(),
  route: Joi.string().max(4096),
});
const followBody = Joi.object<{ file: string }>({ file: Joi.string().trim().min(1).max(4096).required() });
const fileQuery = Joi.object<{ name: string }>({ name: sessionName.default('a log') });
const sessionBody = Joi.object<{ name: string; note: string }>({
  name: sessionName.required(),
  note: Joi.string().trim().max(2000).allow('').default(''),
});
const markBody = Joi.object<{ note: string }>({ note: Joi.string().trim().max(2000).allow('').required() });

/** Of a payload so much is shown in a list, in letters. */
const SHORT = 300;
/** What a chain shows, forward and back. */
const LONGEST_CHAIN = 50;
/** In milliseconds: pages are told of news so often at most. */
const TOLD_EVERY = 200;
const MOST_TOLD = 200;
/** Events of two sessions that are compared: of longer ones the beginning. */
const MOST_COMPARED = 200_000;
/** Events of a session that are held against the map: of a longer one the beginning. */
const MOST_JUDGED = 1_000_000;
const JUDGED_AT_ONCE = 500;
/** Events that are read at once where all of a session are needed. */
const AT_ONCE = 5000;

export function playLogRoutes(app: FastifyInstance, context: Context, sight: Sight): void {
  const { play } = context;
  const intake = createIntake(play, app.log);
  /** Files that are followed, by the session that they come into. */
  const followed = new Map<number, AbortController>();
  app.addHook('onClose', () => {
    for (const stop of followed.values()) stop.abort();
    intake.close();
    play.close();
  });

  const rowOf = (project: ProjectRow, session: number): SessionRow => {
    const row = play.session(session);
    if (row?.project !== project.id)
      throw new GlueError(
        'play/unknown',
        `There is no play session ${session} in this project. Choose one of the list.`,
      );
    return row;
  };
  const sessionOf = (request: FastifyRequest): SessionRow => {
    const project = projectOf(context, request.params);
    const { session } = valid(sessionParams, request.params);
    intake.flush();
    return rowOf(project, session);
  };
  const viewOf = (row: SessionRow): PlaySessionView => {
    const { project: _, ...rest } = row;
    return { ...rest, isOpen: row.endedAt === null };
  };

  // From games ------------------------------------------------------------------------------------------------------

  for (const type of ['application/cloudevents+json', 'application/cloudevents-batch+json'])
    app.addContentTypeParser(type, { parseAs: 'string' }, (_, body, done) => {
      try {
        done(null, JSON.parse(String(body)));
      } catch {
        done(new GlueError('request/invalid', 'The body is no JSON: an event, or a list of events.'));
      }
    });
  // Read as it comes: a log may be of any length.
  app.addContentTypeParser('application/x-ndjson', (_, payload, done) => done(null, payload));

  const sender = (request: FastifyRequest): { session: OpenSession; token: string } => {
    const project = projectOf(context, request.params);
    const { session, token } = valid(sendQuery, request.query);
    const sent = token || (/^Bearer (.+)$/i.exec(request.headers.authorization ?? '')?.[1] ?? '');
    if (!isSame(sent, play.tokenOf(project.id)))
      throw new GlueError(
        'play/token',
        'Send the token of the project along, as “Authorization: Bearer …”. Play logs shows it.',
      );
    return { session: intake.sessionOf(project.id, session, 'sent'), token: sent };
  };
  /** Takes an event, a list of them, or lines as they come. */
  const take = async (session: OpenSession, body: unknown): Promise<PlayTaken> => {
    const before = { events: session.row.events, dropped: session.row.dropped };
    const problems: string[] = [];
    const note = (problem: string | undefined): void => {
      if (problem !== undefined && problems.length < 5) problems.push(problem);
    };
    if (isStream(body)) for await (const line of linesOf(body, LONGEST_LINE)) note(session.takeLine(line));
    else for (const one of Array.isArray(body) ? (body as unknown[]) : [body]) note(session.take(one));
    return {
      session: session.row.id,
      taken: session.row.events - before.events,
      dropped: session.row.dropped - before.dropped,
      problems,
    };
  };
  // A game may send each event by itself.
  app.post('/play/:project', { config: { rateLimit: false } }, async (request, reply) =>
    reply.status(202).send(await take(sender(request).session, request.body)),
  );
  // What browsers ask before a game on another port may send.
  app.options('/play/*', (_, reply) => reply.status(204).send());
  app.post('/play/:project/end', (request, reply) => {
    const { session } = sender(request);
    intake.end(session.row.project, session.row.name);
    return reply.status(204).send();
  });
  // Who has no token is answered before there is a socket.
  const preValidation = (request: FastifyRequest, _: FastifyReply, done: () => void): void => {
    sender(request);
    done();
  };
  app.get('/play/:project/socket', { websocket: true, preValidation }, (socket, request) => {
    const { session } = sender(request);
    socket.on('message', (data: Buffer) => {
      for (const line of data.toString('utf8').split('\n')) {
        const problem = line.startsWith('[') ? takeList(session, line) : session.takeLine(line);
        if (problem !== undefined) socket.send(JSON.stringify({ problem }));
      }
    });
  });

  // For pages -------------------------------------------------------------------------------------------------------

  app.get('/api/projects/:project/play', (request): PlayPage => {
    const project = projectOf(context, request.params);
    intake.flush();
    return {
      token: play.tokenOf(project.id),
      path: `/play/${project.id}`,
      sessions: play.sessions(project.id).map(viewOf),
    };
  });

  /** Reads a log as a session of its own. */
  app.post('/api/projects/:project/play/sessions', async (request, reply) => {
    const project = projectOf(context, request.params);
    const { name } = valid(fileQuery, request.query);
    const session = intake.newSession(project.id, name, 'file');
    const taken = await take(session, request.body).finally(() => session.end());
    return reply.status(201).send(taken);
  });

  app.get('/api/projects/:project/play/sessions/:session', (request): PlaySessionPage => {
    const row = sessionOf(request);
    return {
      session: viewOf(row),
      kinds: play.kinds(row.id),
      rates: play.rates(row.id).map(({ second, kind, events, first, last }) => [second, kind, events, first, last]),
      marks: play.marks(row.id),
    };
  });

  app.put('/api/projects/:project/play/sessions/:session', (request, reply) => {
    const { id } = sessionOf(request);
    const { name, note } = valid(sessionBody, request.body);
    play.noteSession(id, name, note);
    return reply.status(204).send();
  });

  app.delete('/api/projects/:project/play/sessions/:session', async (request, reply) => {
    const { id } = sessionOf(request);
    if (intake.isOpen(id)) intake.forget(id);
    // A part at a time, so that others are answered meanwhile.
    while (play.throwAway(id)) await new Promise((resolve) => setImmediate(resolve));
    return reply.status(204).send();
  });

  app.get('/api/projects/:project/play/sessions/:session/events', (request): PlayEventPage => {
    const row = sessionOf(request);
    const query = valid(eventQuery, request.query);
    const { rows, lookedTo } = play.before(
      row.id,
      query.before ?? row.events + 1,
      query.most,
      filterOf(query, play.kinds(row.id)),
    );
    return { rows: rows.map(shortOf), lookedTo, events: row.events };
  });

  app.get('/api/projects/:project/play/sessions/:session/events/:at', async (request): Promise<PlayDetail> => {
    const row = sessionOf(request);
    const { at } = valid(eventParams, request.params);
    const event = play.event(row.id, at);
    if (!event) throw new GlueError('play/unknown', `The session has no event ${at}.`);
    const ledHere: EventRow[] = [];
    for (
      let cause: EventRow | undefined = event;
      typeof cause?.cause === 'string' && ledHere.length < LONGEST_CHAIN;
      cause = ledHere[0]
    ) {
      const before = play.eventOf(row.id, cause.cause, cause.at);
      if (!before) break;
      ledHere.unshift(before);
    }
    const kinds = new Map(play.kinds(row.id).map((kind) => [kind.id, kind]));
    const project = projectOf(context, request.params);
    // What happened can be looked at without a map, too.
    const graph = await mapOf(context, project).then(
      (map) => map.graph,
      (error: unknown) => {
        if (error instanceof GlueError && error.code === 'scan/none') return undefined;
        throw error;
      },
    );
    const known = (text: string | null | undefined): NonNullable<PlayDetail['onMap']> => {
      const [piece] = graph && text ? piecesCalled(graph, text) : [];
      return graph === undefined || piece === undefined
        ? []
        : [{ written: text ?? '', piece: pieceName(graph, piece) }];
    };
    const type = kinds.get(event.kind)?.type ?? '';
    return {
      event,
      ledHere: ledHere.map(shortOf),
      ledTo: play.ledTo(row.id, event.id, LONGEST_CHAIN).map(shortOf),
      means: meaningOf(project, type),
      onMap: graph ? [...known(`event:${type}`), ...known(event.source), ...known(event.subject)] : null,
    };
  });

  app.put('/api/projects/:project/play/sessions/:session/events/:at', (request, reply) => {
    const row = sessionOf(request);
    const { at } = valid(eventParams, request.params);
    play.mark(row.id, at, valid(markBody, request.body).note);
    return reply.status(204).send();
  });

  app.get('/api/projects/:project/play/sessions/:session/export', (request, reply) => {
    const row = sessionOf(request);
    const query = valid(exportQuery, request.query);
    const kinds = new Map(play.kinds(row.id).map((kind) => [kind.id, kind]));
    const filter = filterOf(query, [...kinds.values()]);
    const file = `${row.name.replace(/[^\w-]+/g, '-') || 'session'}.play.${query.format}`;
    void reply
      .type(query.format === 'csv' ? 'text/csv; charset=utf-8' : 'application/x-ndjson')
      .header('content-disposition', `attachment; filename="${file}"`);
    return reply.send(
      Readable.from(
        query.format === 'csv'
          ? textOf(all(row, filter), (event) => csvRows([cellsOf(event, kinds)]), csvRows([COLUMNS]))
          : textOf(all(row, filter), (event) => `${JSON.stringify(writtenOf(event, kinds))}\n`),
      ),
    );
  });

  /** What happened in one session or in several beside what the map expects. */
  app.get('/api/projects/:project/play/map', async (request): Promise<PlayMapView> => {
    const project = projectOf(context, request.params);
    const { sessions, route = '' } = valid(mapQuery, request.query);
    intake.flush();
    const rows = [...new Set(sessions.split(','))].map((id) => rowOf(project, Number(id)));
    const { graph } = await mapOf(context, project);
    const expected = await context.scans.ask(project, { ask: 'play' });
    const reached = route === '' ? undefined : (await sight(project, route)).reached;
    const starts =
      reached?.starts ?? reachedBy(graph, { from: doneScanOf(context, project).readiness?.starts ?? [] }).starts;
    const report = createPlayReport(graph, expected, {
      starts,
      usual: play.usual(
        project.id,
        rows.map(({ id }) => id),
      ),
      ...(reached && { route: reached.pieces }),
    });
    for (const row of rows) {
      report.session();
      const kinds = new Map(play.kinds(row.id).map((kind) => [kind.id, kind]));
      let done = 0;
      for (const events of all(row, { to: MOST_JUDGED }))
        for (const event of events) {
          report.add(writtenOf(event, kinds), event.at);
          // Others are answered meanwhile.
          if (++done % JUDGED_AT_ONCE === 0) await new Promise((resolve) => setImmediate(resolve));
        }
    }
    const told = report.end();
    return {
      ...told,
      judged: rows.map(({ id, name, events }) => ({ id, name, left: Math.max(0, events - MOST_JUDGED) })),
      route,
      checks: PLAY_CHECKS.filter(({ id }) => id in told.counts).map(({ id, title, why, decides }) => ({
        ...{ id, title, why, decides },
      })),
    };
  });

  /** Reads a log on this machine, and goes on as it grows. */
  app.post('/api/projects/:project/play/follow', (request, reply) => {
    const project = projectOf(context, request.params);
    const { file } = valid(followBody, request.body);
    const path = logNamed(context, project, file);
    const session = intake.sessionOf(project.id, file.slice(-100), 'followed');
    if (!followed.has(session.row.id)) {
      const stop = new AbortController();
      followed.set(session.row.id, stop);
      const read = async (): Promise<void> => {
        for await (const line of linesOf(growing(path, stop.signal), LONGEST_LINE)) session.takeLine(line);
      };
      void read()
        .catch((error: unknown) => app.log.warn({ error }, 'a play log is not followed any more'))
        .finally(() => {
          followed.delete(session.row.id);
          intake.end(project.id, session.row.name);
        });
    }
    return reply.status(201).send({ session: session.row.id });
  });

  /** Ends a session that is open: what comes then is another one. */
  app.post('/api/projects/:project/play/sessions/:session/end', (request, reply) => {
    const { id, project, name } = sessionOf(request);
    followed.get(id)?.abort();
    if (intake.isOpen(id)) intake.end(project, name);
    return reply.status(204).send();
  });

  /** Two sessions of the same input: where they part for the first time. */
  app.get('/api/projects/:project/play/sessions/:session/beside/:other', (request): PlayBesideView => {
    const one = sessionOf(request);
    const other = rowOf(projectOf(context, request.params), valid(besideParams, request.params).other);
    const parting = partingOf(eventsOf(one), eventsOf(other));
    return {
      same: parting?.same ?? one.events,
      one: parting?.one ?? null,
      other: parting?.other ?? null,
      times: timesBeside(play.kinds(one.id), play.kinds(other.id)).slice(0, MOST_TOLD),
    };
  });

  /** The events of a session, up to as many as are compared. */
  function* eventsOf(row: SessionRow): Generator<PlayEvent> {
    const kinds = new Map(play.kinds(row.id).map((kind) => [kind.id, kind]));
    for (const rows of all({ ...row, events: Math.min(row.events, MOST_COMPARED) }, {}))
      for (const event of rows) yield writtenOf(event, kinds);
  }

  /** Tells that something came, until the client leaves. */
  app.get('/api/projects/:project/play/live', { sse: 'only' }, async (request, reply) => {
    const project = projectOf(context, request.params);
    let isOpen = true;
    let isNews = false;
    let wake: () => void = () => undefined;
    const off = intake.listen(project.id, () => {
      isNews = true;
      wake();
    });
    request.raw.on('close', () => {
      isOpen = false;
      off();
      wake();
    });
    async function* news(): AsyncGenerator<{ event: string; data: PlayNews }> {
      while (isOpen) {
        isNews = false;
        const sessions = play.sessions(project.id).slice(0, 20);
        yield {
          event: 'play',
          data: sessions
            .map(viewOf)
            .map(({ id, isOpen, events, unread, dropped }) => ({ id, isOpen, events, unread, dropped })),
        };
        await new Promise((resolve) => setTimeout(resolve, TOLD_EVERY));
        if (!isNews && isOpen) await new Promise<void>((resolve) => (wake = resolve));
      }
    }
    await reply.sse.send(news());
  });

  /** All events of a session that are wanted, some at a time. */
  function* all(row: SessionRow, filter: EventFilter): Generator<EventRow[]> {
    const last = Math.min(row.events, filter.to ?? Infinity);
    for (let from = filter.from ?? 1; from <= last;) {
      const rows = play.from(row.id, from, AT_ONCE, filter);
      yield rows;
      from = rows.length === AT_ONCE ? (rows.at(-1)?.at ?? from) + 1 : from + 50_000;
    }
  }
}

/** What the team says that an event means, where the project has a plan that can be read. */
function meaningOf({ folder, planFile }: ProjectRow, event: string): string | null {
  try {
    return playRuleFor(loadPlan(folder, planFile ?? undefined).play.means, event) ?? null;
  } catch (error) {
    if (error instanceof GlueError) return null;
    throw error;
  }
}

/** A log on this machine: in the project, or in another folder that may be opened. @throws GlueError */
function logNamed({ gate }: Context, { folder }: ProjectRow, file: string): string {
  const path = resolve(folder, file);
  if (!statSync(path, { throwIfNoEntry: false })?.isFile())
    throw new GlueError(
      'file/missing',
      `There is no play log at ${path}. Give its path, from the project’s folder on.`,
    );
  gate.admit(dirname(realpathSync(path)));
  return path;
}

function takeList(session: OpenSession, line: string): string | undefined {
  let list: unknown;
  try {
    list = JSON.parse(line);
  } catch {
    return session.takeLine(line);
  }
  const problems = (Array.isArray(list) ? (list as unknown[]) : [list]).map((one) => session.take(one));
  return problems.find((one) => one !== undefined);
}

const isStream = (body: unknown): body is AsyncIterable<Buffer> =>
  typeof body === 'object' && body !== null && Symbol.asyncIterator in body;

function filterOf(
  { without, only, text, who, side, frame, from, to }: EventQuery,
  kinds: readonly PlayKind[],
): EventFilter {
  const list = (written: string): number[] => (written === '' ? [] : written.split(',').map(Number));
  const wanted = text.toLowerCase();
  return {
    ...{ without: list(without), only: list(only), who, side },
    ...(text && { text, called: kinds.filter(({ type }) => type.toLowerCase().includes(wanted)).map(({ id }) => id) }),
    ...(frame !== undefined && { frame }),
    ...(from !== undefined && { from }),
    ...(to !== undefined && { to }),
  };
}

function shortOf(row: EventRow): PlayEventView {
  const { others: _, data, ...rest } = row;
  return { ...rest, data: data && data.length > SHORT ? `${data.slice(0, SHORT)} …` : data };
}

/** An event as it was written. */
function writtenOf(row: EventRow, kinds: ReadonlyMap<number, PlayKind>): PlayEvent {
  const kind = kinds.get(row.kind);
  const data: unknown = row.data === null ? undefined : JSON.parse(row.data);
  const others = row.others === null ? {} : (JSON.parse(row.others) as Record<string, unknown>);
  return {
    ...others,
    specversion: '1.0',
    id: row.id,
    type: kind?.type ?? '',
    source: row.source,
    ...(row.subject !== null && { subject: row.subject }),
    time: new Date(row.time).toISOString(),
    happening: kind?.happening ?? 'sent',
    ...(row.handler !== null && { handler: row.handler }),
    ...(row.frame !== null && { frame: row.frame }),
    ...(row.side !== null && { side: row.side }),
    ...(row.cause !== null && { cause: row.cause }),
    ...(row.place !== null && { place: row.place }),
    ...(data !== undefined && { data }),
  } as PlayEvent;
}

const COLUMNS = [
  ...[
    'at',
    'time',
    'type',
    'happening',
    'source',
    'subject',
    'handler',
    'frame',
    'side',
    'cause',
    'place',
    'id',
    'data',
  ],
];

function cellsOf(row: EventRow, kinds: ReadonlyMap<number, PlayKind>): string[] {
  const { type = '', happening = '' } = kinds.get(row.kind) ?? {};
  const { at, time, source, subject, handler, frame, side, cause, place, id, data } = row;
  return [
    at,
    new Date(time).toISOString(),
    type,
    happening,
    source,
    subject,
    handler,
    frame,
    side,
    cause,
    place,
    id,
    data,
  ].map((one) => (one === null ? '' : String(one)));
}

/** Rows as text, some at a time. */
async function* textOf(all: Iterable<EventRow[]>, write: (row: EventRow) => string, head = ''): AsyncGenerator<string> {
  if (head) yield head;
  for (const rows of all) {
    yield rows.map(write).join('');
    await new Promise((resolve) => setImmediate(resolve));
  }
}
