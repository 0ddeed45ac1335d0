/** How one piece reaches another: chains of links, the shortest ones and the firmest one. */
import { cellAt, itemAt } from '../helpers/at.js';
import { once } from '../helpers/once.js';
import { groupOf, kindOf, linkAt, type Graph } from '../model/graph.js';
import { GRIPS, VERBS, type Grip, type Link } from '../model/link.js';
import { PIECE_KINDS } from '../model/piece.js';
import { carriersOf } from './index-of.js';
import { pieceName, type PieceName } from './trace.js';

/** One step of a chain. */
export interface ChainStep {
  from: PieceName;
  to: PieceName;
  /** How the step reads: a verb, or the verb from its other end: `is listened to by`. */
  words: string;
  grip: Grip;
  label: string;
  /** Where it is written; empty for steps that the tree itself makes. */
  link: Pick<Link, 'file' | 'range'> | null;
}

export interface Chains {
  from: PieceName;
  to: PieceName;
  /** All chains of the least number of steps, up to {@link MOST_CHAINS}. */
  shortest: ChainStep[][];
  /** There are more shortest chains than are given. */
  hasMore: boolean;
  /** The shortest among the chains whose weakest step is as firm as can be; null when there is none. */
  firmest: ChainStep[] | null;
}

export const MOST_CHAINS = 12;
/** Longer chains say nothing that anybody could use. */
const LONGEST = 14;

const EVENT = PIECE_KINDS.indexOf('event');
const TYPE = PIECE_KINDS.indexOf('type');
const PART = PIECE_KINDS.indexOf('part');
const OBJECT = PIECE_KINDS.indexOf('object');
const SENDS = VERBS.indexOf('sends');
const LISTENS = VERBS.indexOf('listens to');
const BUILT = GRIPS.indexOf('built');

/** Scratch space of one map: how each piece was reached in the round that is under way. */
const scratchOf = once((graph: Graph) => ({
  round: 0,
  seen: new Int32Array(graph.pieceCount),
  depth: new Int32Array(graph.pieceCount),
  /** Entry of the step by which a piece was reached first, and of the one found last. */
  first: new Int32Array(graph.pieceCount),
  last: new Int32Array(graph.pieceCount),
}));

/** A step: a link, perhaps followed from its end, or (-1) one that the tree makes. */
interface Step {
  from: number;
  to: number;
  link: number;
  isBack: boolean;
}

/** Steps in flat lists; `next` leads to another step by which the same piece is reached as soon. */
interface Steps {
  from: number[];
  to: number[];
  link: number[];
  isBack: boolean[];
  next: number[];
}

/**
 * Chains from one piece to another, along what each relies on: links, the parts of an object, what stands in a scene.
 * An event that is sent leads on to its listeners, one that is listened to to its senders.
 */
export function chainsBetween(graph: Graph, from: number, to: number): Chains {
  const all = search(graph, from, to, BUILT);
  let firmest: ChainStep[] | null = null;
  for (let grip = 0; grip <= BUILT && all.length > 0 && !firmest; grip++) {
    const [found] = grip === BUILT ? all : search(graph, from, to, grip, 1);
    if (found) firmest = told(graph, found);
  }
  return {
    from: pieceName(graph, from),
    to: pieceName(graph, to),
    shortest: all.slice(0, MOST_CHAINS).map((chain) => told(graph, chain)),
    hasMore: all.length > MOST_CHAINS,
    firmest,
  };
}

/** Chains of the least number of steps, over links at least as firm as asked: breadth first, then back from the end. */
function search(graph: Graph, from: number, to: number, weakest: number, most = MOST_CHAINS + 1): Step[][] {
  const scratch = scratchOf(graph);
  const { seen, depth, first, last } = scratch;
  const round = ++scratch.round;
  const goals = new Set([to, ...partsOf(graph, to)]);
  const steps: Steps = { from: [], to: [], link: [], isBack: [], next: [] };
  let open = [from, ...(from === to ? [] : carriersOf(graph, from))];
  for (const start of open) [seen[start], depth[start], first[start]] = [round, 0, -1];
  let next: number[] = [];
  let level = 0;
  let isFound = false;
  const visit = (piece: number, reached: number, link: number, isBack: boolean): void => {
    if (seen[reached] === round && depth[reached] !== level) return;
    const entry = steps.from.push(piece) - 1;
    steps.to.push(reached);
    steps.link.push(link);
    steps.isBack.push(isBack);
    steps.next.push(-1);
    if (seen[reached] === round) steps.next[cellAt(last, reached)] = entry;
    else {
      seen[reached] = round;
      depth[reached] = level;
      first[reached] = entry;
      next.push(reached);
      isFound ||= goals.has(reached);
    }
    last[reached] = entry;
  };
  while (open.length > 0 && level < LONGEST && !isFound) {
    level++;
    next = [];
    for (const piece of open) {
      const by = cellAt(first, piece);
      eachStep(graph, piece, weakest, by < 0 ? -1 : itemAt(steps.link, by), by >= 0 && itemAt(steps.isBack, by), visit);
    }
    open = next;
  }
  const found = isFound ? next.filter((piece) => goals.has(piece)) : [];
  return found.flatMap((goal) => waysBack(steps, first, goal, most)).slice(0, most);
}

