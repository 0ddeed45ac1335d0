/** What a piece relies on and who relies on it, as lines of text. */
import { cellAt, itemAt, must } from '../helpers/at.js';
import { copiedPieces, groupOf, keyOf, kindOf, linkAt, pieceAt, titleOf, type Graph } from '../model/graph.js';
import { carriersOf, headsOf, heirsOf, numbersOfTexts, placeOf, RUNS, spokenName } from './index-of.js';
import {
  GRIPS,
  MOMENTS,
  SIDES,
  VERBS,
  type Grip,
  type Link,
  type Loss,
  type Moment,
  type Side,
  type Verb,
  type WalkStep,
} from '../model/link.js';
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
  /** How many objects run a type that descends from it. */
  heirCount: number;
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
    name: spokenName(graph, piece),
    title: titleOf(graph, piece),
  };
}

/** What the lines of a page are narrowed to; what is left out counts as any. */
export interface TraceFilter {
  verb?: Verb;
  grip?: Grip;
  moment?: Moment;
  side?: Side;
}

/** Everything Trace shows of one piece. */
export function tracePiece(graph: Graph, losses: Losses, piece: number, filter: TraceFilter = {}): TracePage {
  const carriers = carriersOf(graph, piece);
  const subjects = subjectsOf(graph, piece, carriers);
  const within: PieceName[] = [];
  for (let at = cellAt(graph.pieces.parent, piece); at >= 0 && within.length < 64; at = cellAt(graph.pieces.parent, at))
    within.unshift(pieceName(graph, at));
  const held = [...groupOf(graph.children, piece)];
  const objectsOf = (parts: number[]): number[] =>
    parts.filter((part) => !copiedPieces(graph).has(part)).map((part) => cellAt(graph.pieces.parent, part));
  const objects = objectsOf(carriers);
  return {
    piece: pieceAt(graph, piece),
    within,
    runsOn: objects.slice(0, MOST_PLACES).map((object) => pieceName(graph, object)),
    runsOnCount: objects.length,
    heirCount: new Set(objectsOf(heirsOf(graph, piece))).size,
    reliedOnBy: groupsOf(graph, losses, subjects, 'incoming', filter),
    reliesOn: groupsOf(graph, losses, subjects, 'outgoing', filter),
    holds: held.slice(0, MOST_LINES).map((child) => pieceName(graph, child)),
    holdsCount: held.length,
  };
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
  filter: TraceFilter,
): TraceGroup[] {
  const isWanted = wanting(graph, filter);
  const byVerb: number[][] = VERBS.map(() => []);
  for (const subject of subjects) {
    for (const link of groupOf(graph[direction], subject)) {
      const other = direction === 'incoming' ? cellAt(graph.links.from, link) : cellAt(graph.links.to, link);
      // Links among the subjects say nothing new, but for who carries a script: that leads on to the objects.
      const isInner = other >= 0 && subjects.has(other);
      if (isInner && !(direction === 'incoming' && cellAt(graph.links.verb, link) === RUNS)) continue;
      if (isWanted(link)) itemAt(byVerb, cellAt(graph.links.verb, link)).push(link);
    }
  }
  return VERBS.flatMap((verb, at) => {
    if (itemAt(byVerb, at).length === 0) return [];
    const lines = gathered(graph, itemAt(byVerb, at), direction);
    return [
      { verb, count: lines.length, lines: lines.slice(0, MOST_LINES).map((links) => lineOf(graph, losses, links)) },
    ];
  });
}

function wanting({ links }: Graph, { verb, grip, moment, side }: TraceFilter): (link: number) => boolean {
  const wanted = [
    [links.verb, verb && VERBS.indexOf(verb)],
    [links.grip, grip && GRIPS.indexOf(grip)],
    [links.moment, moment && MOMENTS.indexOf(moment)],
    [links.side, side && SIDES.indexOf(side)],
  ].filter((one): one is [Int32Array, number] => one[1] !== undefined);
  return (link) => wanted.every(([column, value]) => column[link] === value);
}

/** Lines for any links, those that say the same together. */
export function linesOf(
  graph: Graph,
  losses: Losses,
  links: number[],
  direction: 'incoming' | 'outgoing',
): TraceLine[] {
  return gathered(graph, links, direction).map((one) => lineOf(graph, losses, one));
}

/** Links that make one line together, in order of their first one. */
function gathered(graph: Graph, links: number[], direction: 'incoming' | 'outgoing'): number[][] {
  const lines = new Map<string, number[]>();
  for (const link of links) {
    const key = lineKey(graph, link, direction);
    const line = lines.get(key);
    if (line) line.push(link);
    else lines.set(key, [link]);
  }
  return [...lines.values()];
}

/** Links of the same line of code make one line, from however many objects it runs. */
function lineKey({ links }: Graph, link: number, direction: 'incoming' | 'outgoing'): string {
  const end =
    itemAt(VERBS, cellAt(links.verb, link)) === 'uses' ? Math.min(cellAt(links.to, link), 0) : cellAt(links.to, link);
  const from =
    direction === 'incoming' && itemAt(VERBS, cellAt(links.verb, link)) !== 'uses' ? cellAt(links.from, link) : '';
  return [
    cellAt(links.verb, link),
    cellAt(links.grip, link),
    cellAt(links.file, link),
    cellAt(links.line, link),
    cellAt(links.column, link),
    cellAt(links.label, link),
    end,
    from,
  ].join(' ');
}

function lineOf(graph: Graph, losses: Losses, links: number[]): TraceLine {
  const { index, from, to, ...link } = linkAt(graph, itemAt(links, 0));
  const lost = losses.get(index);
  const places = [...new Set(links.map((one) => placeOf(graph, cellAt(graph.links.from, one))))];
  const targets = [...new Set(links.map((one) => cellAt(graph.links.to, one)))].filter((target) => target >= 0);
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

/** The piece with this key; undefined when the map has none. */
export function pieceByKey(graph: Graph, key: string): number | undefined {
  const colon = key.indexOf(':');
  const hash = key.indexOf('#', colon);
  const head = key.slice(colon + 1, hash < 0 ? undefined : hash);
  const steps = hash < 0 ? [] : key.slice(hash + 1).split('/');
  const number = numbersOfTexts(graph).get(head);
  if (number === undefined) return undefined;
  const { byFile, byName } = headsOf(graph);
  // Brothers of one name are told apart by a mark from ~3 up; ~0 to ~2 stand for letters.
  const names = steps.map((step) =>
    step
      .replace(/~(?:[3-9]|[1-9]\d+)$/, '')
      .replace(/~[012]/g, (mark) => must({ '~0': '~', '~1': '/', '~2': '#' }[mark])),
  );
  for (const start of [...groupOf(byFile, number), ...groupOf(byName, number)]) {
    const found = below(graph, start, names, key);
    if (found !== undefined) return found;
  }
  return undefined;
}

/** The piece with a key below another one, by the names on the way. */
function below(graph: Graph, start: number, names: string[], key: string): number | undefined {
  let open = [start];
  for (const name of names) {
    open = open.flatMap((piece) =>
      [...groupOf(graph.children, piece)].filter(
        (child) => itemAt(graph.texts, cellAt(graph.pieces.name, child)) === name,
      ),
    );
    if (open.length === 0) return undefined;
  }
  return open.find((piece) => keyOf(graph, piece) === key);
}
