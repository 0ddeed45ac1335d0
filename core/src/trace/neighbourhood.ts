/** What stands around a piece, for a drawing: pieces nearest first, and how they are linked. */
import { cellAt, itemAt, knownIn } from '../helpers/at.js';
import { groupOf, type Graph } from '../model/graph.js';
import { GRIPS, VERBS, type Grip } from '../model/link.js';
import { placeOf } from './index-of.js';
import { pieceName, type PieceName } from './trace.js';

/** More pieces than this make no drawing that anybody could read. */
export const MOST_DRAWN = 200;

export interface DrawnPiece extends PieceName {
  /** Hops from the piece in the middle. */
  hops: number;
  /** Pieces next to it that are not drawn. */
  leftOut: number;
}

/** All links between two pieces, in one direction. */
export interface DrawnLink {
  /** Positions among the pieces. */
  from: number;
  to: number;
  verbs: string[];
  /** The weakest of them. */
  grip: Grip;
  count: number;
}

export interface Neighbourhood {
  pieces: DrawnPiece[];
  links: DrawnLink[];
  /** Pieces within the hops asked for that are not drawn. */
  leftOut: number;
}

/**
 * @param most pieces drawn, at most {@link MOST_DRAWN}; parts count with their objects
 * @param hops how far from the piece
 */
export function neighbourhood(graph: Graph, piece: number, most: number, hops: number): Neighbourhood {
  const limit = Math.min(most, MOST_DRAWN);
  const start = placeOf(graph, piece);
  const order = [start];
  const hopsOf = new Map([[start, 0]]);
  const others = new Set<number>();
  for (let at = 0; at < order.length; at++) {
    const here = itemAt(order, at);
    const away = knownIn(hopsOf, here);
    if (away >= hops) continue;
    for (const next of around(graph, here)) {
      if (hopsOf.has(next)) continue;
      if (order.length >= limit) {
        others.add(next);
        continue;
      }
      hopsOf.set(next, away + 1);
      order.push(next);
    }
  }
  const positions = new Map(order.map((one, at) => [one, at]));
  return {
    pieces: order.map((one) => ({
      ...pieceName(graph, one),
      hops: knownIn(hopsOf, one),
      leftOut: [...around(graph, one)].filter((next) => !positions.has(next)).length,
    })),
    links: linksAmong(graph, order, positions),
    leftOut: [...others].filter((one) => !positions.has(one)).length,
  };
}

/** An object with its parts, or the piece alone. */
function membersOf(graph: Graph, piece: number): number[] {
  return [piece, ...[...groupOf(graph.children, piece)].filter((child) => placeOf(graph, child) === piece)];
}

/** Pieces that a piece is linked with, in either direction, each once. */
function around(graph: Graph, piece: number): Set<number> {
  const found = new Set<number>();
  for (const member of membersOf(graph, piece)) {
    for (const link of groupOf(graph.outgoing, member))
      if (cellAt(graph.links.to, link) >= 0) found.add(placeOf(graph, cellAt(graph.links.to, link)));
    for (const link of groupOf(graph.incoming, member)) found.add(placeOf(graph, cellAt(graph.links.from, link)));
  }
  found.delete(piece);
  return found;
}

function linksAmong(graph: Graph, order: number[], positions: ReadonlyMap<number, number>): DrawnLink[] {
  const drawn = new Map<string, DrawnLink & { weakest: number }>();
  for (const [from, piece] of order.entries()) {
    for (const member of membersOf(graph, piece)) {
      for (const link of groupOf(graph.outgoing, member)) {
        const end = cellAt(graph.links.to, link);
        const to = end < 0 ? undefined : positions.get(placeOf(graph, end));
        if (to === undefined || to === from) continue;
        const key = `${from} ${to}`;
        const verb = itemAt(VERBS, cellAt(graph.links.verb, link));
        const grip = cellAt(graph.links.grip, link);
        const known = drawn.get(key);
        if (!known) drawn.set(key, { from, to, verbs: [verb], grip: itemAt(GRIPS, grip), count: 1, weakest: grip });
        else {
          known.count++;
          if (!known.verbs.includes(verb)) known.verbs.push(verb);
          if (grip > known.weakest) [known.weakest, known.grip] = [grip, itemAt(GRIPS, grip)];
        }
      }
    }
  }
  return [...drawn.values()].map(({ weakest: _weakest, ...link }) => link);
}
