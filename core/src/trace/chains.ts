/** How one piece reaches another: chains of links, the shortest ones and the firmest one. */
import { groupOf, kindOf, linkAt, type Graph } from '../model/graph.js';
import { GRIPS, VERBS, type Grip, type Link } from '../model/link.js';
import { PIECE_KINDS } from '../model/piece.js';
import { carriersOf, perGraph } from './index-of.js';
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

/** Scratch space of one map: what each piece was reached by, in the round that is under way. */
const scratchOf = perGraph((graph) => ({
  round: 0,
  seen: new Int32Array(graph.pieceCount),
  depth: new Int32Array(graph.pieceCount),
}));

/** A step found: a link (negative when it is followed from its end), or none for one that the tree makes. */
interface Step {
  from: number;
  to: number;
  link: number;
  isBack: boolean;
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
  const { seen, depth } = scratch;
  const round = ++scratch.round;
  const starts = [from, ...(from === to ? [] : carriersOf(graph, from))];
  const goals = new Set([to, ...partsOf(graph, to)]);
  /** Steps by which a piece was first reached, all of the same depth. */
  const cameBy = new Map<number, Step[]>();
  for (const start of starts) [seen[start], depth[start]] = [round, 0];
  let open = starts;
  let level = 0;
  let found: number[] = [];
  while (open.length > 0 && level < LONGEST && found.length === 0) {
    level++;
    const next: number[] = [];
    for (const piece of open) {
      eachStep(graph, piece, weakest, cameBy.get(piece)?.[0], (step) => {
        const { to: reached } = step;
        if (seen[reached] !== round) {
          seen[reached] = round;
          depth[reached] = level;
          cameBy.set(reached, [step]);
          next.push(reached);
        } else if (depth[reached] === level) cameBy.get(reached)?.push(step);
      });
    }
    found = next.filter((piece) => goals.has(piece));
    open = next;
  }
  return found.flatMap((goal) => waysBack(cameBy, goal, most)).slice(0, most);
}

/** Everything that a piece leads on to. */
function eachStep(
  graph: Graph,
  piece: number,
  weakest: number,
  before: Step | undefined,
  visit: (step: Step) => void,
): void {
  const { links, pieces } = graph;
  const kind = pieces.kind[piece];
  // A type can be an event itself: it is one for whoever sends it or listens to it.
  const isTypeSent =
    kind === TYPE && before !== undefined && !before.isBack && before.link >= 0 && isEventVerb(links.verb[before.link]);
  if (kind === EVENT || isTypeSent) {
    const wanted = before && before.link >= 0 && links.verb[before.link] === SENDS ? LISTENS : SENDS;
    for (const link of groupOf(graph.incoming, piece)) {
      if (links.verb[link] === wanted && links.grip[link] <= weakest)
        visit({ from: piece, to: links.from[link], link, isBack: true });
    }
    return;
  }
  for (const link of groupOf(graph.outgoing, piece)) {
    if (links.to[link] >= 0 && links.grip[link] <= weakest)
      visit({ from: piece, to: links.to[link], link, isBack: false });
  }
  for (const child of groupOf(graph.children, piece)) {
    const inner = pieces.kind[child];
    if (inner === PART || inner === OBJECT || kind !== OBJECT)
      visit({ from: piece, to: child, link: -1, isBack: false });
  }
}

function isEventVerb(verb: number): boolean {
  return verb === SENDS || verb === LISTENS;
}

function partsOf(graph: Graph, piece: number): number[] {
  if (kindOf(graph, piece) !== 'object') return [];
  return [...groupOf(graph.children, piece)].filter((child) => graph.pieces.kind[child] === PART);
}

/** All ways from the start to a piece, as steps. */
function waysBack(cameBy: Map<number, Step[]>, piece: number, most: number): Step[][] {
  const steps = cameBy.get(piece);
  if (!steps) return [[]];
  const ways: Step[][] = [];
  for (const step of steps) {
    for (const way of waysBack(cameBy, step.from, most)) {
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
    return { ...ends, words: isBack ? BACK[VERBS.indexOf(verb)] : verb, grip, label, link: { file, range } };
  });
}
