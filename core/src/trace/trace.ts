/** What a piece relies on and who relies on it, as lines of text. */
import { groupOf, keyOf, kindOf, linkAt, nameOf, pieceAt, titleOf, type Graph } from '../model/graph.js';
import { VERBS, type Link, type Loss, type Verb, type WalkStep } from '../model/link.js';
import type { Piece, PieceKind } from '../model/piece.js';

/** A piece as named in a line. */
export interface PieceName {
  key: string;
  kind: PieceKind;
  name: string;
  title: string;
}

/** One line of Trace: links that say the same from several places stand together. */
export interface TraceLine {
  /** The first of the links the line stands for. */
  link: Pick<Link, 'verb' | 'grip' | 'scope' | 'moment' | 'side' | 'label' | 'file' | 'range'>;
  from: PieceName;
  /** Null when the link is lost. */
  to: PieceName | null;
  /** Objects it holds from, when it runs from several (at most 12). */
  places: PieceName[];
  placeCount: number;
  /** Pieces it ends on, when they are several (at most 12). */
  targets: PieceName[];
  targetCount: number;
  loss: Loss | null;
  walk: WalkStep[];
}

export interface TraceGroup {
  verb: Verb;
  lines: TraceLine[];
  /** Lines there are in all; `lines` holds at most {@link MOST_LINES}. */
  count: number;
}

export interface TracePage {
  piece: Piece;
  /** From the scene, prefab or file down to the piece, without it. */
  within: PieceName[];
  /** Objects that carry this script or type (at most 12); prefabs count only while nothing is made from them. */
  runsOn: PieceName[];
  runsOnCount: number;
  reliedOnBy: TraceGroup[];
  reliesOn: TraceGroup[];
  /** What stands directly inside it (at most {@link MOST_LINES}). */
  holds: PieceName[];
  holdsCount: number;
}

/** Lines of one verb on a page. */
export const MOST_LINES = 100;
const MOST_PLACES = 12;

export type Losses = ReadonlyMap<number, { loss: Loss; walk: WalkStep[] }>;

export function pieceName(graph: Graph, piece: number): PieceName {
  return {
    key: keyOf(graph, piece),
    kind: kindOf(graph, piece),
    name: nameOf(graph, piece) || '(no name)',
    title: titleOf(graph, piece),
  };
}

/** Everything Trace shows of one piece. */
export function tracePiece(graph: Graph, losses: Losses, piece: number): TracePage {
  const carriers = carriersOf(graph, piece);
  const subjects = subjectsOf(graph, piece, carriers);
  const within: PieceName[] = [];
  for (let at = graph.pieces.parent[piece]; at >= 0 && within.length < 64; at = graph.pieces.parent[at])
    within.unshift(pieceName(graph, at));
  const held = [...groupOf(graph.children, piece)];
  const objects = carriers.filter((part) => !copiedPieces(graph).has(part)).map((part) => graph.pieces.parent[part]);
  return {
    piece: pieceAt(graph, piece),
    within,
    runsOn: objects.slice(0, MOST_PLACES).map((object) => pieceName(graph, object)),
    runsOnCount: objects.length,
    reliedOnBy: groupsOf(graph, losses, subjects, 'incoming'),
    reliesOn: groupsOf(graph, losses, subjects, 'outgoing'),
    holds: held.slice(0, MOST_LINES).map((child) => pieceName(graph, child)),
    holdsCount: held.length,
  };
}

const RUNS = VERBS.indexOf('runs');

/** Parts that run a script or type. */
function carriersOf(graph: Graph, piece: number): number[] {
  const kind = kindOf(graph, piece);
  const types = kind === 'type' ? [piece] : kind === 'script' ? [piece, ...groupOf(graph.children, piece)] : [];
  return types.flatMap((type) =>
    [...groupOf(graph.incoming, type)]
      .filter((link) => graph.links.verb[link] === RUNS)
      .map((link) => graph.links.from[link]),
  );
}

