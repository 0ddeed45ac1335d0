/** Places the pieces of a neighbourhood on a sheet; the work is done by a web worker. */
import type { Neighbourhood } from '@glue-trace/core';
import ELK from 'elkjs/lib/elk-api.js';
import type { ElkExtendedEdge, ElkNode } from 'elkjs/lib/elk-api.js';

export interface Sheet {
  width: number;
  height: number;
  /** By position among the pieces. */
  boxes: { x: number; y: number; width: number; height: number }[];
  /** By position among the links: corners of the line, from its start to its end. */
  lines: { x: number; y: number }[][];
}

const HEIGHT = 38;
const LETTER = 8;
const NARROWEST = 90;
const WIDEST = 230;

/** Width that a piece's name needs. */
export function widthOf(words: string): number {
  return Math.round(Math.min(WIDEST, Math.max(NARROWEST, words.length * LETTER + 22)));
}

export interface Layout {
  place(around: Neighbourhood): Promise<Sheet>;
  /** Ends the worker. */
  end(): void;
}

export function createLayout(): Layout {
  const elk = new ELK({
    workerFactory: () => new Worker(new URL('./layout.worker', import.meta.url), { type: 'module' }),
  });
  return {
    async place({ pieces, links }) {
      const graph: ElkNode = {
        id: 'sheet',
        layoutOptions: {
          'elk.algorithm': 'layered',
          'elk.direction': 'RIGHT',
          'elk.edgeRouting': 'POLYLINE',
          'elk.layered.spacing.nodeNodeBetweenLayers': '56',
          'elk.spacing.nodeNode': '16',
          'elk.padding': '[top=16,left=16,bottom=16,right=16]',
        },
        children: pieces.map((piece, at) => ({ id: `p${at}`, width: widthOf(piece.name), height: HEIGHT })),
        edges: links.map(({ from, to }, at): ElkExtendedEdge => ({
          id: `l${at}`,
          sources: [`p${from}`],
          targets: [`p${to}`],
        })),
      };
      const placed = await elk.layout(graph);
      return {
        width: Math.ceil(placed.width ?? 0),
        height: Math.ceil(placed.height ?? 0),
        boxes: (placed.children ?? []).map(({ x = 0, y = 0, width = 0, height = 0 }) => ({ x, y, width, height })),
        lines: (placed.edges ?? []).map(({ sections }) =>
          (sections ?? []).flatMap(({ startPoint, bendPoints, endPoint }) => [
            startPoint,
            ...(bendPoints ?? []),
            endPoint,
          ]),
        ),
      };
    },
    end: () => elk.terminateWorker(),
  };
}
