/** Look-ups in the whole scene: by name, label or type. */
import { once, oncePer } from '../../helpers/once.js';
import { push } from '../../helpers/push.js';
import { nameOf } from '../../model/graph.js';
import { UNKNOWN, type Value } from '../../reading/facts.js';
import type { CallRule } from '../../reading/plan/plan.js';
import { emptyLoss } from '../losses.js';
import { topOf, type World, type WorldPart } from '../world/world.js';
import type { Evaluation, LookUpKind } from './evaluation.js';
import { beginning, found, inWords, lost, meantBy, NOTHING_KNOWN, type Outcome } from './outcome.js';
import { patternOf, typeName } from './texts.js';
import { isMadeAtRun } from './walk-path.js';

/** An object by its name. */
export const find: LookUpKind = (evaluation, { fact, rule }) => {
  const { name: wanted } = fact.arguments;
  if (!wanted) return NOTHING_KNOWN;
  const texts = evaluation.texts(wanted);
  return meantBy(
    wanted,
    texts.map((text) => findOne(evaluation, text, rule)),
  );
};

function findOne(evaluation: Evaluation, name: string, rule: CallRule): Outcome {
  const { world, place, madeAtRun } = evaluation;
  const { names, trees, builder } = world;
  const top = topOf(world, place.part.object);
  const isEverywhere = place.isLoose || rule.reach === 'project';
  const scenes = trees.loadedWith.get(top) ?? [top];
  if (rule.wild && name.includes('*')) return findWild(evaluation, name, isEverywhere ? undefined : scenes);
  const here = isEverywhere
    ? (names.inTree.get(name) ?? [])
    : scenes.flatMap((scene) => namedIn(world, name).get(scene) ?? []);
  const step = beginning(inWords('an object of the scene named', name));
  if (here.length > 0) return found(step, here, 'name');
  if (isMadeAtRun(world, name, madeAtRun) || scenes.some((scene) => incompleteTops(world).has(scene)))
    return NOTHING_KNOWN;
  const [other] = (names.inTreeLower.get(name.toLowerCase()) ?? []).filter(
    (piece) => isEverywhere || scenes.includes(topOf(world, piece)),
  );
  const otherCapitals = other === undefined ? '' : nameOf(builder.graph, other);
  return lost(step, { ...emptyLoss('object', name), otherCapitals });
}

/** Objects whose name fits a pattern, in some scenes or in all. */
function findWild({ world, madeAtRun }: Evaluation, name: string, scenes: number[] | undefined): Outcome {
  const fits = patternOf(
    name.split('*').flatMap((text, at): Value[] => [...(at > 0 ? [UNKNOWN] : []), { is: 'text', text }]),
  );
  const pieces: number[] = [];
  for (const [other, named] of world.names.inTree)
    if (fits.test(other)) pieces.push(...named.filter((piece) => !scenes || scenes.includes(topOf(world, piece))));
  const step = beginning(inWords('objects named like', name));
  if (pieces.length > 0) return found(step, pieces, 'name');
  const mayCome =
    [...madeAtRun].some((made) => fits.test(made)) ||
    world.plan.engine.objects.length > 0 ||
    (scenes ?? []).some((scene) => incompleteTops(world).has(scene));
  return mayCome ? NOTHING_KNOWN : lost(step, emptyLoss('object', name));
}

/** Objects of the scene that carry a label. */
export const labelled: LookUpKind = ({ world, place, texts: textsHere }, { fact }) => {
  const wanted = fact.arguments.label ?? fact.arguments.name;
  const texts = wanted ? textsHere(wanted) : [];
  const top = topOf(world, place.part.object);
  const isHere = (piece: number): boolean => place.isLoose || topOf(world, piece) === top;
  const pieces = texts.flatMap((text) => (byLabel(world).get(text) ?? []).filter(isHere));
  return pieces.length > 0
    ? found(beginning(`objects labelled “${texts.join('” or “')}”`), pieces, 'name')
    : NOTHING_KNOWN;
};

/** Every part of a type in the scene. */
export const ofType: LookUpKind = ({ world, place }, { fact }) => {
  const wanted = fact.arguments.type && typeName(fact.arguments.type);
  if (!wanted) return NOTHING_KNOWN;
  const top = topOf(world, place.part.object);
  const pieces = (partsByType(world).get(world.plan.typeNames[wanted] ?? wanted) ?? [])
    .filter((one) => place.isLoose || topOf(world, one.object) === top)
    .map((one) => one.piece);
  return pieces.length > 0 ? found(beginning(`everything of the type ${wanted}`), pieces, 'name') : NOTHING_KNOWN;
};

const byLabel = once(({ labels }: World): Map<string, number[]> => {
  const index = new Map<string, number[]>();
  for (const [piece, names] of labels.of) for (const label of names) push(index, label, piece);
  return index;
});

/** Parts by the name of their type and of each type it descends from. */
const partsByType = once(({ trees }: World): Map<string, WorldPart[]> => {
  const index = new Map<string, WorldPart[]>();
  for (const part of trees.partByPiece.values()) {
    const types = part.type ? [part.type, ...part.type.ancestors] : [];
    for (const one of new Set([part.typeName, ...types.map(({ name }) => name)])) push(index, one, part);
  }
  return index;
});

/** Objects of a name by the scene they stand in. */
const namedIn = oncePer((world: World, name: string): Map<number, number[]> => {
  const scenes = new Map<number, number[]>();
  for (const piece of world.names.inTree.get(name) ?? []) push(scenes, topOf(world, piece), piece);
  return scenes;
});

/** Scenes in which some instance has a prefab that is not known. */
const incompleteTops = once((world: World) => new Set([...world.trees.incomplete].map((piece) => topOf(world, piece))));
