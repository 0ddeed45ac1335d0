/** An order of groups in which most reliance runs one way, in layers: what runs against it stands out. */
import { cellAt, itemAt } from '../helpers/at.js';

export interface Weighted {
  /** Positions of groups. */
  from: number;
  to: number;
  links: number;
}

export interface Layered {
  /** Positions of groups, from those that rely on others to those that others rely on. */
  order: number[];
  /** The layer of each group, by its position; the first is 0. Groups of one layer rely on each other only backwards. */
  layer: number[];
}

/**
 * The order is that of Eades, Lin and Smyth (“A fast and effective heuristic for the feedback arc set problem”, 1993) by
 * weight, after which single groups are moved for as long as fewer links run back.
 * @param count of groups; with hundreds it takes its time
 */
export function layersOf(count: number, cells: readonly Weighted[]): Layered {
  const weight = new Int32Array(count * count);
  for (const { from, to, links } of cells) if (from !== to) weight[from * count + to] = links;
  const relies = (from: number, to: number): number => cellAt(weight, from * count + to);
  const order = better(greedy(count, relies), relies);
  const layer = Array<number>(count).fill(0);
  order.forEach((group, at) => {
    for (const above of order.slice(0, at))
      if (relies(above, group) > 0) layer[group] = Math.max(itemAt(layer, group), itemAt(layer, above) + 1);
  });
  return { order: order.sort((a, b) => itemAt(layer, a) - itemAt(layer, b)), layer };
}

type Relies = (from: number, to: number) => number;

function greedy(count: number, relies: Relies): number[] {
  const left = Array.from({ length: count }, (_, group) => group);
  const [first, last]: [number[], number[]] = [[], []];
  const out = (group: number): number => left.reduce((sum, to) => sum + (to === group ? 0 : relies(group, to)), 0);
  const into = (group: number): number =>
    left.reduce((sum, from) => sum + (from === group ? 0 : relies(from, group)), 0);
  const take = (group: number | undefined): number | undefined => {
    if (group !== undefined) left.splice(left.indexOf(group), 1);
    return group;
  };
  while (left.length > 0) {
    const end = take(left.findLast((group) => out(group) === 0));
    if (end !== undefined) last.unshift(end);
    else {
      const gains = left.map((group) => (into(group) === 0 ? Infinity : out(group) - into(group)));
      const start = take(left[gains.indexOf(Math.max(...gains))]);
      if (start !== undefined) first.push(start);
    }
  }
  return [...first, ...last];
}

/** Rounds of moving single groups; each that helps makes less run back, so that few are needed. */
const MOST_ROUNDS = 20;

function better(order: number[], relies: Relies): number[] {
  for (let round = 0; round < MOST_ROUNDS; round++) {
    let isBetter = false;
    for (const group of [...order]) {
      const rest = order.filter((other) => other !== group);
      // What runs back with the group at the very beginning, and then one place further on each time.
      let back = rest.reduce((sum, other) => sum + relies(other, group), 0);
      const backAt = [back];
      for (const other of rest) backAt.push((back += relies(group, other) - relies(other, group)));
      const now = itemAt(backAt, order.indexOf(group));
      const best = Math.min(...backAt);
      if (best >= now) continue;
      isBetter = true;
      order = [...rest];
      order.splice(backAt.indexOf(best), 0, group);
    }
    if (!isBetter) break;
  }
  return order;
}
