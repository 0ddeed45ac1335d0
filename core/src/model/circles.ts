import { itemAt, knownIn, must } from '../helpers/at.js';
/** Circles among pieces: strongly connected parts, found by Tarjan's algorithm (1972), without recursion. */

export interface Edge {
  from: number;
  to: number;
}

/**
 * Gives one circle for each set of pieces that reach each other, as its edges in order; the shortest one through the
 * piece that comes first. A piece with an edge to itself is a circle of one.
 */
export function circles<E extends Edge>(edges: E[]): E[][] {
  const out = new Map<number, E[]>();
  for (const edge of edges) {
    const list = out.get(edge.from);
    if (list) list.push(edge);
    else out.set(edge.from, [edge]);
  }
  return componentsOf(out).flatMap((members) => {
    const start = Math.min(...members);
    const circle = shortest(out, new Set(members), start);
    return circle ? [circle] : [];
  });
}

/** Sets of pieces that reach each other. */
function componentsOf<E extends Edge>(out: Map<number, E[]>): number[][] {
  const order = new Map<number, number>();
  const low = new Map<number, number>();
  const stack: number[] = [];
  const isOnStack = new Set<number>();
  const components: number[][] = [];
  for (const root of out.keys()) {
    if (order.has(root)) continue;
    const open: { piece: number; next: number }[] = [{ piece: root, next: 0 }];
    while (open.length > 0) {
      const top = itemAt(open, open.length - 1);
      const { piece } = top;
      if (top.next === 0) {
        order.set(piece, order.size);
        low.set(piece, knownIn(order, piece));
        stack.push(piece);
        isOnStack.add(piece);
      }
      const edge = out.get(piece)?.[top.next++];
      if (edge) {
        if (!order.has(edge.to)) open.push({ piece: edge.to, next: 0 });
        else if (isOnStack.has(edge.to)) low.set(piece, Math.min(knownIn(low, piece), knownIn(order, edge.to)));
        continue;
      }
      open.pop();
      const above = open.at(-1)?.piece;
      if (above !== undefined) low.set(above, Math.min(knownIn(low, above), knownIn(low, piece)));
      if (low.get(piece) !== order.get(piece)) continue;
      const members: number[] = [];
      for (let member = -1; member !== piece;) {
        member = must(stack.pop());
        isOnStack.delete(member);
        members.push(member);
      }
      components.push(members);
    }
  }
  return components;
}

/** The shortest way from a piece back to itself inside a set; undefined when there is none. */
function shortest<E extends Edge>(out: Map<number, E[]>, members: ReadonlySet<number>, start: number): E[] | undefined {
  const cameBy = new Map<number, E>();
  let open = [start];
  while (open.length > 0) {
    const next: number[] = [];
    for (const piece of open) {
      for (const edge of out.get(piece) ?? []) {
        if (!members.has(edge.to)) continue;
        if (edge.to === start) {
          const way = [edge];
          for (let at = edge.from; at !== start; at = itemAt(way, 0).from) way.unshift(knownIn(cameBy, at));
          return way;
        }
        if (cameBy.has(edge.to)) continue;
        cameBy.set(edge.to, edge);
        next.push(edge.to);
      }
    }
    open = next;
  }
  return undefined;
}
