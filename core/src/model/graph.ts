/**
 * The map of one scan in compact typed arrays. Texts are kept once and named by their number; `-1` means none.
 * Arrays can be handed from one thread to another without copying.
 */
import { once, oncePer } from '../helpers/once.js';
import { cellAt, itemAt, must } from '../helpers/at.js';
import {
  GRIPS,
  MOMENTS,
  SCOPES,
  SIDES,
  VERBS,
  type Grip,
  type Link,
  type Moment,
  type Scope,
  type Side,
  type Verb,
} from './link.js';
import { PIECE_KINDS, type Piece, type PieceKind, type Range } from './piece.js';

/** Columns of pieces; one entry per piece. */
export interface PieceColumns {
  kind: Int32Array;
  /** Number of a text. */
  name: Int32Array;
  /** Number of a text. */
  id: Int32Array;
  /** Index of a piece, or -1. */
  parent: Int32Array;
  /** Number of a text: the path, empty for pieces in no file. */
  file: Int32Array;
  line: Int32Array;
  column: Int32Array;
  endLine: Int32Array;
  endColumn: Int32Array;
  /** For a copy that stands in an instance: the piece of the prefab it was copied from, or -1. */
  origin: Int32Array;
  /** Sum of {@link FLAGS}. */
  flags: Int32Array;
}

/** What else is known of a piece, as bits. `off`: switched off at the start; `barred`: its mode bars scripting; `engines`: the engine has an end of it; `kept`: it keeps its state over scene changes. */
export const FLAGS = { off: 1, barred: 2, engines: 4, kept: 8 } as const;

/** Columns of links; one entry per link. */
export interface LinkColumns {
  from: Int32Array;
  to: Int32Array;
  verb: Int32Array;
  grip: Int32Array;
  scope: Int32Array;
  moment: Int32Array;
  side: Int32Array;
  /** Number of a text. */
  label: Int32Array;
  /** Number of a text. */
  file: Int32Array;
  line: Int32Array;
  column: Int32Array;
  endLine: Int32Array;
  endColumn: Int32Array;
}

/** Positions by owner: those of owner `n` stand in `items` from `starts[n]` up to `starts[n + 1]`. */
export interface Grouped {
  starts: Int32Array;
  items: Int32Array;
}

export interface Graph {
  texts: string[];
  pieceCount: number;
  linkCount: number;
  pieces: PieceColumns;
  links: LinkColumns;
  /** Links by the piece they start from. */
  outgoing: Grouped;
  /** Links by the piece they end on. */
  incoming: Grouped;
  /** Pieces by their parent, in file order. */
  children: Grouped;
}

const PIECE_COLUMNS = [
  'kind',
  'name',
  'id',
  'parent',
  'file',
  'line',
  'column',
  'endLine',
  'endColumn',
  'origin',
  'flags',
] as const;
const LINK_COLUMNS = [
  'from',
  'to',
  'verb',
  'grip',
  'scope',
  'moment',
  'side',
  'label',
  'file',
  'line',
  'column',
  'endLine',
  'endColumn',
] as const;

export interface NewPiece {
  kind: PieceKind;
  name: string;
  id?: string;
  parent?: number;
  file?: string;
  range?: Range;
  origin?: number;
  flags?: number;
}

export interface NewLink {
  from: number;
  to: number;
  verb: Verb;
  grip: Grip;
  scope?: Scope;
  moment?: Moment;
  side?: Side;
  label?: string;
  file: string;
  range: Range;
}

/** A map under construction. Columns may be longer than the counts say. */
export interface GraphBuilder {
  readonly graph: Omit<Graph, 'outgoing' | 'incoming' | 'children'>;
  text(value: string): number;
  addPiece(piece: NewPiece): number;
  addLink(link: NewLink): number;
  /** Sets what is known only after the piece was added. */
  setParent(piece: number, parent: number): void;
  setRange(piece: number, range: Range): void;
  /**
   * Takes links out. Others move into their places: `onMove` tells from where to where.
   * @param links in ascending order
   */
  removeLinks(links: number[], onMove: (from: number, to: number) => void): void;
  /** The map as it stands now. It shares its columns with the builder: it holds until the next change. */
  finish(): Graph;
}

const NO_RANGE: Range = { line: 1, column: 1, endLine: 1, endColumn: 1 };

