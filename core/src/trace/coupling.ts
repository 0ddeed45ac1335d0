/** Who depends on whom among folders or scenes: how many links, how weakly they hold, and what runs in a circle. */
import { cellAt, itemAt, knownIn } from '../helpers/at.js';
import { once } from '../helpers/once.js';
import { kindOf, nameOf, type Graph } from '../model/graph.js';
import { GRIPS, type Grip } from '../model/link.js';
import { circles } from '../model/circles.js';
import { layersOf } from './layers.js';
import { linesOf, type Losses, type TraceLine } from './trace.js';

export interface CouplingOptions {
  by: 'folder' | 'scene';
  /** For folders: only what stands below this one. */
  below: string;
  /** For folders: how many steps below it are told apart. */
  depth: number;
}

/** What one group relies on in another one. */
export interface CouplingCell {
  /** Positions among the groups. */
  from: number;
  to: number;
  links: number;
  /** The weakest grip among them. */
  weakest: Grip;
  /** Both are part of a circle: each relies on the other, if need be by way of others. */
  inCircle: boolean;
  /** It runs against the way that most reliance takes. */
  runsBack: boolean;
}

export interface Coupling {
  /** Ordered so that most reliance runs from earlier ones to later ones, in layers; the first layer is 1. */
  groups: { name: string; pieces: number; inner: number; lost: number; inCircle: boolean; layer: number }[];
  cells: CouplingCell[];
  /** Groups that rely on each other in a circle, each as positions. */
  circles: number[][];
  /** Smaller groups that are counted together in the last one. */
  together: number;
}

/** A grid of more is no longer seen at a glance: the smallest are counted together. */
const MOST_GROUPS = 40;
const OTHERS = '(others)';
const KINDS_TOGETHER: Record<string, string> = {
  script: '(scripts)',
  type: '(scripts)',
  event: '(events)',
  media: '(media)',
  'data asset': '(data)',
  record: '(data)',
};

const grids = once((_graph: Graph) => new Map<string, Coupling>());

/** Groups of links by where they are written and what they end on. */
export function coupling(graph: Graph, options: CouplingOptions): Coupling {
  const known = grids(graph);
  const key = JSON.stringify(options);
  let grid = known.get(key);
  if (!grid) known.set(key, (grid = counted(graph, options)));
  return grid;
}

function counted(graph: Graph, options: CouplingOptions): Coupling {
  const { names, groupOfText, groupOfPiece, together } = groupsOf(graph, options);
  const count = names.length;
  const links = new Int32Array(count * count);
  const weakest = new Int8Array(count * count);
  const lost = new Int32Array(count);
  for (let link = 0; link < graph.linkCount; link++) {
    const from =
      options.by === 'folder'
        ? cellAt(groupOfText, cellAt(graph.links.file, link))
        : cellAt(groupOfPiece, cellAt(graph.links.from, link));
    if (from < 0) continue;
    const end = cellAt(graph.links.to, link);
    if (end < 0) {
      lost[from] = cellAt(lost, from) + 1;
      continue;
    }
    const to = cellAt(groupOfPiece, end);
    if (to < 0) continue;
    const cell = from * count + to;
    links[cell] = cellAt(links, cell) + 1;
    if (cellAt(graph.links.grip, link) > itemAt(weakest, cell)) weakest[cell] = cellAt(graph.links.grip, link);
  }
  const pieces = new Int32Array(count);
  for (let piece = 0; piece < graph.pieceCount; piece++)
    if (cellAt(groupOfPiece, piece) >= 0)
      pieces[cellAt(groupOfPiece, piece)] = cellAt(pieces, cellAt(groupOfPiece, piece)) + 1;
  const cells: CouplingCell[] = [];
  for (let from = 0; from < count; from++) {
    for (let to = 0; to < count; to++) {
      const cell = from * count + to;
      if (from !== to && cellAt(links, cell) > 0)
        cells.push({
          from,
          to,
          links: cellAt(links, cell),
          weakest: itemAt(GRIPS, itemAt(weakest, cell)),
          inCircle: false,
          runsBack: false,
        });
    }
  }
  const found = circles(cells).map((circle) => circle.map(({ from }) => from));
  markCircles(cells, count);
  const inCircle = new Set(cells.flatMap((cell) => (cell.inCircle ? [cell.from] : [])));
  const { order, layer } = layersOf(count, cells);
  const place = names.map((_, at) => order.indexOf(at));
  return {
    groups: order.map((at) => ({
      name: itemAt(names, at),
      pieces: cellAt(pieces, at),
      inner: cellAt(links, at * count + at),
      lost: cellAt(lost, at),
      inCircle: inCircle.has(at),
      layer: itemAt(layer, at) + 1,
    })),
    cells: cells
      .map((cell) => {
        const [from, to] = [itemAt(place, cell.from), itemAt(place, cell.to)];
        return { ...cell, from, to, runsBack: from > to };
      })
      .sort((a, b) => a.from - b.from || a.to - b.to),
    circles: found.map((circle) => circle.map((at) => itemAt(place, at))),
    together,
  };
}

