/** Look-ups that walk the tree: steps up, children by name, paths of names. */
import { cellAt } from '../../helpers/at.js';
import { kindOf, nameOf } from '../../model/graph.js';
import { weaker } from '../../model/link.js';
import { UNKNOWN, type Value } from '../../reading/facts.js';
import type { CallRule } from '../../reading/plan/plan.js';
import { emptyLoss } from '../losses.js';
import { isPlaceRead } from '../world/unread.js';
import { topOf } from '../world/world.js';
import type { Asked, Evaluation, LookUpKind } from './evaluation.js';
import { after, found, lost, meantBy, NOTHING_KNOWN, type Outcome } from './outcome.js';
import { MADE_UP, patternOf } from './texts.js';
import { isWholeScene, objectsOf, walkPath } from './walk-path.js';

/** Code that asks for more steps than this has lost its way. */
const MOST_STEPS = 64;

export const stepUp: LookUpKind = (evaluation, { receiver, fact }) => {
  const { count } = fact.arguments;
  const steps = count?.is === 'number' ? Math.min(count.number, MOST_STEPS) : 1;
  let outcome = receiver;
  for (let step = 0; step < steps && outcome.state === 'found'; step++) outcome = oneUp(evaluation, outcome);
  return { ...outcome, climbAt: fact.range };
};

function oneUp({ world, place }: Evaluation, receiver: Outcome): Outcome {
  const { graph } = world.builder;
  const reached: number[] = [];
  let from = -1;
  for (const piece of objectsOf(world, receiver.pieces)) {
    if (!isPlaceRead(world, piece)) return NOTHING_KNOWN;
    const parent = cellAt(graph.pieces.parent, piece);
    if (parent >= 0 && kindOf(graph, parent) === 'object') reached.push(parent);
    else if (place.isLoose || !isWholeScene(world, topOf(world, piece))) return NOTHING_KNOWN;
    else from = piece;
  }
  const step = { ...after(receiver, 'one step up'), ups: receiver.ups + 1, climbAt: undefined };
  if (reached.length > 0) return found(step, reached, weaker(receiver.grip, 'path'));
  return lost(step, { ...emptyLoss('object', 'one step up'), lastObject: from });
}

/** A child by name, or a path of names with steps up. */
export const named: LookUpKind = (evaluation, asked) => {
  const { receiver, fact } = asked;
  const wanted = fact.arguments.name ?? fact.arguments.path ?? fact.arguments.object;
  if (receiver.state !== 'found' || !wanted) return NOTHING_KNOWN;
  if (wanted.is === 'join') return built(evaluation, asked, wanted.parts);
  const texts = evaluation.texts(wanted);
  return meantBy(
    wanted,
    texts.map((text) => walk(evaluation, receiver, text, asked.rule)),
  );
};

function walk({ world, place, madeAtRun }: Evaluation, from: Outcome, text: string, { target }: CallRule): Outcome {
  return walkPath(world, from, text, target, place.isLoose, madeAtRun);
}

/**
 * A name or path put together at run time. Steps before the first that is made up are walked as they stand; from
 * there on, any child whose name fits what is known of it may be meant.
 */
function built(evaluation: Evaluation, { receiver, rule }: Asked, parts: Value[]): Outcome {
  const { world } = evaluation;
  const { separator } = rule.target;
  const whole = parts.map((part) => (part.is === 'text' ? part.text : MADE_UP)).join('');
  const steps = rule.means === 'object path' ? whole.split(separator) : [whole];
  const first = steps.findIndex((step) => step.includes(MADE_UP));
  const before = first > 0 ? walk(evaluation, receiver, steps.slice(0, first).join(separator), rule) : receiver;
  if (before.state !== 'found') return before;
  let pieces = objectsOf(world, before.pieces);
  for (const step of steps.slice(first)) {
    const fits = patternOf(
      step.split(MADE_UP).flatMap((text, at): Value[] => [...(at > 0 ? [UNKNOWN] : []), { is: 'text', text }]),
    );
    pieces = pieces
      .flatMap((piece) => world.trees.children.get(piece) ?? [])
      .filter((child) => fits.test(nameOf(world.builder.graph, child)));
  }
  return { ...NOTHING_KNOWN, pieces, before, asks: 'a child whose name is made at run time' };
}
