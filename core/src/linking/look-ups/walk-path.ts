/** Children by name, and paths of names. */
import { cellAt, itemAt } from '../../helpers/at.js';
import { oncePer } from '../../helpers/once.js';
import { push } from '../../helpers/push.js';
import { kindOf } from '../../model/graph.js';
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
  const exact = objects.flatMap((object) => {
    const children = world.trees.children.get(object) ?? [];
    if (children.length > MANY_CHILDREN) return childrenByName(world, object).byName.get(wanted) ?? [];
    return children.filter((child) => cellAt(graph.pieces.name, child) === wanted);
  });
  const asked = after(before, inWords('child', name));
  asked.down ||= before.ups > 0;
  if (exact.length > 0) return found(asked, exact, weaker(before.grip, 'path'));
  if (isMadeAtRun(world, name, madeAtRun) || objects.some((object) => world.trees.incomplete.has(object)))
    return NOTHING_KNOWN;
  const named = objects.map((object) => childrenByName(world, object));
  const lower = name.toLowerCase();
  const loss: Loss = {
    ...emptyLoss('object', name),
    otherCapitals: named.map(({ byLower }) => byLower.get(lower)).find((other) => other !== undefined) ?? '',
    lastObject: itemAt(objects, 0),
    among: [...new Set(named.flatMap(({ first }) => first))].slice(0, MOST_AMONG),
    elsewhere: elsewhere(world, name, itemAt(objects, 0)),
  };
  return lost(asked, loss);
}

/** Among fewer children one is found as soon without. */
const MANY_CHILDREN = 32;

interface NamedChildren {
  /** Children by the number of their name. */
  byName: Map<number, number[]>;
  /** The first name of each in lower letters. */
  byLower: Map<string, string>;
  /** The first names, as many as a loss tells. */
  first: string[];
}

const childrenByName = oncePer(({ builder, trees }: World, object: number): NamedChildren => {
  const { graph } = builder;
  const byName = new Map<number, number[]>();
  for (const child of trees.children.get(object) ?? []) push(byName, cellAt(graph.pieces.name, child), child);
  const names = [...byName.keys()].map((name) => itemAt(graph.texts, name));
  const byLower = new Map<string, string>();
  for (const name of names) if (!byLower.has(name.toLowerCase())) byLower.set(name.toLowerCase(), name);
  return { byName, byLower, first: names.slice(0, MOST_AMONG) };
});

export function isMadeAtRun(world: World, name: string, madeAtRun: ReadonlySet<string>): boolean {
  return madeAtRun.has(name) || isEngines(world.plan.engine.objects, name);
}
