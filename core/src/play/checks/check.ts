/** What a check of play is: it takes events as they happened, and tells in the end what was found in them. */
import { cellAt } from '../../helpers/at.js';
import { isEngines } from '../../linking/losses.js';
import type { Evidence } from '../../model/evidence.js';
import type { Sentence, Severity } from '../../model/finding.js';
import { kindOf, type Graph } from '../../model/graph.js';
import { comingAlong } from '../../route/route.js';
import { piecesNamed } from '../../trace/search.js';
import { pieceByKey } from '../../trace/trace.js';
import type { ExpectedEvent, PlayExpected } from '../expected.js';
import type { Happening, PlayEvent } from '../event.js';

/** A line of one of the logs that are judged together. */
export interface Place {
  /** Which of them, from 0. */
  session: number;
  /** From 1. */
  line: number;
}

export interface PlayCheck {
  /** Public; never changes its meaning. */
  id: string;
  title: string;
  severity: Severity;
  /** Why it matters. */
  why: string;
  /** How it decides, and when it stays silent. */
  decides: string;
  begin(play: Play): Watcher;
}

/** Takes the events of sessions, in their order. */
export interface Watcher {
  /** Another session begins. */
  session?(): void;
  take?(event: PlayEvent, at: Place): void;
  end(): PlayDraft[];
}

/** A finding of play before what is the same for all of its check. */
export interface PlayDraft {
  sentence: Sentence;
  sure: string;
  /** How often it was met. */
  times: number;
  /** Where it was met: the first places. */
  lines: Place[];
  /** Pieces of the map, the one to trace first. */
  pieces: number[];
  /** Places in files. */
  evidence: Evidence[];
  severity?: Severity;
}

/** Something that was met in play, how often, and where first. */
export interface Met {
  times: number;
  lines: Place[];
}

const MOST_LINES = 5;

export function meet<Key>(all: Map<Key, Met>, key: Key, at: Place): void {
  const met = all.get(key);
  if (!met) all.set(key, { times: 1, lines: [at] });
  else {
    met.times++;
    if (met.lines.length < MOST_LINES) met.lines.push(at);
  }
}

/** What all checks of play know of the map, and of what was met so far. */
export interface Play {
  graph: Graph;
  expected: PlayExpected;
  events: ReadonlyMap<string, ExpectedEvent>;
  /** How often each event came within a second at most in other sessions. */
  usual: ReadonlyMap<string, number>;
  /** Pieces that a log calls so. */
  named(text: string): readonly number[];
  pieceOf(key: string): number | undefined;
  /** Whether a piece lies on the route. */
  isOn(key: string): boolean;
  /** Whether it lies there, and, where logs tell which scenes were loaded, comes along with one of them. */
  isThere(key: string): boolean;
  isEngines(event: string): boolean;
  /** By event. */
  sent: Map<string, Met>;
  /** By event, and function that handled it; empty where no function is named. */
  handled: Map<string, Map<string, Met>>;
  /** Scenes that were loaded, with how often. */
  loaded: Map<number, number>;
  /** What was spawned, with how often. */
  spawned: Map<number, number>;
}

/** Happenings of which the type is an event, and no kind of happening. */
export const OF_EVENTS: ReadonlySet<Happening> = new Set(['sent', 'heard', 'handled', 'listening', 'ended']);

export interface PlayOptions {
  /** 1 for each piece on the route that is spoken for. */
  route?: Uint8Array;
  usual?: ReadonlyMap<string, number>;
}