/** A cell is part of a circle when its end reaches its start. */
function markCircles(cells: CouplingCell[], count: number): void {
  const reaches = Array.from({ length: count }, () => new Uint8Array(count));
  for (const { from, to } of cells) itemAt(reaches, from)[to] = 1;
  // Warshall's algorithm (1962); there are at most forty groups.
  for (let by = 0; by < count; by++)
    for (let from = 0; from < count; from++)
      if (reaches[from]?.[by]) for (let to = 0; to < count; to++) if (reaches[by]?.[to]) itemAt(reaches, from)[to] = 1;
  for (const cell of cells) cell.inCircle = reaches[cell.to]?.[cell.from] === 1;
}

/** Which groups of a grid have something on a route, in their order. */
export function groupsOnRoute(graph: Graph, options: CouplingOptions, route: Uint8Array): boolean[] {
  const { names, groupOfPiece } = groupsOf(graph, options);
  const isOn = names.map(() => false);
  for (const [piece, mark] of route.entries()) {
    const group = cellAt(groupOfPiece, piece);
    if (mark === 1 && group >= 0) isOn[group] = true;
  }
  return coupling(graph, options).groups.map(({ name }) => isOn[names.indexOf(name)] === true);
}

/** The links of one cell, as lines; lost ones of a group when `to` is empty. */
export function couplingLinks(
  graph: Graph,
  losses: Losses,
  options: CouplingOptions,
  from: string,
  to: string,
  most: number,
): { lines: TraceLine[]; count: number } {
  const { names, groupOfText, groupOfPiece } = groupsOf(graph, options);
  const [start, end] = [names.indexOf(from), names.indexOf(to)];
  if (start < 0 || (to !== '' && end < 0)) return { lines: [], count: 0 };
  const found: number[] = [];
  for (let link = 0; link < graph.linkCount; link++) {
    const at =
      options.by === 'folder'
        ? groupOfText[cellAt(graph.links.file, link)]
        : groupOfPiece[cellAt(graph.links.from, link)];
    if (at !== start || at < 0) continue;
    const target = cellAt(graph.links.to, link);
    if (to === '' ? target < 0 : target >= 0 && groupOfPiece[target] === end) found.push(link);
  }
  const lines = linesOf(graph, losses, found, 'outgoing');
  // The weakest first: they are what breaks.
  lines.sort((a, b) => GRIPS.indexOf(b.link.grip) - GRIPS.indexOf(a.link.grip));
  return { lines: lines.slice(0, most), count: lines.length };
}

interface Groups {
  names: string[];
  /** Group of a file by the number of its text, and of a piece; -1 for none. */
  groupOfText: Int32Array;
  groupOfPiece: Int32Array;
  together: number;
}

