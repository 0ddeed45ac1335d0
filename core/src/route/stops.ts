/** A route as its scenes and the ways between them, with what was found on each: what a drawing of it is made from. */
import { cellAt, itemAt } from '../helpers/at.js';
import type { Severity } from '../model/finding.js';
import { keyOf, kindOf, titleOf, type Graph } from '../model/graph.js';
import { GRIPS, type Grip } from '../model/link.js';
import { pieceByKey } from '../trace/trace.js';
import type { FindingView } from '../trace/finding-view.js';
import { comingAlong } from './route.js';

/** What play showed of a scene, and of what comes along with it. */
export interface StopSeen {
  /** How often it was loaded. */
  loaded: number;
  /** Events that somebody sends, and those that were sent. */
  events: SeenOf;
  /** Listeners, and those that handled; null where logs tell of no handling. */
  wires: SeenOf | null;
  /** What is spawned. */
  spawns: SeenOf;
}

/** How much of something was seen. */
export interface SeenOf {
  seen: number;
  of: number;
}

export interface Stop {
  key: string;
  title: string;
  /** Loads from where the route begins. */
  steps: number;
  /** Findings about what comes along with it, accepted ones apart. */
  counts: Record<Severity, number>;
  /** Where play is spoken of. */
  seen?: StopSeen;
}

export interface Stops {
  /** In the order of their steps. */
  stops: Stop[];
  /** Positions of stops: from one, another one is loaded; with the weakest grip of what loads it. */
  ways: { from: number; to: number; grip: Grip }[];
  /** Scenes on the way that are not told, since there are too many. */
  more: number;
}

/** What comes along is walked for each stop: more are no picture either. */
const MOST_STOPS = 40;

/**
 * The scenes that can be come to.
 * @param starts pieces that play begins with
 * @param options `isWhole` tells the other scenes as well, each that nothing known leads to as a beginning of its own;
 * `seen` says what play showed of a scene and of what comes along with it
 */
export function stopsOf(
  graph: Graph,
  starts: readonly number[],
  findings: readonly Pick<FindingView, 'severity' | 'pieces' | 'waived'>[],
  { isWhole = false, seen }: { isWhole?: boolean; seen?: (along: Uint8Array, stop: number) => StopSeen } = {},
): Stops {
  const sceneOf = scenesAbove(graph);
  const open = findings.filter(({ waived }) => !waived);
  const about = open.map((finding) => piecesOf(graph, finding));
  const walked = new Map<number, Pick<Stop, 'counts' | 'seen'> & { loaded: Map<number, number> }>();
  const walk = (stop: number) => {
    let known = walked.get(stop);
    if (known) return known;
    const { along, loaded } = comesAlong(graph, sceneOf, stop);
    const counts: Stop['counts'] = { error: 0, warning: 0, note: 0 };
    open.forEach(({ severity }, which) => {
      if (itemAt(about, which).some((piece) => along[piece])) counts[severity]++;
    });
    walked.set(stop, (known = { counts, loaded, ...(seen && { seen: seen(along, stop) }) }));
    return known;
  };
  const scenes = isWhole ? [...new Set(sceneOf)].filter((scene) => scene >= 0) : [];
  const loaded = new Set(scenes.slice(0, MOST_STOPS).flatMap((scene) => [...walk(scene).loaded.keys()]));
  // Where nothing begins a circle of scenes, the first of them does.
  const others = [...scenes.filter((scene) => !loaded.has(scene)), ...scenes];
  const known = [...new Set(starts.map((piece) => (cellAt(sceneOf, piece) < 0 ? piece : cellAt(sceneOf, piece))))];
  /** Pieces that are stops, with the loads to them. */
  const steps = new Map(known.map((piece) => [piece, 0]));
  const stops: Stop[] = [];
  const ways: [from: number, to: number, grip: number][] = [];
  for (let at = 0; at < MOST_STOPS; at++) {
    const stop = known[at] ?? others.find((scene) => !steps.has(scene));
    if (stop === undefined) break;
    if (at === known.length) known.push(stop);
    const own = steps.get(stop) ?? 0;
    steps.set(stop, own);
    const { loaded: next, ...told } = walk(stop);
    stops.push({
      ...{ key: keyOf(graph, stop), title: titleOf(graph, stop), steps: own, counts: told.counts },
      ...(told.seen && { seen: told.seen }),
    });
    for (const [scene, grip] of next) {
      ways.push([stop, scene, grip]);
      if (steps.has(scene)) continue;
      steps.set(scene, own + 1);
      known.push(scene);
    }
  }
  const position = new Map(known.slice(0, stops.length).map((piece, at) => [piece, at]));
  return {
    stops,
    ways: ways.flatMap(([from, to, grip]) => {
      const [start, end] = [position.get(from), position.get(to)];
      return start === undefined || end === undefined ? [] : [{ from: start, to: end, grip: itemAt(GRIPS, grip) }];
    }),
    more: new Set([...known, ...scenes]).size - stops.length,
  };
}

/** Positions of the findings about a scene and what comes along with it; undefined where no piece has this key. */
export function findingsIn(
  graph: Graph,
  scene: string,
  findings: readonly Pick<FindingView, 'pieces'>[],
): number[] | undefined {
  const stop = pieceByKey(graph, scene);
  if (stop === undefined) return undefined;
  const { along } = comesAlong(graph, scenesAbove(graph), stop);
  return findings.flatMap((finding, at) => (piecesOf(graph, finding).some((piece) => along[piece]) ? [at] : []));
}

const piecesOf = (graph: Graph, { pieces }: Pick<FindingView, 'pieces'>): number[] =>
  pieces.flatMap(({ key }) => pieceByKey(graph, key) ?? []);

/** What is there once a scene is, and the other scenes that it leads to, with the weakest grip (its position) of all ways to each. */
function comesAlong(
  graph: Graph,
  sceneOf: Int32Array,
  stop: number,
): { along: Uint8Array; loaded: Map<number, number> } {
  const loaded = new Map<number, number>();
  const along = comingAlong(graph, [stop], (piece, link) => {
    const scene = cellAt(sceneOf, piece);
    if (scene < 0 || scene === stop) return true;
    const grip = link < 0 ? 0 : cellAt(graph.links.grip, link);
    loaded.set(scene, Math.max(grip, loaded.get(scene) ?? 0));
    return false;
  });
  return { along, loaded };
}

/** The scene that each piece stands in, itself when it is one; -1 for none. */
function scenesAbove(graph: Graph): Int32Array {
  const UNKNOWN = -2;
  const above = new Int32Array(graph.pieceCount).fill(UNKNOWN);
  for (let piece = 0; piece < graph.pieceCount; piece++) {
    const way: number[] = [];
    let at = piece;
    while (at >= 0 && above[at] === UNKNOWN && kindOf(graph, at) !== 'scene' && way.length < graph.pieceCount) {
      way.push(at);
      at = cellAt(graph.pieces.parent, at);
    }
    const scene = at < 0 ? -1 : above[at] === UNKNOWN ? at : cellAt(above, at);
    if (at >= 0) above[at] = scene;
    for (const one of way) above[one] = scene;
  }
  return above;
}