export function playOn(
  graph: Graph,
  expected: PlayExpected,
  { route, usual = new Map() }: PlayOptions,
): Play & { count(event: PlayEvent, at: Place): void } {
  const names = new Map<string, readonly number[]>();
  const named = (text: string): readonly number[] => {
    let found = names.get(text);
    if (!found) {
      found = piecesCalled(graph, text);
      // A game may call a million things by names of their own.
      if (names.size < MOST_NAMES) names.set(text, found);
    }
    return found;
  };
  const keys = new Map<string, number | undefined>();
  const pieceOf = (key: string): number | undefined => {
    if (!keys.has(key)) keys.set(key, pieceByKey(graph, key));
    return keys.get(key);
  };
  let along: Uint8Array | undefined;
  let scenesThen = -1;
  const play: Play = {
    ...{ graph, expected, usual, named, pieceOf },
    events: new Map(expected.events.map((event) => [event.name, event])),
    isEngines: (event) => isEngines(expected.engine, event),
    isOn(key) {
      const piece = pieceOf(key);
      return piece !== undefined && (!route || cellAt(route, piece) === 1);
    },
    isThere(key) {
      const piece = pieceOf(key);
      if (piece === undefined || !play.isOn(key)) return false;
      if (play.loaded.size !== scenesThen) {
        scenesThen = play.loaded.size;
        const scenes = [...play.loaded.keys()];
        along =
          scenesThen === 0
            ? undefined
            : comingAlong(graph, scenes, (one) => kindOf(graph, one) !== 'scene' || play.loaded.has(one));
      }
      return along?.[piece] !== 0;
    },
    ...{ sent: new Map(), handled: new Map(), loaded: new Map(), spawned: new Map() },
  };
  const add = (all: Map<number, number>, pieces: readonly number[]): void => {
    for (const piece of pieces) all.set(piece, (all.get(piece) ?? 0) + 1);
  };
  return Object.assign(play, {
    count({ type, happening, source, subject, handler }: PlayEvent, at: Place) {
      if (happening === 'sent') meet(play.sent, type, at);
      else if (happening === 'handled') {
        const by = play.handled.get(type) ?? new Map<string, Met>();
        play.handled.set(type, by);
        meet(by, handler ?? '', at);
      } else if (happening === 'loaded') {
        const named = new Set([subject, source].flatMap((name) => (name === undefined ? [] : play.named(name))));
        add(
          play.loaded,
          [...named].filter((piece) => kindOf(graph, piece) === 'scene'),
        );
      } else if (happening === 'spawned') add(play.spawned, play.named(subject ?? source));
    },
  });
}

const MOST_NAMES = 200_000;

/** The pieces that a log calls so: as the plan would write it, or as a URI reference. */
export function piecesCalled(graph: Graph, name: string): number[] {
  const found = piecesNamed(graph, name);
  if (found.length > 0 || !name.includes('%')) return found;
  try {
    return piecesNamed(graph, decodeURIComponent(name));
  } catch {
    return [];
  }
}

/** `scripts/gate.ts:12`, with a column or without, as a file and a line; undefined where it is no such place. */
export function placeIn(place: string): { file: string; line: number } | undefined {
  const [, file = '', line = ''] = /^(.+?):(\d+)(?::\d+)?$/.exec(place) ?? [];
  return file && Number(line) > 0 ? { file, line: Number(line) } : undefined;
}

/** The value that a plan gives for an event: by its name, else by the first glob that it matches. */
export function ruleFor<Value>(rules: Record<string, Value>, event: string): Value | undefined {
  if (Object.hasOwn(rules, event)) return rules[event];
  return Object.entries(rules).find(([glob]) => isEngines([glob], event))?.[1];
}

/** Milliseconds since 1970; without a time, frames as sixtieths of a second; undefined without either. */
export function momentOf({ time, frame }: PlayEvent): number | undefined {
  if (time !== undefined) return Date.parse(time);
  return frame === undefined ? undefined : (frame * 1000) / 60;
}

/** The name of a function without what it belongs to: `open` of `Gate.open`. */
export const functionIn = (handler: string): string => handler.split(/[.:#/]/).at(-1) ?? handler;

/** `once`, `3 times`. */
export const timesOf = (times: number): string => (times === 1 ? 'once' : `${times} times`);

/** Where an event is sent, or listened to, as evidence. */
export function endsOf(
  ends: readonly { file: string; range: Evidence['range'] }[] | undefined,
  shows: string,
  most = 3,
): Evidence[] {
  return (ends ?? []).slice(0, most).map(({ file, range }) => ({ file, range, shows }));
}

/** The piece of an event, for a sentence and for what is traced. */
export function eventIn(play: Play, event: string): { run: { name: string; piece?: number }; pieces: number[] } {
  const known = play.events.get(event);
  const piece = known && play.pieceOf(known.key);
  return piece === undefined ? { run: { name: event }, pieces: [] } : { run: { name: event, piece }, pieces: [piece] };
}

/** Texts of a payload, its lists and objects one step down. */
export function textsIn(data: unknown): string[] {
  if (typeof data === 'string') return [data];
  if (typeof data !== 'object' || data === null) return [];
  return Object.values(data).filter((one): one is string => typeof one === 'string');
}