export function buildGraph(): GraphBuilder {
  const texts: string[] = [''];
  const numbers = new Map<string, number>([['', 0]]);
  const pieces = emptyColumns(PIECE_COLUMNS);
  const links = emptyColumns(LINK_COLUMNS);
  const graph = { texts, pieceCount: 0, linkCount: 0, pieces, links };
  let children: Grouped | undefined;
  let outgoing: Grouped | undefined;
  let incoming: Grouped | undefined;

  const text = (value: string): number => {
    let number = numbers.get(value);
    if (number === undefined) {
      number = texts.length;
      texts.push(value);
      numbers.set(value, number);
    }
    return number;
  };
  const place = (columns: PieceColumns | LinkColumns, at: number, range: Range): void => {
    columns.line[at] = range.line;
    columns.column[at] = range.column;
    columns.endLine[at] = range.endLine;
    columns.endColumn[at] = range.endColumn;
  };

  return {
    graph,
    text,
    addPiece(piece) {
      const at = graph.pieceCount++;
      if (at >= pieces.kind.length) grow(pieces, PIECE_COLUMNS);
      pieces.kind[at] = PIECE_KINDS.indexOf(piece.kind);
      pieces.name[at] = text(piece.name);
      pieces.id[at] = text(piece.id ?? '');
      pieces.parent[at] = piece.parent ?? -1;
      pieces.file[at] = text(piece.file ?? '');
      pieces.origin[at] = piece.origin ?? -1;
      pieces.flags[at] = piece.flags ?? 0;
      place(pieces, at, piece.range ?? NO_RANGE);
      return at;
    },
    addLink(link) {
      const at = graph.linkCount++;
      if (at >= links.from.length) grow(links, LINK_COLUMNS);
      links.from[at] = link.from;
      links.to[at] = link.to;
      links.verb[at] = VERBS.indexOf(link.verb);
      links.grip[at] = GRIPS.indexOf(link.grip);
      links.scope[at] = SCOPES.indexOf(link.scope ?? 'unknown');
      links.moment[at] = MOMENTS.indexOf(link.moment ?? 'unknown');
      links.side[at] = SIDES.indexOf(link.side ?? 'unknown');
      links.label[at] = text(link.label ?? '');
      links.file[at] = text(link.file);
      place(links, at, link.range);
      return at;
    },
    setParent(piece, parent) {
      pieces.parent[piece] = parent;
      children = undefined;
    },
    setRange: (piece, range) => place(pieces, piece, range),
    removeLinks(gone, onMove) {
      for (let at = gone.length - 1; at >= 0; at--) {
        const last = --graph.linkCount;
        if (gone[at] === last) continue;
        for (const name of LINK_COLUMNS) links[name][itemAt(gone, at)] = cellAt(links[name], last);
        onMove(last, itemAt(gone, at));
      }
    },
    finish() {
      if (!children || children.starts.length !== graph.pieceCount + 1)
        children = groupBy(pieces.parent, graph.pieceCount, graph.pieceCount);
      outgoing = groupBy(links.from, graph.linkCount, graph.pieceCount, outgoing);
      incoming = groupBy(links.to, graph.linkCount, graph.pieceCount, incoming);
      return {
        ...graph,
        pieces: cut(pieces, PIECE_COLUMNS, graph.pieceCount),
        links: cut(links, LINK_COLUMNS, graph.linkCount),
        outgoing,
        incoming,
        children,
      };
    },
  };
}

function emptyColumns<K extends string>(names: readonly K[]): Record<K, Int32Array> {
  return Object.fromEntries(names.map((name) => [name, new Int32Array(256)])) as Record<K, Int32Array>;
}

function grow<K extends string>(columns: Record<K, Int32Array>, names: readonly K[]): void {
  for (const name of names) {
    const larger = new Int32Array(columns[name].length * 2);
    larger.set(columns[name]);
    columns[name] = larger;
  }
}

function cut<K extends string>(
  columns: Record<K, Int32Array>,
  names: readonly K[],
  count: number,
): Record<K, Int32Array> {
  return Object.fromEntries(names.map((name) => [name, columns[name].subarray(0, count)])) as Record<K, Int32Array>;
}

/**
 * Groups positions by the owner named at each position, keeping their order (counting sort).
 * @param into arrays to be filled again when they are of the right size: large ones are dear to make and to throw away
 */
export function groupBy(owners: Int32Array, count: number, ownerCount: number, into?: Grouped): Grouped {
  const starts = into?.starts.length === ownerCount + 1 ? into.starts.fill(0) : new Int32Array(ownerCount + 1);
  let owned = 0;
  for (let at = 0; at < count; at++) {
    const owner = cellAt(owners, at);
    if (owner < 0) continue;
    starts[owner] = cellAt(starts, owner) + 1;
    owned++;
  }
  // Each owner's count becomes the end of its positions, and, filled from behind, their start.
  for (let owner = 1; owner <= ownerCount; owner++) starts[owner] = cellAt(starts, owner) + cellAt(starts, owner - 1);
  const items = into?.items.length === owned ? into.items : new Int32Array(owned);
  for (let at = count - 1; at >= 0; at--) {
    const owner = cellAt(owners, at);
    if (owner < 0) continue;
    const place = cellAt(starts, owner) - 1;
    starts[owner] = place;
    items[place] = at;
  }
  return { starts, items };
}

/** The positions that belong to `owner`. */
export function groupOf(grouped: Grouped, owner: number): Int32Array {
  return grouped.items.subarray(grouped.starts[owner], grouped.starts[owner + 1]);
}

type Columns = Pick<Graph, 'texts' | 'pieces'>;

