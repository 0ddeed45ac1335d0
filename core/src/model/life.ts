/** What links of the life cycle say besides their verb, and what they mean for an object. */
import { cellAt } from '../helpers/at.js';
import { FLAGS, groupOf, type Graph } from './graph.js';
import { VERBS } from './link.js';

/** A call puts an object under another parent. */
export const IN_TREE = 'in the tree';
/** A call changes its place in the world alone. */
export const IN_WORLD = 'in the world';
/** A call lets an object keep its state over scene changes. */
export const KEPT = 'to be kept over scene changes';
/** Code attaches a script in play. */
export const ATTACHED = 'attached in play';

const SWITCHES = VERBS.indexOf('switches');

/** Whether an object keeps its state over scene changes: it, or something above it, is marked, or kept by a call. */
export function isKept(graph: Graph, object: number): boolean {
  const { verb, label } = graph.links;
  for (let at = object, steps = 0; at >= 0 && steps < 10_000; at = cellAt(graph.pieces.parent, at), steps++) {
    if ((cellAt(graph.pieces.flags, at) & FLAGS.kept) !== 0) return true;
    const links = groupOf(graph.incoming, at);
    if (links.some((link) => verb[link] === SWITCHES && graph.texts[cellAt(label, link)] === KEPT)) return true;
  }
  return false;
}
