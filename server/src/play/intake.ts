/**
 * Events as they come, from games that run and from files: gathered in memory, written a few times a second, and told to
 * whoever looks. Nothing is lost in silence: what cannot be read and what is too much is counted.
 */
import {
  GlueError,
  LONGEST_LINE,
  namesMet,
  readPlayEvent,
  readPlayLine,
  type MetName,
  type PlayEvent,
} from '@glue-trace/core';
import type { FastifyBaseLogger } from 'fastify';
import type { PlayKind } from '../api.js';
import type { KeptEvent, PlayStore, RateRow, SessionRow } from './play-store.js';

/** In milliseconds: so often what came is written. */
const FLUSHED_EVERY = 100;
/** So many are written at once without waiting for that. */
const MOST_WAITING = 2000;
/** A session takes no more; what comes then is counted. */
const MOST_EVENTS = 10_000_000;
const MOST_KINDS = 20_000;
/** Names by which things are met, in a session: what comes beyond is kept, and not held against the findings of scans. */
const MOST_NAMES = 50_000;
/** Lines at fault that are kept with a session. */
const MOST_PROBLEMS = 20;
/** In milliseconds: a game that sends nothing for so long has ended its session. */
const ENDED_AFTER = 10 * 60 * 1000;

/** A session that events come into. */
export interface OpenSession {
  row: SessionRow;
  /** Takes what JSON gave, as an event. @returns what is wrong with it, if something is */
  take(written: unknown): string | undefined;
  /** Takes a line of a log; empty ones count for nothing. */
  takeLine(line: string): string | undefined;
  end(): void;
}

export type Intake = ReturnType<typeof createIntake>;

export function createIntake(store: PlayStore, log: FastifyBaseLogger) {
  const open = new Map<string, ReturnType<typeof opened>>();
  const listeners = new Map<number, Set<() => void>>();
  const tell = (project: number): void => {
    for (const told of listeners.get(project) ?? []) told();
  };
  const close = (key: string): void => {
    open.get(key)?.end();
    open.delete(key);
  };
  const timer = setInterval(() => {
    for (const [key, one] of open) if (one.isStill()) close(key);
  }, FLUSHED_EVERY * 100);
  timer.unref();

  return {
    /** The session of a name into which a game sends; a new one after it has ended. */
    sessionOf(project: number, name: string, cameBy: string): OpenSession {
      const key = `${project}\n${name}`;
      let session = open.get(key);
      if (!session) open.set(key, (session = opened(store, log, store.addSession(project, name, cameBy), tell)));
      return session;
    },
    /** A session of its own: a file, or the end of a pipe. */
    newSession: (project: number, name: string, cameBy: string): OpenSession =>
      opened(store, log, store.addSession(project, name, cameBy), tell),
    /** Ends the session of a game. */
    end: (project: number, name: string): void => close(`${project}\n${name}`),
    /** Whatever belongs to a session is written before it is looked at. */
    flush(): void {
      for (const one of open.values()) one.flush();
    },
    isOpen: (id: number): boolean => [...open.values()].some(({ row }) => row.id === id),
    forget(id: number): void {
      for (const [key, one] of open) if (one.row.id === id) open.delete(key);
    },
    /** @returns what stops it */
    listen(project: number, told: () => void): () => void {
      const all = listeners.get(project) ?? new Set();
      listeners.set(project, all.add(told));
      return () => void all.delete(told);
    },
    tell,
    close(): void {
      clearInterval(timer);
      for (const key of [...open.keys()]) close(key);
    },
  };
}

function opened(
  store: PlayStore,
  log: FastifyBaseLogger,
  row: SessionRow,
  tell: (project: number) => void,
): OpenSession & { flush(): void; isStill(): boolean } {
  const kinds = new Map<string, PlayKind>();
  let waiting: KeptEvent[] = [];
  let changed = new Set<PlayKind>();
  let rates = new Map<string, RateRow>();
  const names = new Set<string>();
  let met = new Map<string, MetName>();
  let isChanged = false;
  let timer: NodeJS.Timeout | undefined;
  let lastCame = Date.now();
  let lines = 0;

  const flush = (): void => {
    clearTimeout(timer);
    timer = undefined;
    if (!isChanged) return;
    try {
      store.keep(row, [...changed], waiting, [...rates.values()], [...met.values()]);
    } catch (error) {
      // The file cannot be written: what came meanwhile is given up, and counted.
      if (!(error instanceof GlueError)) throw error;
      log.warn({ error }, 'events of a play session could not be kept');
      row.dropped += waiting.length;
      row.events -= waiting.length;
    }
    waiting = [];
    changed = new Set();
    rates = new Map();
    met = new Map();
    isChanged = false;
    tell(row.project);
  };
  const soon = (): void => {
    isChanged = true;
    lastCame = Date.now();
    if (waiting.length >= MOST_WAITING) flush();
    else timer ??= setTimeout(flush, FLUSHED_EVERY);
  };
  const kindFor = ({ type, happening }: PlayEvent): PlayKind | undefined => {
    const key = `${happening} ${type}`;
    let kind = kinds.get(key);
    if (!kind && kinds.size < MOST_KINDS) kinds.set(key, (kind = { id: kinds.size + 1, type, happening, events: 0 }));
    return kind;
  };
  const refuse = (problem: string): string => {
    row.unread++;
    if (row.problems.length < MOST_PROBLEMS) row.problems.push({ line: lines, problem });
    soon();
    return problem;
  };
  const keep = (event: PlayEvent): void => {
    const kind = kindFor(event);
    if (!kind || row.events >= MOST_EVENTS) {
      row.dropped++;
      return soon();
    }
    const at = ++row.events;
    const time = timeOf(event.time);
    waiting.push({ at, kind: kind.id, time, event });
    kind.events++;
    changed.add(kind);
    const second = Math.floor(time / 1000);
    const rate = rates.get(`${second} ${kind.id}`);
    if (rate) [rate.events, rate.last] = [rate.events + 1, at];
    else rates.set(`${second} ${kind.id}`, { second, kind: kind.id, events: 1, first: at, last: at });
    for (const [as, name] of namesMet(event)) {
      const key = `${as} ${name}`;
      const known = met.get(key);
      if (known) known.times++;
      else if (names.size < MOST_NAMES || names.has(key)) {
        names.add(key);
        met.set(key, { as, name, times: 1 });
      }
    }
    soon();
  };
  const taken = (read: ReturnType<typeof readPlayEvent>): string | undefined => {
    if ('problem' in read) return refuse(read.problem);
    keep(read.event);
    return undefined;
  };
  return {
    row,
    take(written) {
      lines++;
      return taken(readPlayEvent(written));
    },
    takeLine(line) {
      lines++;
      if (line.length > LONGEST_LINE) return refuse(`the line is longer than ${LONGEST_LINE} letters`);
      return line.trim() === '' ? undefined : taken(readPlayLine(line));
    },
    flush,
    isStill: () => Date.now() - lastCame > ENDED_AFTER,
    end() {
      flush();
      store.endSession(row.id);
      tell(row.project);
    },
  };
}

/** When an event says that it happened, or now; in milliseconds since 1970. */
function timeOf(written: string | undefined): number {
  const time = written === undefined ? NaN : Date.parse(written);
  return Number.isNaN(time) ? Date.now() : time;
}
