/** Parts of objects, by their type. */
import { cellAt } from '../../helpers/at.js';
import { kindOf, titleOf } from '../../model/graph.js';
import { weaker, type Loss } from '../../model/link.js';
import { emptyLoss, isEngines } from '../losses.js';
import { hasUnknownParts } from '../world/parts.js';
import { typeNamed } from '../world/types.js';
import type { World, WorldPart } from '../world/world.js';
import type { LookUpKind } from './evaluation.js';
import { after, found, lost, NOTHING_KNOWN } from './outcome.js';
import { MOST_AMONG } from './place.js';
import { typeName } from './texts.js';
import { objectsOf } from './walk-path.js';

const PARTS_OF = { object: 'its part', below: 'a part below it', above: 'a part above it' } as const;

/** A part of what it is asked on, or of what stands below or above that. */
export const part: LookUpKind = ({ world, place }, { type, receiver, fact, rule: { on } }) => {
  const wanted = fact.arguments.type && typeName(fact.arguments.type);
  if (receiver.state !== 'found' || !wanted) return NOTHING_KNOWN;
  if (on === 'above' && place.isLoose) return NOTHING_KNOWN;
  const step = after(receiver, `${PARTS_OF[on]} ${wanted}`);
  const own = objectsOf(world, receiver.pieces);
  const reach = { object: (object: number) => [object], below, above }[on];
  const objects = own.flatMap((object) => reach(object, world));
  const pieces = objects.flatMap((object) =>
    (world.trees.partsOf.get(object) ?? []).filter((one) => isOfType(one, wanted)).map((one) => one.piece),
  );
  if (pieces.length > 0) return found(step, pieces, weaker(receiver.grip, 'name'));
  if (isEngines(world.plan.engine.parts, wanted) || objects.some((one) => hasUnknownParts(world, one)))
    return NOTHING_KNOWN;
  // A type that the map does not know may be anything.
  if (!typeNamed(world, wanted, type.source) && !world.names.parts.has(wanted)) return NOTHING_KNOWN;
  return lost(step, lossOf(world, wanted, own[0] ?? -1));
};

/** What the object carries instead, and which of its children carry what is wanted. */
function lossOf(world: World, wanted: string, object: number): Loss {
  const { partsOf, children } = world.trees;
  const carried = (partsOf.get(object) ?? []).map((one) => one.type?.name || one.typeName).filter(Boolean);
  const nearby = (children.get(object) ?? []).filter((child) =>
    (partsOf.get(child) ?? []).some((one) => isOfType(one, wanted)),
  );
  return {
    ...emptyLoss('part', wanted),
    otherCapitals: carried.find((name) => name !== wanted && name.toLowerCase() === wanted.toLowerCase()) ?? '',
    lastObject: object,
    among: carried.slice(0, MOST_AMONG),
    elsewhere: nearby.slice(0, 5).map((child) => titleOf(world.builder.graph, child)),
  };
}

function below(object: number, world: World): number[] {
  return (world.trees.children.get(object) ?? []).flatMap((child) => [child, ...below(child, world)]);
}

function above(object: number, world: World): number[] {
  const { graph } = world.builder;
  const parent = cellAt(graph.pieces.parent, object);
  return parent >= 0 && kindOf(graph, parent) === 'object' ? [parent, ...above(parent, world)] : [];
}

export function isOfType(one: WorldPart, name: string): boolean {
  return (
    one.typeName === name ||
    one.type?.name === name ||
    (one.type?.ancestors.some((ancestor) => ancestor.name === name) ?? false)
  );
}
