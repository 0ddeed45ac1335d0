/** What the questions on a map look up again and again; made once for each map, when first asked for. */
import { cellAt } from '../helpers/at.js';
import { once } from '../helpers/once.js';
import { groupBy, groupOf, kindOf, nameOf, type Graph, type Grouped } from '../model/graph.js';
import { VERBS } from '../model/link.js';

/** Pieces that stand in nothing, by the number of their file's text; those in no file by that of their name. */
export const headsOf = once((graph: Graph): { byFile: Grouped; byName: Grouped } => {
  const { parent, file, name } = graph.pieces;
  const heads = (column: Int32Array, isWanted: (piece: number) => boolean): Grouped =>
    groupBy(
      Int32Array.from({ length: graph.pieceCount }, (_, piece) =>
        cellAt(parent, piece) < 0 && isWanted(piece) ? cellAt(column, piece) : -1,
      ),
      graph.pieceCount,
      graph.texts.length,
    );
  return { byFile: heads(file, (piece) => file[piece] !== 0), byName: heads(name, (piece) => file[piece] === 0) };
});

export const numbersOfTexts = once((graph: Graph) => new Map(graph.texts.map((text, number) => [text, number])));

export const RUNS = VERBS.indexOf('runs');
const EXTENDS = VERBS.indexOf('extends');

/** Parts that run a script or type. */
export function carriersOf(graph: Graph, piece: number): number[] {
  const kind = kindOf(graph, piece);
  const types = kind === 'type' ? [piece] : kind === 'script' ? [piece, ...groupOf(graph.children, piece)] : [];
  const carriers: number[] = [];
  for (const type of types)
    for (const link of groupOf(graph.incoming, type))
      if (cellAt(graph.links.verb, link) === RUNS) carriers.push(cellAt(graph.links.from, link));
  return carriers;
}

/** Parts that run a type that descends from one: what it has from its parent runs on them. */
export function heirsOf(graph: Graph, piece: number): number[] {
  const kind = kindOf(graph, piece);
  const own = kind === 'type' ? [piece] : kind === 'script' ? [...groupOf(graph.children, piece)] : [];
  const types = new Set(own);
  for (const type of types)
    for (const link of groupOf(graph.incoming, type))
      if (cellAt(graph.links.verb, link) === EXTENDS) types.add(cellAt(graph.links.from, link));
  for (const type of own) types.delete(type);
  return [...types].flatMap((type) => carriersOf(graph, type));
}

/** A part's object, else the piece itself. */
export function placeOf(graph: Graph, piece: number): number {
  return kindOf(graph, piece) === 'part' && cellAt(graph.pieces.parent, piece) >= 0
    ? cellAt(graph.pieces.parent, piece)
    : piece;
}

/** The name of a piece, or a word for none. */
export function spokenName(graph: Graph, piece: number): string {
  return nameOf(graph, piece) || '(no name)';
}