/** The pieces whose links count as the piece's own: an object's parts, a script's types and the parts that run it. */
function subjectsOf(graph: Graph, piece: number, carriers: number[]): Set<number> {
  const subjects = new Set([piece, ...carriers]);
  const kind = kindOf(graph, piece);
  for (const child of groupOf(graph.children, piece)) {
    if (
      kind === 'script' ||
      kindOf(graph, child) === 'part' ||
      (kind === 'data asset' && kindOf(graph, child) === 'record')
    )
      subjects.add(child);
  }
  return subjects;
}

function groupsOf(
  graph: Graph,
  losses: Losses,
  subjects: Set<number>,
  direction: 'incoming' | 'outgoing',
): TraceGroup[] {
  const lines = new Map<string, { links: number[] }>();
  for (const subject of subjects) {
    for (const link of groupOf(graph[direction], subject)) {
      const other = direction === 'incoming' ? graph.links.from[link] : graph.links.to[link];
      // Links among the subjects say nothing new, but for who carries a script: that leads on to the objects.
      const isInner = other >= 0 && subjects.has(other);
      if (isInner && !(direction === 'incoming' && graph.links.verb[link] === RUNS)) continue;
      const key = lineKey(graph, link, direction);
      const line = lines.get(key);
      if (line) line.links.push(link);
      else lines.set(key, { links: [link] });
    }
  }
  const groups = new Map<Verb, { links: number[] }[]>();
  for (const line of lines.values()) {
    const verb = VERBS[graph.links.verb[line.links[0]]];
    const group = groups.get(verb);
    if (group) group.push(line);
    else groups.set(verb, [line]);
  }
  return VERBS.filter((verb) => groups.has(verb)).map((verb) => {
    const all = groups.get(verb)!;
    return {
      verb,
      count: all.length,
      lines: all.slice(0, MOST_LINES).map((line) => lineOf(graph, losses, line.links)),
    };
  });
}

const copied = new WeakMap<Graph, Set<number>>();

/** Pieces of prefabs that instances hold copies of. */
function copiedPieces(graph: Graph): Set<number> {
  let pieces = copied.get(graph);
  if (!pieces) copied.set(graph, (pieces = new Set(graph.pieces.origin)));
  return pieces;
}

/** Links of the same line of code make one line, from however many objects it runs. */
function lineKey({ links }: Graph, link: number, direction: 'incoming' | 'outgoing'): string {
  const end = VERBS[links.verb[link]] === 'uses' ? Math.min(links.to[link], 0) : links.to[link];
  const from = direction === 'incoming' && VERBS[links.verb[link]] !== 'uses' ? links.from[link] : '';
  return [
    links.verb[link],
    links.grip[link],
    links.file[link],
    links.line[link],
    links.column[link],
    links.label[link],
    end,
    from,
  ].join(' ');
}

function lineOf(graph: Graph, losses: Losses, links: number[]): TraceLine {
  const { index, from, to, ...link } = linkAt(graph, links[0]);
  const lost = losses.get(index);
  const places = [...new Set(links.map((one) => placeOf(graph, graph.links.from[one])))];
  const targets = [...new Set(links.map((one) => graph.links.to[one]))].filter((target) => target >= 0);
  return {
    link,
    from: pieceName(graph, from),
    to: to >= 0 ? pieceName(graph, to) : null,
    places: places.slice(0, MOST_PLACES).map((place) => pieceName(graph, place)),
    placeCount: places.length,
    targets: targets.slice(0, MOST_PLACES).map((target) => pieceName(graph, target)),
    targetCount: targets.length,
    loss: lost?.loss ?? null,
    walk: lost?.walk ?? [],
  };
}

/** A part's object, else the piece itself. */
function placeOf(graph: Graph, piece: number): number {
  return kindOf(graph, piece) === 'part' ? graph.pieces.parent[piece] : piece;
}

const keyIndexes = new WeakMap<Graph, Map<string, number>>();

/** The piece with this key; undefined when the map has none. */
export function pieceByKey(graph: Graph, key: string): number | undefined {
  let index = keyIndexes.get(graph);
  if (!index) {
    index = new Map();
    for (let piece = 0; piece < graph.pieceCount; piece++) index.set(keyOf(graph, piece), piece);
    keyIndexes.set(graph, index);
  }
  return index.get(key);
}