export function kindOf(graph: Columns, piece: number): PieceKind {
  return itemAt(PIECE_KINDS, cellAt(graph.pieces.kind, piece));
}

export function nameOf(graph: Columns, piece: number): string {
  return itemAt(graph.texts, cellAt(graph.pieces.name, piece));
}

/** Pieces of prefabs that instances hold copies of: these stand for them. */
export const copiedPieces = once(({ pieces }: Graph) => new Set(pieces.origin));

/** Names from the scene or prefab down to the piece, joined by ` / `, of a flag with its type; a prefab and its root of the same name count once. */
export function titleOf(graph: Columns, piece: number): string {
  const kind = kindOf(graph, piece);
  const parent = cellAt(graph.pieces.parent, piece);
  if (kind === 'flag' && parent >= 0 && kindOf(graph, parent) === 'type')
    return `${nameOf(graph, parent)}.${nameOf(graph, piece)}`;
  if (kind !== 'object' && kind !== 'part' && kind !== 'record') return nameOf(graph, piece);
  const names: string[] = [];
  for (let at = piece; at >= 0 && names.length < 64; at = cellAt(graph.pieces.parent, at)) {
    const name = nameOf(graph, at) || '(no name)';
    const isHead = cellAt(graph.pieces.parent, at) < 0;
    if (!isHead || names.length === 0 || itemAt(names, names.length - 1).toLowerCase() !== name.toLowerCase())
      names.push(name);
  }
  return names.reverse().join(' / ');
}

/**
 * A name for a piece that is the same in the next scan: kind, file and the names down to it. Brothers of one name
 * are told apart by their order.
 */
export function keyOf(graph: Graph, piece: number): string {
  const steps: string[] = [];
  let at = piece;
  for (; at >= 0 && cellAt(graph.pieces.parent, at) >= 0 && steps.length < 64; at = cellAt(graph.pieces.parent, at)) {
    steps.push(escapeStep(nameOf(graph, at)) + orderMark(graph, at));
  }
  const file = itemAt(graph.texts, cellAt(graph.pieces.file, at));
  const head = file || nameOf(graph, at);
  return `${kindOf(graph, piece)}:${head}${steps.length > 0 ? '#' : ''}${steps.reverse().join('/')}`;
}

function escapeStep(name: string): string {
  return name.replace(/[~/#]/g, (mark) => must({ '~': '~0', '/': '~1', '#': '~2' }[mark]));
}

function orderMark(graph: Graph, piece: number): string {
  const order = ordersBelow(graph, cellAt(graph.pieces.parent, piece)).get(piece) ?? 0;
  return order === 0 ? '' : `~${order + 2}`;
}

/** Pieces below one that have elder brothers of their name and kind, with the number of these. */
const ordersBelow = oncePer((graph: Graph, parent: number): Map<number, number> => {
  const seen = new Map<number, number>();
  const orders = new Map<number, number>();
  const { name, kind } = graph.pieces;
  for (const child of groupOf(graph.children, parent)) {
    const alike = cellAt(name, child) * PIECE_KINDS.length + cellAt(kind, child);
    const elder = seen.get(alike) ?? 0;
    seen.set(alike, elder + 1);
    if (elder > 0) orders.set(child, elder);
  }
  return orders;
});

export function rangeOf(columns: PieceColumns | LinkColumns, at: number): Range {
  return {
    line: cellAt(columns.line, at),
    column: cellAt(columns.column, at),
    endLine: cellAt(columns.endLine, at),
    endColumn: cellAt(columns.endColumn, at),
  };
}

export function pieceAt(graph: Graph, index: number): Piece {
  return {
    index,
    key: keyOf(graph, index),
    kind: kindOf(graph, index),
    name: nameOf(graph, index),
    id: itemAt(graph.texts, cellAt(graph.pieces.id, index)),
    title: titleOf(graph, index),
    parent: cellAt(graph.pieces.parent, index),
    file: itemAt(graph.texts, cellAt(graph.pieces.file, index)),
    range: rangeOf(graph.pieces, index),
    isOff: (cellAt(graph.pieces.flags, index) & FLAGS.off) !== 0,
    isBarred: (cellAt(graph.pieces.flags, index) & FLAGS.barred) !== 0,
  };
}

export function linkAt(graph: Graph, index: number): Link {
  const { links, texts } = graph;
  return {
    index,
    from: cellAt(links.from, index),
    to: cellAt(links.to, index),
    verb: itemAt(VERBS, cellAt(links.verb, index)),
    grip: itemAt(GRIPS, cellAt(links.grip, index)),
    scope: itemAt(SCOPES, cellAt(links.scope, index)),
    moment: itemAt(MOMENTS, cellAt(links.moment, index)),
    side: itemAt(SIDES, cellAt(links.side, index)),
    label: itemAt(texts, cellAt(links.label, index)),
    file: itemAt(texts, cellAt(links.file, index)),
    range: rangeOf(links, index),
  };
}
