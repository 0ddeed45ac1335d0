/** What a look-up comes to, step by step. */
import { titleOf } from '../../model/graph.js';
import { weaker, type Grip, type Loss, type WalkStep } from '../../model/link.js';
import type { Range } from '../../model/piece.js';
import type { Value } from '../../reading/facts.js';
import type { World } from '../world/world.js';

/** What a look-up comes to. */
export interface Outcome {
  state: 'found' | 'lost' | 'unknown';
  /** Pieces reached; for names built at run time, those that could be meant. */
  pieces: number[];
  grip: Grip;
  loss?: Loss;
  /** The step before this one. */
  before?: Outcome;
  /** What this step asked for, in words; empty for no step. */
  asks: string;
  /** Steps up the tree on the way here, and whether it then went down again. */
  ups: number;
  down: boolean;
  /** Where the last step up is written in the code. */
  climbAt?: Range;
}

export const NOTHING_KNOWN: Outcome = start('unknown', [], 'built');

/** A step of a look-up before it is known what it comes to. */
export interface Step {
  before: Outcome | undefined;
  asks: string;
  ups: number;
  down: boolean;
  climbAt: Range | undefined;
}

/** The beginning of a look-up. */
export function start(state: Outcome['state'], pieces: number[], grip: Grip): Outcome {
  return { state, pieces, grip, loss: undefined, before: undefined, asks: '', ups: 0, down: false, climbAt: undefined };
}

/** A first step that starts from the scene. */
export function beginning(asks: string): Step {
  return { before: undefined, asks, ups: 0, down: false, climbAt: undefined };
}

// Outcomes are written out field by field: there are millions of them, and copies by spreading cost many times as much.

export function found({ before, asks, ups, down, climbAt }: Step, pieces: number[], grip: Grip): Outcome {
  return { state: 'found', pieces, grip, loss: undefined, before, asks, ups, down, climbAt };
}

export function lost({ before, asks, ups, down, climbAt }: Step, loss: Loss): Outcome {
  return { state: 'lost', pieces: [], grip: 'lost', loss, before, asks, ups, down, climbAt };
}

/** The step after `before`. */
export function after(before: Outcome, asks: string): Step {
  return { before, asks, ups: before.ups, down: before.down, climbAt: before.climbAt };
}

/** Found if any may be found, lost only if all are. */
export function anyOf(outcomes: Outcome[]): Outcome {
  const [first] = outcomes;
  if (first && outcomes.length === 1) return first;
  const holding = outcomes.filter((outcome) => outcome.state === 'found');
  const [holds] = holding;
  if (holds) {
    const pieces = [...new Set(holding.flatMap((outcome) => outcome.pieces))];
    return { ...holds, pieces, grip: holding.map((outcome) => outcome.grip).reduce(weaker) };
  }
  return first && outcomes.every((outcome) => outcome.state === 'lost') ? first : NOTHING_KNOWN;
}

/** What comes of the texts that a value stands for: where each is meant, one that is lost counts. */
export function meantBy(value: Value, outcomes: Outcome[]): Outcome {
  if (outcomes.length === 0) return NOTHING_KNOWN;
  const missing = value.is === 'any' && value.each ? outcomes.find(({ state }) => state === 'lost') : undefined;
  return missing ?? anyOf(outcomes);
}

const words = new Map<string, Map<string, string>>();

/** `child “Cleat”`: made once for each name, since millions of links say it. */
export function inWords(what: string, name: string): string {
  let known = words.get(what);
  if (!known) words.set(what, (known = new Map<string, string>()));
  let text = known.get(name);
  if (text === undefined) known.set(name, (text = `${what} “${name}”`));
  return text;
}

/** The way a look-up took, step by step. */
export function walkOf(world: World, outcome: Outcome): WalkStep[] {
  const { graph } = world.builder;
  const steps: WalkStep[] = [];
  for (let at: Outcome | undefined = outcome; at; at = at.before) {
    const [piece] = at.pieces;
    const finds =
      piece !== undefined ? titleOf(graph, piece) : at.loss ? missingWords(at.loss) : 'not known before play';
    steps.unshift({ asks: at.asks || 'starts on', finds, piece: piece ?? -1, grip: at.grip });
  }
  return steps;
}

function missingWords(loss: Loss): string {
  if (loss.wanted === 'one step up') return 'nothing: this object stands at the top of its scene';
  return loss.among.length > 0 ? `not among: ${loss.among.join(', ')}` : 'there is none';
}
