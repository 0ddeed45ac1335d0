/** What happened in play, in an SQLite file of its own beside the store. */
import { randomBytes } from 'node:crypto';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { must, type MetName, type PlayEvent } from '@glue-trace/core';
import type { PlayDetail, PlayKind, PlaySessionView } from '../api.js';
import { fromJson, now, openSql, type Sql } from '../store/sql.js';

const MIGRATIONS = join(dirname(fileURLToPath(import.meta.url)), '..', '..', 'src', 'play', 'migrations');

export type SessionRow = Omit<PlaySessionView, 'isOpen'> & { project: number };
type Problem = PlaySessionView['problems'][number];

/** An event with its place in the session. */
export interface KeptEvent {
  at: number;
  kind: number;
  time: number;
  event: PlayEvent;
}

/** As it is kept: with all of its payload, and attributes of others. */
export type EventRow = PlayDetail['event'];

export interface RateRow {
  second: number;
  kind: number;
  events: number;
  first: number;
  last: number;
}

/** What a list of events is narrowed to. */
export interface EventFilter {
  /** Kinds that are left out, or those alone that are shown. */
  without?: readonly number[];
  only?: readonly number[];
  text?: string;
  /** Kinds of which the name holds the text. */
  called?: readonly number[];
  who?: string;
  side?: string;
  frame?: number;
  /** Positions, both included. */
  from?: number;
  to?: number;
}

export type PlayStore = ReturnType<typeof openPlayStore>;

/** Events that are looked through at once: more would keep others waiting. */
const MOST_LOOKED = 50_000;
/** Sessions from which it can be said what is usual. */
const LEAST_SESSIONS = 2;
/** Stretches of time that are told apart, and kinds in them. */
const [MOST_STRETCHES, MOST_APART] = [240, 60];
/** Rows that are thrown away at once. */
const AT_ONCE = 20_000;
const COLUMNS = 'at, kind, time, id, source, subject, handler, frame, side, cause, place, data, others';

/** The file beside a store. */
export const playPathOf = (storePath: string): string => `${storePath.replace(/\.\w+$/, '')}-play.db`;

