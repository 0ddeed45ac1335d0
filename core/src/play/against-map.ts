/** What happened in play beside what the map expects: findings of sessions, and how much of the map was seen. */
import { cellAt } from '../helpers/at.js';
import { once } from '../helpers/once.js';
import { plain, SEVERITIES } from '../model/finding.js';
import { kindOf, keyOf, titleOf, type Graph } from '../model/graph.js';
import { VERBS } from '../model/link.js';
import { stopsOf, type SeenOf, type Stops, type StopSeen } from '../route/stops.js';
import { viewSentence, type FindingView } from '../trace/finding-view.js';
import { pieceName } from '../trace/trace.js';
import { functionIn, playOn, type Place, type Play, type PlayOptions } from './checks/check.js';
import { PLAY_CHECKS } from './checks/registry.js';
import type { Happening, PlayEvent } from './event.js';
import type { PlayExpected } from './expected.js';

/** What was found in sessions of play. It stands without its map. */
export interface PlayFinding extends Pick<
  FindingView,
  'check' | 'severity' | 'sentence' | 'text' | 'sure' | 'pieces' | 'evidence'
> {
  /** How often it was met. */
  times: number;
  /** Where it was met: the first lines. */
  lines: Place[];
}

/** How much of the map was seen, and what was not. */
export interface PlaySeen extends Omit<StopSeen, 'loaded'> {
  scenes: SeenOf;
  /** Keys and titles of scenes and spawned things that never came. */
  unseen: { key: string; title: string }[];
}

export interface PlayAgainstMap {
  sessions: number;
  events: number;
  byHappening: Partial<Record<Happening, number>>;
  /** Worst first; of each check the first ones. */
  findings: PlayFinding[];
  /** How many there are of each check, by its id. */
  counts: Record<string, number>;
  seen: PlaySeen;
  /** The same for each scene and what comes along with it. */
  stops: Stops;
}

/** Of each check so many are told. */
const MOST_OF_CHECK = 200;
const MOST_UNSEEN = 200;

export interface PlayReport {
  /** Another session begins. */
  session(): void;
  /** @param line from 1 */
  add(event: PlayEvent, line: number): void;
  end(): PlayAgainstMap;
}

/**
 * Takes the events of one session or of several, in the order of their logs, and tells in the end how they stand to the map.
 * @param starts what play begins with: pieces from which the scenes are told
 */
export function createPlayReport(
  graph: Graph,
  expected: PlayExpected,
  options: PlayOptions & { starts?: readonly number[] } = {},
): PlayReport {
  const play = playOn(graph, expected, options);
  const checks = PLAY_CHECKS.map((check) => ({ check, watcher: check.begin(play) }));
  const byHappening: PlayAgainstMap['byHappening'] = {};
  let events = 0;
  /** -1 until the first begins. */
  let session = -1;
  return {
    session() {
      session++;
      for (const { watcher } of checks) watcher.session?.();
    },
    add(event, line) {
      // A single one need not be begun.
      if (session < 0) session = 0;
      events++;
      byHappening[event.happening] = (byHappening[event.happening] ?? 0) + 1;
      const at = { session, line };
      play.count(event, at);
      for (const { watcher } of checks) watcher.take?.(event, at);
    },
    end() {
      const found = checks.map(({ check, watcher }) => ({ check, drafts: watcher.end() }));
      const findings = found.flatMap(({ check, drafts }) =>
        drafts
          .sort((a, b) => b.times - a.times)
          .slice(0, MOST_OF_CHECK)
          .map(({ sentence, pieces, severity = check.severity, ...rest }): PlayFinding => ({
            ...rest,
            check: check.id,
            severity,
            sentence: viewSentence(graph, sentence),
            text: plain(sentence),
            pieces: pieces.map((piece) => pieceName(graph, piece)),
          })),
      );
      return {
        sessions: Math.max(1, session + 1),
        events,
        byHappening,
        findings: findings.sort((a, b) => SEVERITIES.indexOf(a.severity) - SEVERITIES.indexOf(b.severity)),
        counts: Object.fromEntries(
          found.flatMap(({ check, drafts }) => (drafts.length > 0 ? [[check.id, drafts.length]] : [])),
        ),
        seen: seenIn(play, (piece) => !options.route || cellAt(options.route, piece) === 1),
        stops: stopsOf(graph, options.starts ?? [], [], {
          isWhole: !options.route,
          seen(along, scene) {
            const { events, wires, spawns } = seenIn(play, (piece) => along[piece] === 1);
            return { loaded: play.loaded.get(scene) ?? 0, events, wires, spawns };
          },
        }),
      };
    },
  };
}

const SPAWNS = VERBS.indexOf('spawns');
const SCENE = 'scene';

/** Pieces that play can show by themselves: scenes, and what is spawned. */
const shown = once((graph: Graph): { scenes: number[]; spawned: Set<number> } => {
  const scenes: number[] = [];
  for (let piece = 0; piece < graph.pieceCount; piece++) if (kindOf(graph, piece) === SCENE) scenes.push(piece);
  const spawned = new Set<number>();
  for (let link = 0; link < graph.linkCount; link++)
    if (cellAt(graph.links.verb, link) === SPAWNS && cellAt(graph.links.to, link) >= 0)
      spawned.add(cellAt(graph.links.to, link));
  return { scenes, spawned };
});

/** How much was seen of some pieces. */
function seenIn(play: Play, isMeant: (piece: number) => boolean): PlaySeen {
  const { graph, expected, sent, handled, loaded } = play;
  const isIn = ({ key }: { key: string }): boolean => {
    const piece = play.pieceOf(key);
    return piece !== undefined && isMeant(piece);
  };
  const sendable = expected.events.filter(({ senders }) => senders.some(isIn));
  const wires = expected.events.flatMap(({ name, listeners }) => {
    const ran = new Set([...(handled.get(name)?.keys() ?? [])].map(functionIn));
    return listeners.filter(isIn).map(({ handlers }) =>
      // Where functions are not named, the event alone can be told apart.
      handlers.length === 0 || ran.has('') ? ran.size > 0 : handlers.some((one) => ran.has(functionIn(one))),
    );
  });
  const scenes = shown(graph).scenes.filter(isMeant);
  const spawns = [...shown(graph).spawned].filter(isMeant);
  // A thing is spawned by the name of its file, of which it is the whole.
  const wasSpawned = (piece: number): boolean => play.spawned.has(piece);
  const unseen = [
    ...scenes.filter((piece) => !loaded.has(piece)),
    ...spawns.filter((piece) => !wasSpawned(piece)),
  ].slice(0, MOST_UNSEEN);
  return {
    events: { seen: sendable.filter(({ name }) => sent.has(name)).length, of: sendable.length },
    wires: handled.size === 0 ? null : { seen: wires.filter(Boolean).length, of: wires.length },
    scenes: { seen: scenes.filter((piece) => loaded.has(piece)).length, of: scenes.length },
    spawns: { seen: spawns.filter(wasSpawned).length, of: spawns.length },
    unseen: unseen.map((piece) => ({ key: keyOf(graph, piece), title: titleOf(graph, piece) })),
  };
}
