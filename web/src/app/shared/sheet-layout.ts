/** Places boxes and the lines between them on a sheet; the work is done by a web worker. */
import type { SheetShape } from '@glue-trace/core/browser';
import ELK from 'elkjs/lib/elk-api.js';
import type { ElkExtendedEdge, ElkNode } from 'elkjs/lib/elk-api.js';

export interface Sheet {
  width: number;
  height: number;
  /** By position among the boxes of the shape. */
  boxes: { x: number; y: number; width: number; height: number }[];
  /** By position among its lines: corners of the line, from its start to its end. */
  lines: { x: number; y: number }[][];
}

const HEIGHT = 38;
/** Widths of letters in the two sizes, generously. */
const LETTER = 8.6;
const SMALL_LETTER = 6.3;
const NARROWEST = 90;
const WIDEST = 280;

const LONGEST_NAME = 30;

export function shortened(name: string): string {
  return name.length > LONGEST_NAME ? `${name.slice(0, LONGEST_NAME - 1)}…` : name;
}

/** Width that the words of a box need. */
function widthOf(name: string, under: string): number {
  const words = Math.max(shortened(name).length * LETTER, under.length * SMALL_LETTER);
  return Math.round(Math.min(WIDEST, Math.max(NARROWEST, words + 22)));
}

export interface Layout {
  place(shape: SheetShape): Promise<Sheet>;
  /** Ends the worker. */
  end(): void;
}

export function createLayout(): Layout {
  const elk = new ELK({
    workerFactory: () => new Worker(new URL('./sheet-layout.worker', import.meta.url), { type: 'module' }),
  });
  return {
    async place({ boxes, lines, isInOrder }) {
      const graph: ElkNode = {
        id: 'sheet',
        layoutOptions: {
          'elk.algorithm': 'layered',
          'elk.direction': 'RIGHT',
          'elk.edgeRouting': 'POLYLINE',
          'elk.layered.spacing.nodeNodeBetweenLayers': '56',
          'elk.spacing.nodeNode': '16',
          // A circle is opened where the telling of it came back to its beginning.
          ...(isInOrder && { 'elk.layered.cycleBreaking.strategy': 'MODEL_ORDER' }),
          'elk.padding': '[top=16,left=16,bottom=16,right=16]',
          ...(boxes.some(({ column }) => column !== undefined) && { 'elk.partitioning.activate': 'true' }),
        },
        children: boxes.map(({ name, under, column }, at) => ({
          id: `p${at}`,
          width: widthOf(name, under),
          height: HEIGHT,
          ...(column !== undefined && { layoutOptions: { 'elk.partitioning.partition': String(column) } }),
        })),
        edges: lines.map(({ from, to }, at): ElkExtendedEdge => ({
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