/** @throws GlueError as `openSql` */
export function openPlayStore(path: string) {
  const sql = openSql(path, MIGRATIONS);
  return {
    close: (): void => sql.close(),

    /** What a game of a project sends along; made when it is first asked for. */
    tokenOf(project: number): string {
      const known = sql('SELECT token FROM tokens WHERE project = ?').get<{ token: string }>(project);
      if (known) return known.token;
      const token = randomBytes(24).toString('base64url');
      sql('INSERT INTO tokens (project, token) VALUES (?, ?)').run(project, token);
      return token;
    },

    addSession(project: number, name: string, cameBy: string): SessionRow {
      const { lastInsertRowid } = sql(
        'INSERT INTO sessions (project, name, came_by, started_at) VALUES (?, ?, ?, ?)',
      ).run(project, name, cameBy, now());
      return must(sessionIn(sql, Number(lastInsertRowid)));
    },
    session: (id: number): SessionRow | undefined => sessionIn(sql, id),
    /** Newest first. */
    sessions: (project: number): SessionRow[] =>
      sql('SELECT * FROM sessions WHERE project = ? ORDER BY id DESC').all<RawSession>(project).map(sessionOf),
    noteSession: (id: number, name: string, note: string): void =>
      void sql('UPDATE sessions SET name = ?, note = ? WHERE id = ?').run(name, note, id),
    endSession: (id: number): void =>
      void sql('UPDATE sessions SET ended_at = ? WHERE id = ? AND ended_at IS NULL').run(now(), id),
    /** Those that a server left open which was stopped. */
    endAll: (): void => void sql('UPDATE sessions SET ended_at = started_at WHERE ended_at IS NULL').run(),

    /** Keeps what came, all of it or nothing. */
    keep(
      { id, events, unread, dropped, problems }: SessionRow,
      kinds: readonly PlayKind[],
      came: readonly KeptEvent[],
      rates: readonly RateRow[],
      met: readonly MetName[],
    ): void {
      sql.together(() => {
        const add = sql(`INSERT INTO events (session, ${COLUMNS}) VALUES (?${', ?'.repeat(13)})`);
        for (const { at, kind, time, event } of came)
          add.run(
            ...[id, at, kind, time, event.id, event.source, event.subject ?? null, event.handler ?? null],
            ...[event.frame ?? null, event.side ?? null, event.cause ?? null, event.place ?? null],
            ...[payloadOf(event), othersOf(event)],
          );
        const count = sql('INSERT OR REPLACE INTO kinds (session, id, type, happening, events) VALUES (?, ?, ?, ?, ?)');
        for (const kind of kinds) count.run(id, kind.id, kind.type, kind.happening, kind.events);
        const rate = sql(
          `INSERT INTO rates (session, second, kind, events, first, last) VALUES (?, ?, ?, ?, ?, ?)
           ON CONFLICT DO UPDATE SET events = events + excluded.events, last = excluded.last`,
        );
        for (const one of rates) rate.run(id, one.second, one.kind, one.events, one.first, one.last);
        const name = sql(
          `INSERT INTO met (session, met_as, name, times) VALUES (?, ?, ?, ?)
           ON CONFLICT DO UPDATE SET times = times + excluded.times`,
        );
        for (const one of met) name.run(id, one.as, one.name, one.times);
        sql('UPDATE sessions SET events = ?, unread = ?, dropped = ?, problems = ? WHERE id = ?').run(
          ...[events, unread, dropped, JSON.stringify(problems), id],
        );
      });
    },

    kinds: (session: number): PlayKind[] =>
      sql('SELECT id, type, happening, events FROM kinds WHERE session = ? ORDER BY events DESC, id').all<PlayKind>(
        session,
      ),
    /**
     * How many events came when: the whole time in some stretches, each named by its first second. Kinds beyond those that
     * come most count together, as kind 0.
     */
    rates(session: number): RateRow[] {
      const span = sql('SELECT min(second) AS start, max(second) AS stop FROM rates WHERE session = ?').get<{
        start: number | null;
        stop: number | null;
      }>(session);
      if (typeof span?.start !== 'number' || span.stop === null) return [];
      const each = Math.max(1, Math.ceil((span.stop - span.start + 1) / MOST_STRETCHES));
      return sql(
        `SELECT ? + CAST((second - ?) / ? AS INTEGER) * ? AS second, coalesce(most.id, 0) AS kind, sum(rates.events) AS events,
           min(first) AS first, max(last) AS last
         FROM rates LEFT JOIN
           (SELECT id FROM kinds WHERE session = ? ORDER BY events DESC, id LIMIT ?) AS most ON most.id = rates.kind
         WHERE session = ? GROUP BY 1, 2 ORDER BY 1`,
      ).all<RateRow>(span.start, span.start, each, each, session, MOST_APART, session);
    },

    /** How often each event was sent within a second at most, in sessions of a project but some. */
    usual(project: number, without: readonly number[]): Map<string, number> {
      const rows = sql(
        `SELECT type, max(rates.events) AS most, count(DISTINCT rates.session) AS sessions FROM rates
         JOIN kinds ON kinds.session = rates.session AND kinds.id = rates.kind
         JOIN sessions ON sessions.id = rates.session
         WHERE project = ? AND happening = 'sent' AND rates.session NOT IN (${listOf(without)}) GROUP BY type`,
      ).all<{ type: string; most: number; sessions: number }>(project, ...without);
      return new Map(rows.filter(({ sessions }) => sessions >= LEAST_SESSIONS).map(({ type, most }) => [type, most]));
    },
    /** By what names all sessions of a project met what is on the map, and how many sessions there are. */
    met(project: number): { names: MetName[]; sessions: number } {
      const names = sql(
        `SELECT met_as AS "as", met.name, sum(times) AS times FROM met JOIN sessions ON sessions.id = session
         WHERE project = ? GROUP BY met_as, met.name`,
      ).all<MetName>(project);
      // A session without an event says nothing; neither does one that was kept before names were.
      const { sessions } = must(
        sql(
          'SELECT count(DISTINCT session) AS sessions FROM met JOIN sessions ON sessions.id = session WHERE project = ?',
        ).get<{ sessions: number }>(project),
      );
      return { names, sessions };
    },
    /** Changes whenever something came to a project, or was thrown away. */
    state(project: number): string {
      const row = sql('SELECT count(*) AS sessions, sum(events) AS events FROM sessions WHERE project = ?').get<{
        sessions: number;
        events: number | null;
      }>(project);
      return `${row?.sessions ?? 0} ${row?.events ?? 0}`;
    },

    /**
     * Events before a position, the latest first. Of a long stretch that holds little a part is looked through at once.
     * @returns the rows, and how far back was looked: 1 when there is nothing before
     */
    before(session: number, before: number, most: number, filter: EventFilter): { rows: EventRow[]; lookedTo: number } {
      const top = Math.min(before, (filter.to ?? Infinity) + 1);
      const bottom = Math.max(filter.from ?? 1, 1);
      const lookedTo = Math.max(bottom, top - MOST_LOOKED);
      const { where, values } = narrowed(filter);
      const rows = sql(
        `SELECT ${COLUMNS} FROM events WHERE session = ? AND at < ? AND at >= ?${where} ORDER BY at DESC LIMIT ?`,
      ).all<EventRow>(session, top, lookedTo, ...values, most);
      return { rows, lookedTo: rows.length === most ? (rows.at(-1)?.at ?? lookedTo) : lookedTo };
    },
    /** Events from a position on, in their order. */
    from: (session: number, from: number, most: number, filter: EventFilter = {}): EventRow[] => {
      const { where, values } = narrowed(filter);
      return sql(
        `SELECT ${COLUMNS} FROM events WHERE session = ? AND at >= ? AND at < ?${where} ORDER BY at LIMIT ?`,
      ).all<EventRow>(session, from, Math.min(from + MOST_LOOKED, (filter.to ?? Infinity) + 1), ...values, most);
    },
    event: (session: number, at: number): EventRow | undefined =>
      sql(`SELECT ${COLUMNS} FROM events WHERE session = ? AND at = ?`).get<EventRow>(session, at),
    /** The event of an id; of several the last before a position. */
    eventOf: (session: number, id: string, before: number): EventRow | undefined =>
      sql(
        `SELECT ${COLUMNS} FROM events WHERE session = ? AND id = ? AND at < ? ORDER BY at DESC LIMIT 1`,
      ).get<EventRow>(...[session, id, before]),
    ledTo: (session: number, id: string, most: number): EventRow[] =>
      sql(`SELECT ${COLUMNS} FROM events WHERE session = ? AND cause = ? ORDER BY at LIMIT ?`).all<EventRow>(
        ...[session, id, most],
      ),

    marks: (session: number): { at: number; note: string }[] =>
      sql('SELECT at, note FROM marks WHERE session = ? ORDER BY at').all(session),
    mark(session: number, at: number, note: string): void {
      if (note === '') sql('DELETE FROM marks WHERE session = ? AND at = ?').run(session, at);
      else sql('INSERT OR REPLACE INTO marks (session, at, note) VALUES (?, ?, ?)').run(session, at, note);
    },

    /** Throws a part of a session away. @returns whether there is more */
    throwAway(session: number): boolean {
      const { changes } = sql(
        'DELETE FROM events WHERE session = ? AND at IN (SELECT at FROM events WHERE session = ? LIMIT ?)',
      ).run(session, session, AT_ONCE);
      if (changes === AT_ONCE) return true;
      for (const table of ['kinds', 'rates', 'marks', 'met'])
        sql(`DELETE FROM ${table} WHERE session = ?`).run(session);
      sql('DELETE FROM sessions WHERE id = ?').run(session);
      return false;
    },
  };
}

