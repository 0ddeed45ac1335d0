import { plain, type Finding, type Sentence } from '../model/finding.js';
import { keyOf, type Graph } from '../model/graph.js';
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

/** A sentence with pieces by their keys. */
export function viewSentence(graph: Graph, sentence: Sentence): FindingView['sentence'] {
  return sentence.map((one) => (typeof one === 'string' ? one : { name: one.name, key: keyIn(graph, one.piece) }));
}

const keyIn = (graph: Graph, piece: number | undefined): string | undefined =>
  piece === undefined || piece < 0 ? undefined : keyOf(graph, piece);

export function viewFinding(graph: Graph, finding: Finding): FindingView {
  return {
    ...finding,
    sentence: viewSentence(graph, finding.sentence),
    text: plain(finding.sentence),
    pieces: finding.pieces.map((piece) => pieceName(graph, piece)),
    walk: finding.walk.map(({ asks, finds, piece, grip }) => ({ asks, finds, key: keyIn(graph, piece), grip })),
  };
}
