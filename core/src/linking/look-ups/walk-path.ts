/** Children by name, and paths of names. */
import { cellAt, itemAt } from '../../helpers/at.js';
import { kindOf, nameOf } from '../../model/graph.js';
import { weaker, type Loss } from '../../model/link.js';
import { emptyLoss, isEngines } from '../losses.js';
import { elsewhere } from '../paths.js';
import { isPlaceRead } from '../world/unread.js';
import { topOf, type World } from '../world/world.js';
import { NOTHING_KNOWN, after, found, inWords, lost, type Outcome } from './outcome.js';
import { MOST_AMONG } from './place.js';

/** Walks a path of names from where `receiver` stands. */
export function walkPath(
  world: World,
  receiver: Outcome,
  text: string,
  form: { separator: string; up: string },
  isLoose: boolean,
  madeAtRun: ReadonlySet<string>,
): Outcome {
  const { graph } = world.builder;
  let outcome = receiver;
  const isStep = text !== '' && text !== '.' && text !== form.up && !text.includes(form.separator);
  if (isStep && receiver.state === 'found')
    return childStep(world, receiver, objectsOf(world, receiver.pieces), text, madeAtRun);
  const steps = text.split(form.separator);
  if (steps[0] === '' && steps.length > 1) {
    const tops = [...new Set(receiver.pieces.map((piece) => topOf(world, piece)))];
    outcome = { ...receiver, pieces: tops, ups: 0, down: false };
    steps.shift();
  }
  for (const step of steps) {
    if (outcome.state !== 'found') return outcome;
    if (step === '.' || step === '') continue;
    const objects = objectsOf(world, outcome.pieces);
    if (step === form.up) {
      if (!objects.every((piece) => isPlaceRead(world, piece))) return NOTHING_KNOWN;
      const parents = objects.map((piece) => cellAt(graph.pieces.parent, piece)).filter((piece) => piece >= 0);
      const inTree = parents.filter((piece) => kindOf(graph, piece) === 'object' || kindOf(graph, piece) === 'scene');
      if (inTree.length === 0) {
        if (isLoose || !isWholeScene(world, topOf(world, itemAt(objects, 0)))) return NOTHING_KNOWN;
        return lost(after(outcome, 'one step up'), { ...emptyLoss('object', text), lastObject: itemAt(objects, 0) });
      }
      const climb = after(outcome, 'one step up');
      climb.ups++;
      outcome = found(climb, inTree, weaker(outcome.grip, 'path'));
      continue;
    }
    outcome = childStep(world, outcome, objects, step, madeAtRun);
  }
  return outcome;
}

/** Whether a tree ends in a scene of which everything was read: only there, nothing more stands above. */
export function isWholeScene({ builder, trees }: World, top: number): boolean {
  return kindOf(builder.graph, top) === 'scene' && !trees.incomplete.has(top);
}

/** The objects that pieces are, or are parts of. */
export function objectsOf(world: World, pieces: number[]): number[] {
  return pieces.map((piece) => world.trees.partByPiece.get(piece)?.object ?? piece);
}

function childStep(
  world: World,
  before: Outcome,
  objects: number[],
  name: string,
  madeAtRun: ReadonlySet<string>,
): Outcome {
  const { graph } = world.builder;
  // Names are compared by their numbers: most children have another one.
  const wanted = world.builder.text(name);
  const exact: number[] = [];
  for (const object of objects) {
    for (const child of world.trees.children.get(object) ?? [])
      if (cellAt(graph.pieces.name, child) === wanted) exact.push(child);
  }
  const asked = after(before, inWords('child', name));
  asked.down ||= before.ups > 0;
  if (exact.length > 0) return found(asked, exact, weaker(before.grip, 'path'));
  if (isMadeAtRun(world, name, madeAtRun) || objects.some((object) => world.trees.incomplete.has(object)))
    return NOTHING_KNOWN;
  const names = objects
    .flatMap((object) => world.trees.children.get(object) ?? [])
    .map((child) => nameOf(graph, child));
  const loss: Loss = {
    ...emptyLoss('object', name),
    otherCapitals: names.find((other) => other.toLowerCase() === name.toLowerCase()) ?? '',
    lastObject: itemAt(objects, 0),
    among: [...new Set(names)].slice(0, MOST_AMONG),
    elsewhere: elsewhere(world, name, itemAt(objects, 0)),
  };
  return lost(asked, loss);
}

export function isMadeAtRun(world: World, name: string, madeAtRun: ReadonlySet<string>): boolean {
  return madeAtRun.has(name) || isEngines(world.plan.engine.objects, name);
}
