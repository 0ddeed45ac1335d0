/** What happened in play beside what the map expects. */
import { cellAt } from '../helpers/at.js';
import { nearest } from '../helpers/nearest.js';
import { groupOf, kindOf, nameOf, type Graph } from '../model/graph.js';
import { isEngines } from '../linking/losses.js';
import { VERBS } from '../model/link.js';
import { comingAlong } from '../route/route.js';
import { piecesNamed } from '../trace/search.js';
import type { Happening, PlayEvent } from './event.js';

/** Something that was met in play, how often, and in which line first. */
export interface Met {
  name: string;
  times: number;
  /** From 1. */
  line: number;
  /** What of the map is nearly called so. */
  near?: string;
}

export interface PlayAgainstMap {
  events: number;
  byHappening: Partial<Record<Happening, number>>;
  /** Events that the map does not know, most first. */
  unknownEvents: Met[];
  /** Who sends and is on no map, most first. */
  unknownSenders: Met[];
  /** Events that somebody on the map sends and that were never sent, by name. */
  neverSent: string[];
  /**
   * Events that were sent, that somebody on the map listens to, and that nothing handled; where the log tells of that. Where
   * it tells which scenes were loaded, only who comes along with one of them listens.
   */
  neverHandled: Met[];
  /** Handlers that handled one sending more than once, as `event · handler`. */
  handledTwice: Met[];
  /** How much of the map was seen: events that were sent, scenes that were loaded. */
  seen: { events: SeenOf; scenes: SeenOf };
}

interface SeenOf {
  seen: number;
  of: number;
}

/** Happenings of which the type is an event, and no kind of happening. */
const OF_EVENTS: ReadonlySet<Happening> = new Set(['sent', 'heard', 'handled', 'ended']);
const [SENDS, LISTENS] = [VERBS.indexOf('sends'), VERBS.indexOf('listens to')];

/**
 * Takes events in the order of the log, and tells in the end how they stand to the map.
 * @param engines events that the engine sends by itself, as globs
 */
export function createPlayReport(
  graph: Graph,
  engines: string[] = [],
): { add(event: PlayEvent, line: number): void; end(): PlayAgainstMap } {
  const known = eventsOf(graph);
  const byHappening: PlayAgainstMap['byHappening'] = {};
  const sent = new Map<string, Met>();
  const handled = new Set<string>();
  const strangers = new Map<string, Met>();
  const unheardOf = new Map<string, Met>();
  const isKnownSender = new Map<string, boolean>();
  const meet = (all: Map<string, Met>, name: string, line: number): void => {
    const met = all.get(name);
    if (met) met.times++;
    else all.set(name, { name, times: 1, line });
  };
  const twice = new Map<string, Met>();
  let handlings = new Set<string>();
  const scenes = new Set<number>();
  let events = 0;
  return {
    add({ type, source, subject, happening, handler, cause }, line) {
      events++;
      byHappening[happening] = (byHappening[happening] ?? 0) + 1;
      if (OF_EVENTS.has(happening) && !known.has(type) && !isEngines(engines, type)) meet(unheardOf, type, line);
      if (happening === 'sent') meet(sent, type, line);
      if (happening === 'handled') {
        handled.add(type);
        const handling = JSON.stringify([cause, source, handler]);
        if (cause !== undefined && handlings.has(handling)) meet(twice, `${type} · ${handler ?? source}`, line);
        // What led to it long ago leads to nothing any more.
        if (handlings.size >= MOST_HANDLINGS) handlings = new Set();
        handlings.add(handling);
      }
      if (happening === 'loaded')
        for (const name of [subject, source])
          for (const piece of name === undefined ? [] : piecesNamed(graph, plainSource(name)))
            if (kindOf(graph, piece) === 'scene') scenes.add(piece);
      let isKnown = isKnownSender.get(source);
      if (isKnown === undefined)
        isKnownSender.set(source, (isKnown = piecesNamed(graph, plainSource(source)).length > 0));
      if (!isKnown) meet(strangers, source, line);
    },
    end() {
      const most = (all: Iterable<Met>): Met[] => [...all].sort((a, b) => b.times - a.times || a.line - b.line);
      const tellsHandling = handled.size > 0;
      const along =
        scenes.size > 0
          ? comingAlong(graph, [...scenes], (piece) => kindOf(graph, piece) !== 'scene' || scenes.has(piece))
          : undefined;
      const isHeard = (name: string): boolean =>
        known.get(name)?.heardBy.some((piece) => along === undefined || along[piece] === 1) === true;
      return {
        events,
        byHappening,
        unknownEvents: most(unheardOf.values()).map((met) => {
          const [near] = nearest(met.name, known.keys(), 1);
          return near === undefined ? met : { ...met, near };
        }),
        unknownSenders: most(strangers.values()),
        neverSent: [...known].flatMap(([name, { isSent }]) => (isSent && !sent.has(name) ? [name] : [])).sort(),
        neverHandled: most(
          [...sent.values()].filter(({ name }) => tellsHandling && isHeard(name) && !handled.has(name)),
        ),
        handledTwice: most(twice.values()),
        seen: {
          events: {
            seen: [...sent.keys()].filter((name) => known.get(name)?.isSent === true).length,
            of: [...known.values()].filter(({ isSent }) => isSent).length,
          },
          scenes: { seen: scenes.size, of: count(graph, 'scene') },
        },
      };
    },
  };
}

/** Handlings that are remembered, to know one that comes again. */
const MOST_HANDLINGS = 200_000;

function count(graph: Graph, kind: ReturnType<typeof kindOf>): number {
  let found = 0;
  for (let piece = 0; piece < graph.pieceCount; piece++) if (kindOf(graph, piece) === kind) found++;
  return found;
}

/** Events of the map by name, with whether somebody sends each, and who listens to it. */
function eventsOf(graph: Graph): Map<string, { isSent: boolean; heardBy: number[] }> {
  const found = new Map<string, { isSent: boolean; heardBy: number[] }>();
  for (let piece = 0; piece < graph.pieceCount; piece++) {
    if (kindOf(graph, piece) !== 'event') continue;
    const name = nameOf(graph, piece);
    const event = found.get(name) ?? { isSent: false, heardBy: [] };
    found.set(name, event);
    for (const link of groupOf(graph.incoming, piece)) {
      const verb = cellAt(graph.links.verb, link);
      if (verb === SENDS) event.isSent = true;
      if (verb === LISTENS) event.heardBy.push(cellAt(graph.links.from, link));
    }
  }
  return found;
}

/** A URI reference as the plan would write it. */
function plainSource(source: string): string {
  try {
    return decodeURIComponent(source);
  } catch {
    return source;
  }
}
