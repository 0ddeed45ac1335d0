/** What happened in play beside what the map expects. */
import { cellAt } from '../helpers/at.js';
import { groupOf, kindOf, nameOf, type Graph } from '../model/graph.js';
import { VERBS } from '../model/link.js';
import { piecesNamed } from '../trace/search.js';
import type { Happening, PlayEvent } from './event.js';

/** Something that was met in play, how often, and in which line first. */
export interface Met {
  name: string;
  times: number;
  /** From 1. */
  line: number;
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
  /** Events that were sent, that somebody on the map listens to, and that nothing handled; where the log tells of that. */
  neverHandled: Met[];
}

/** Happenings of which the type is an event, and no kind of happening. */
const OF_EVENTS: ReadonlySet<Happening> = new Set(['sent', 'heard', 'handled', 'ended']);
const [SENDS, LISTENS] = [VERBS.indexOf('sends'), VERBS.indexOf('listens to')];

/** Takes events in the order of the log, and tells in the end how they stand to the map. */
export function createPlayReport(graph: Graph): { add(event: PlayEvent, line: number): void; end(): PlayAgainstMap } {
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
  let events = 0;
  return {
    add({ type, source, happening }, line) {
      events++;
      byHappening[happening] = (byHappening[happening] ?? 0) + 1;
      if (OF_EVENTS.has(happening) && !known.has(type)) meet(unheardOf, type, line);
      if (happening === 'sent') meet(sent, type, line);
      if (happening === 'handled') handled.add(type);
      let isKnown = isKnownSender.get(source);
      if (isKnown === undefined)
        isKnownSender.set(source, (isKnown = piecesNamed(graph, plainSource(source)).length > 0));
      if (!isKnown) meet(strangers, source, line);
    },
    end() {
      const most = (all: Iterable<Met>): Met[] => [...all].sort((a, b) => b.times - a.times || a.line - b.line);
      const tellsHandling = handled.size > 0;
      return {
        events,
        byHappening,
        unknownEvents: most(unheardOf.values()),
        unknownSenders: most(strangers.values()),
        neverSent: [...known].flatMap(([name, { isSent }]) => (isSent && !sent.has(name) ? [name] : [])).sort(),
        neverHandled: most(
          [...sent.values()].filter(
            ({ name }) => tellsHandling && known.get(name)?.isHeard === true && !handled.has(name),
          ),
        ),
      };
    },
  };
}

/** Events of the map by name, with whether somebody sends and listens to each. */
function eventsOf(graph: Graph): Map<string, { isSent: boolean; isHeard: boolean }> {
  const found = new Map<string, { isSent: boolean; isHeard: boolean }>();
  for (let piece = 0; piece < graph.pieceCount; piece++) {
    if (kindOf(graph, piece) !== 'event') continue;
    const verbs = [...groupOf(graph.incoming, piece)].map((link) => cellAt(graph.links.verb, link));
    const before = found.get(nameOf(graph, piece));
    found.set(nameOf(graph, piece), {
      isSent: before?.isSent === true || verbs.includes(SENDS),
      isHeard: before?.isHeard === true || verbs.includes(LISTENS),
    });
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
