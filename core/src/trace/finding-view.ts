import { plain, type Finding, type Run } from '../model/finding.js';
import type { Graph } from '../model/graph.js';
import type { Grip } from '../model/link.js';
import { pieceName, type PieceName } from './trace.js';

/** A finding that stands without its map: pieces by their keys, so that it can be stored and sent. */
export interface FindingView extends Omit<Finding, 'sentence' | 'pieces' | 'walk'> {
  sentence: (string | { name: string; key?: string })[];
  /** The sentence as plain text. */
  text: string;
  pieces: PieceName[];
  walk: { asks: string; finds: string; key?: string; grip: Grip }[];
}

export function viewFinding(graph: Graph, finding: Finding): FindingView {
  const key = (piece: number | undefined): string | undefined =>
    piece === undefined || piece < 0 ? undefined : pieceName(graph, piece).key;
  const run = (one: Run): FindingView['sentence'][number] =>
    typeof one === 'string' ? one : { name: one.name, key: key(one.piece) };
  return {
    ...finding,
    sentence: finding.sentence.map(run),
    text: plain(finding.sentence),
    pieces: finding.pieces.map((piece) => pieceName(graph, piece)),
    walk: finding.walk.map(({ asks, finds, piece, grip }) => ({ asks, finds, key: key(piece), grip })),
  };
}