const groupings = once((_graph: Graph) => new Map<string, Groups>());

function groupsOf(graph: Graph, options: CouplingOptions): Groups {
  const groups = groupings(graph);
  const key = JSON.stringify(options);
  let found = groups.get(key);
  if (!found) groups.set(key, (found = options.by === 'folder' ? byFolder(graph, options) : byScene(graph)));
  return found;
}

function byFolder(graph: Graph, { below, depth }: CouplingOptions): Groups {
  const start = below ? `${below}/` : '';
  const files = new Set(graph.pieces.file);
  const nameOfText = new Map<number, string>();
  for (const text of files) {
    const path = itemAt(graph.texts, text);
    if (text === 0 || !path.startsWith(start)) continue;
    const steps = path.slice(start.length).split('/');
    nameOfText.set(
      text,
      steps.length === 1
        ? below
          ? `${below} (files)`
          : '(at the root)'
        : start + steps.slice(0, Math.min(depth, steps.length - 1)).join('/'),
    );
  }
  const { names, at, together } = largest(countNames(graph.pieces.file, nameOfText));
  const groupOfText = new Int32Array(graph.texts.length).fill(-1);
  for (const [text, name] of nameOfText) groupOfText[text] = at(name);
  const groupOfPiece = Int32Array.from(graph.pieces.file, (text) => cellAt(groupOfText, text));
  return { names, groupOfText, groupOfPiece, together };
}

function byScene(graph: Graph): Groups {
  const top = new Int32Array(graph.pieceCount);
  const { parent } = graph.pieces;
  // Copies stand behind what holds them, but adopted pieces may not: climb, and remember.
  for (let piece = 0; piece < graph.pieceCount; piece++) {
    let at = piece;
    while (cellAt(parent, at) >= 0) at = cellAt(parent, at);
    top[piece] = at;
  }
  const nameOfTop = new Map<number, string>();
  for (const at of new Set(top)) {
    const kind = kindOf(graph, at);
    const isOwn = kind === 'scene' || kind === 'prefab';
    nameOfTop.set(at, isOwn ? `${nameOf(graph, at)} (${kind})` : (KINDS_TOGETHER[kind] ?? '(other files)'));
  }
  const { names, at, together } = largest(countNames(top, nameOfTop));
  const groupOfPiece = Int32Array.from(top, (one) => at(knownIn(nameOfTop, one)));
  return { names, groupOfText: new Int32Array(0), groupOfPiece, together };
}

function countNames(column: Int32Array, names: ReadonlyMap<number, string>): Map<string, number> {
  const counts = new Map<string, number>();
  for (const value of column) {
    const name = names.get(value);
    if (name !== undefined) counts.set(name, (counts.get(name) ?? 0) + 1);
  }
  return counts;
}

/** The largest groups by name, and one for all others. */
function largest(counts: Map<string, number>): { names: string[]; at: (name: string) => number; together: number } {
  const ordered = [...counts].sort((a, b) => b[1] - a[1]);
  const kept = ordered
    .slice(0, ordered.length > MOST_GROUPS ? MOST_GROUPS - 1 : MOST_GROUPS)
    .map(([name]) => name)
    .sort();
  const together = ordered.length - kept.length;
  const names = together > 0 ? [...kept, OTHERS] : kept;
  const positions = new Map(names.map((name, at) => [name, at]));
  return { names, at: (name) => positions.get(name) ?? names.length - 1, together };
}

/** Folders below one, to go down into. */
export function foldersBelow(graph: Graph, below: string): string[] {
  const start = below ? `${below}/` : '';
  const found = new Set<string>();
  for (const text of new Set(graph.pieces.file)) {
    const path = itemAt(graph.texts, text);
    const end = path.indexOf('/', start.length);
    if (text !== 0 && path.startsWith(start) && end > 0) found.add(path.slice(0, end));
  }
  return [...found].sort();
}