/** Places for as many values. */
const listOf = (all: readonly number[]): string => all.map(() => '?').join(', ');

type RawSession = Omit<SessionRow, 'cameBy' | 'startedAt' | 'endedAt' | 'problems'> & {
  came_by: string;
  started_at: string;
  ended_at: string | null;
  problems: string;
};

function sessionIn(sql: Sql, id: number): SessionRow | undefined {
  const row = sql('SELECT * FROM sessions WHERE id = ?').get<RawSession>(id);
  return row && sessionOf(row);
}

function sessionOf({ came_by, started_at, ended_at, problems, ...row }: RawSession): SessionRow {
  return { ...row, cameBy: came_by, startedAt: started_at, endedAt: ended_at, problems: fromJson<Problem[]>(problems) };
}

/** The payload as JSON; what is no text stays as it came, and says so. */
function payloadOf({ data, data_base64 }: PlayEvent): string | null {
  if (data !== undefined) return JSON.stringify(data);
  return data_base64 === undefined ? null : JSON.stringify({ data_base64 });
}

function othersOf({ others }: PlayEvent): string | null {
  return Object.keys(others).length > 0 ? JSON.stringify(others) : null;
}

function narrowed({ without = [], only = [], text, called = [], who, side, frame, from }: EventFilter): {
  where: string;
  values: unknown[];
} {
  const parts: string[] = [];
  const values: unknown[] = [];
  const add = (part: string, ...more: unknown[]): void => {
    parts.push(part);
    values.push(...more);
  };
  if (without.length > 0) add(`kind NOT IN (${listOf(without)})`, ...without);
  if (only.length > 0) add(`kind IN (${listOf(only)})`, ...only);
  if (from !== undefined) add('at >= ?', from);
  if (side) add('side = ?', side);
  if (frame !== undefined) add('frame = ?', frame);
  if (who)
    add("instr(folded(source || ' ' || coalesce(subject, '') || ' ' || coalesce(handler, '')), folded(?)) > 0", who);
  if (text) {
    const inRow = "instr(folded(coalesce(data, '') || ' ' || source || ' ' || coalesce(others, '')), folded(?)) > 0";
    add(called.length > 0 ? `(${inRow} OR kind IN (${listOf(called)}))` : inRow, text, ...called);
  }
  return { where: parts.map((part) => ` AND ${part}`).join(''), values };
}
