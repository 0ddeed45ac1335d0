import { cellAt, itemAt } from '../helpers/at.js';
import { once } from '../helpers/once.js';
import { folded, wordsIn } from '../helpers/folded.js';
import { push } from '../helpers/push.js';
import { kindOf, titleOf, type Graph } from '../model/graph.js';
import { PIECE_KINDS } from '../model/piece.js';
import { pieceByKey, pieceName, type PieceName } from './trace.js';

/** A piece found, with the file it stands in. */
export interface Hit extends PieceName {
  file: string;
}

/** Texts that name pieces, in lower letters, by their numbers. */
const lowerTexts = once(({ pieces, texts }: Graph) => {
  const numbers = new Set<number>();
  for (const column of [pieces.name, pieces.file, pieces.id]) for (const number of column) numbers.add(number);
  return { numbers: Int32Array.from(numbers), lower: Array.from(numbers, (number) => folded(itemAt(texts, number))) };
});

const PART = PIECE_KINDS.indexOf('part');

/**
 * Finds pieces by any part of their name, identity or file, capitals ignored. All words must be found.
 * Exact names come first, then beginnings, then the rest; copies in instances come after what is written in files.
 */
export function searchPieces(graph: Graph, text: string, most: number): Hit[] {
  const words = wordsIn(text).slice(0, 8);
  if (words.length === 0) return [];
  const all = (1 << words.length) - 1;
  const whole = words.join(' ');
  // Each text is compared once; what it holds of the words is kept as bits, with two more for how it begins.
  const [EXACT, BEGINS] = [1 << 9, 1 << 10];
  const found = new Uint16Array(graph.texts.length);
  const { numbers, lower } = lowerTexts(graph);
  for (let at = 0; at < numbers.length; at++) {
    let bits = 0;
    for (let word = 0; word < words.length; word++)
      if (itemAt(lower, at).includes(itemAt(words, word))) bits |= 1 << word;
    if (bits !== 0 && itemAt(lower, at).startsWith(whole))
      bits |= itemAt(lower, at).length === whole.length ? EXACT : BEGINS;
    found[cellAt(numbers, at)] = bits;
  }
  const kinds = PIECE_KINDS.map((kind) =>
    words.reduce((bits, word, at) => (kind === word ? bits | (1 << at) : bits), 0),
  );
  const { name, file, id, kind, origin } = graph.pieces;
  const byScore: number[][] = [];
  for (let piece = 0; piece < graph.pieceCount; piece++) {
    const inName = cellAt(found, cellAt(name, piece));
    const bits =
      inName |
      cellAt(found, cellAt(file, piece)) |
      cellAt(found, cellAt(id, piece)) |
      itemAt(kinds, cellAt(kind, piece));
    if ((bits & all) !== all) continue;
    const rank = inName & EXACT ? 0 : inName & BEGINS ? 1 : (inName & all) === all ? 2 : 4;
    const score = rank * 4 + (cellAt(origin, piece) >= 0 ? 2 : 0) + (kind[piece] === PART ? 1 : 0);
    (byScore[score] ??= []).push(piece);
  }
  const hits: number[] = [];
  for (const pieces of byScore) {
    if (!pieces || hits.length >= most) continue;
    // Titles are dear: among very many alike, those that stand first are as good as any.
    const few = pieces.slice(0, MOST_COMPARED).map((piece) => ({ piece, length: titleOf(graph, piece).length }));
    few.sort((a, b) => a.length - b.length || a.piece - b.piece);
    hits.push(...few.slice(0, most - hits.length).map(({ piece }) => piece));
  }
  return hits.map((piece) => ({
    ...pieceName(graph, piece),
    file: itemAt(graph.texts, cellAt(graph.pieces.file, piece)),
  }));
}

const MOST_COMPARED = 500;

/** Objects by their names from the top down, as a game that runs calls them: `Upper Flight/Quay/Wheel 3`. */
const byTitle = once((graph: Graph): Map<string, number[]> => {
  const found = new Map<string, number[]>();
  for (let piece = 0; piece < graph.pieceCount; piece++)
    if (kindOf(graph, piece) === 'object') push(found, titleOf(graph, piece).replace(/ \/ /g, '/'), piece);
  return found;
});

/** The pieces that a key, a name, an identity, a path or the names from the top down mean exactly, written in files rather than copied in instances. */
export function piecesNamed(graph: Graph, name: string): number[] {
  const byKey = pieceByKey(graph, name);
  if (byKey !== undefined) return [byKey];
  const { numbers, pieces } = byText(graph);
  const number = numbers.get(name);
  if (number === undefined) return byTitle(graph).get(name.replace(/ \/ /g, '/')) ?? [];
  return [...(pieces.get(number) ?? [])];
}

/** Numbers of texts, and by the number of a name, an identity or a path the pieces that are called so. */
const byText = once((graph: Graph): { numbers: Map<string, number>; pieces: Map<number, Set<number>> } => {
  const { name: names, id, file, parent, origin } = graph.pieces;
  const pieces = new Map<number, Set<number>>();
  const add = (text: number, piece: number): void => {
    const known = pieces.get(text);
    if (known) known.add(piece);
    else pieces.set(text, new Set([piece]));
  };
  for (let piece = 0; piece < graph.pieceCount; piece++) {
    if (cellAt(origin, piece) >= 0) continue;
    add(cellAt(names, piece), piece);
    add(cellAt(id, piece), piece);
    if (cellAt(parent, piece) < 0) add(cellAt(file, piece), piece);
  }
  return { numbers: new Map(graph.texts.map((text, number) => [text, number])), pieces };
});