type Visit = (piece: number, reached: number, link: number, isBack: boolean) => void;

/**
 * Everything that a piece leads on to.
 * @param by the link by which it was reached, or -1
 * @param wasBack whether that was followed from its end
 */
function eachStep(graph: Graph, piece: number, weakest: number, by: number, wasBack: boolean, visit: Visit): void {
  const { links, pieces, outgoing, incoming, children } = graph;
  const kind = cellAt(pieces.kind, piece);
  const byVerb = by < 0 ? -1 : cellAt(links.verb, by);
  // A type can be an event itself: it is one for whoever sends it or listens to it.
  if (kind === EVENT || (kind === TYPE && !wasBack && (byVerb === SENDS || byVerb === LISTENS))) {
    const wanted = byVerb === SENDS ? LISTENS : SENDS;
    for (let at = cellAt(incoming.starts, piece); at < cellAt(incoming.starts, piece + 1); at++) {
      const link = cellAt(incoming.items, at);
      if (cellAt(links.verb, link) === wanted && cellAt(links.grip, link) <= weakest)
        visit(piece, cellAt(links.from, link), link, true);
    }
    return;
  }
  for (let at = cellAt(outgoing.starts, piece); at < cellAt(outgoing.starts, piece + 1); at++) {
    const link = cellAt(outgoing.items, at);
    if (cellAt(links.to, link) >= 0 && cellAt(links.grip, link) <= weakest)
      visit(piece, cellAt(links.to, link), link, false);
  }
  for (let at = cellAt(children.starts, piece); at < cellAt(children.starts, piece + 1); at++) {
    const child = cellAt(children.items, at);
    const inner = cellAt(pieces.kind, child);
    if (inner === PART || inner === OBJECT || kind !== OBJECT) visit(piece, child, -1, false);
  }
}

function partsOf(graph: Graph, piece: number): number[] {
  if (kindOf(graph, piece) !== 'object') return [];
  return [...groupOf(graph.children, piece)].filter((child) => cellAt(graph.pieces.kind, child) === PART);
}

/** All ways from the start to a piece, as steps. */
function waysBack(steps: Steps, first: Int32Array, piece: number, most: number): Step[][] {
  if (cellAt(first, piece) < 0) return [[]];
  const ways: Step[][] = [];
  for (let at = cellAt(first, piece); at >= 0; at = itemAt(steps.next, at)) {
    const step = {
      from: itemAt(steps.from, at),
      to: itemAt(steps.to, at),
      link: itemAt(steps.link, at),
      isBack: itemAt(steps.isBack, at),
    };
    for (const way of waysBack(steps, first, step.from, most)) {
      ways.push([...way, step]);
      if (ways.length >= most) return ways;
    }
  }
  return ways;
}

/** How event verbs read from the event's side. */
const BACK: Record<number, string> = { [SENDS]: 'is sent by', [LISTENS]: 'is listened to by' };

function told(graph: Graph, chain: Step[]): ChainStep[] {
  return chain.map(({ from, to, link, isBack }): ChainStep => {
    const ends = { from: pieceName(graph, from), to: pieceName(graph, to) };
    if (link < 0) {
      const words = kindOf(graph, to) === 'part' ? 'carries' : 'holds';
      return { ...ends, words, grip: 'fixed', label: '', link: null };
    }
    const { verb, grip, label, file, range } = linkAt(graph, link);
    return { ...ends, words: isBack ? (BACK[VERBS.indexOf(verb)] ?? verb) : verb, grip, label, link: { file, range } };
  });
}
