import { kindOf, nameOf, titleOf, type Graph } from '../model/graph.js';
import { pieceName, type PieceName } from './trace.js';

/** A piece found, with the file it stands in. */
export interface Hit extends PieceName {
  file: string;
}

/**
 * Finds pieces by any part of their name, identity or file, capitals ignored. All words must be found.
 * Exact names come first, then beginnings, then the rest; copies in instances come after what is written in files.
 */
export function searchPieces(graph: Graph, text: string, most: number): Hit[] {
  const words = text.toLowerCase().split(/\s+/).filter(Boolean);
  if (words.length === 0) return [];
  const matches = new Map<number, boolean[]>();
  const wordsIn = (number: number): boolean[] => {
    let found = matches.get(number);
    if (!found) {
      const lower = graph.texts[number].toLowerCase();
      matches.set(number, (found = words.map((word) => lower.includes(word))));
    }
    return found;
  };
  const scored: { piece: number; score: number }[] = [];
  for (let piece = 0; piece < graph.pieceCount; piece++) {
    const name = wordsIn(graph.pieces.name[piece]);
    const file = wordsIn(graph.pieces.file[piece]);
    const id = wordsIn(graph.pieces.id[piece]);
    if (!words.every((word, at) => name[at] || file[at] || id[at] || kindOf(graph, piece) === word)) continue;
    scored.push({ piece, score: scoreOf(graph, piece, words, name) });
  }
  scored.sort(
    (a, b) => a.score - b.score || titleOf(graph, a.piece).length - titleOf(graph, b.piece).length || a.piece - b.piece,
  );
  return scored
    .slice(0, most)
    .map(({ piece }) => ({ ...pieceName(graph, piece), file: graph.texts[graph.pieces.file[piece]] }));
}

function scoreOf(graph: Graph, piece: number, words: string[], inName: boolean[]): number {
  const name = nameOf(graph, piece).toLowerCase();
  const whole = words.join(' ');
  const copy = graph.pieces.origin[piece] >= 0 ? 1 : 0;
  const part = kindOf(graph, piece) === 'part' ? 1 : 0;
  const rank = name === whole ? 0 : name.startsWith(whole) ? 2 : inName.every(Boolean) ? 4 : 8;
  return rank * 4 + copy * 2 + part;
}
