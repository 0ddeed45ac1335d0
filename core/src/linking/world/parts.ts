/** Parts on objects, and what they run. */
import { itemAt } from '../../helpers/at.js';
import { once } from '../../helpers/once.js';
import { push } from '../../helpers/push.js';
import { isEngines } from '../losses.js';
import { mainType, typeNamed } from './types.js';
import { mayBeUnread, scripting } from './unread.js';
import type { ScriptFinder, World, WorldPart, WorldType } from './world.js';

export function addParts(world: World, source: number, pieceFact: number, findScript: ScriptFinder): void {
  const piece = itemAt(itemAt(world.facts, source).pieces, pieceFact);
  const object = itemAt(itemAt(world.trees.pieceOf, source), pieceFact);
  piece.parts.forEach((fact, partFact) => {
    const path = fact.script && findScript(world, source, piece, fact);
    const type = path ? mainType(world, path) : fact.type ? typeNamed(world, fact.type, source) : undefined;
    const graph = path && !type ? world.files.sourceOf.get(path) : undefined;
    addPart(world, {
      ...(graph !== undefined && { graph }),
      object,
      typeName: fact.type || type?.name || '',
      type,
      fact,
      source,
      pieceFact,
      partFact,
      values: fact.values.map((value) => ({ value, source, pieceFact, partFact })),
    });
  });
}

export function addPart(world: World, part: Omit<WorldPart, 'piece'>, origin = -1): WorldPart {
  const written = part.fact.script?.text;
  const piece = world.builder.addPiece({
    kind: 'part',
    name: part.type?.name || part.typeName || written || '',
    parent: part.object,
    file: itemAt(world.facts, part.source).file,
    range: part.fact.range,
    origin,
  });
  const { object, typeName, type, fact, source, pieceFact, partFact, values, graph } = part;
  const added: WorldPart = { piece, object, typeName, type, fact, source, pieceFact, partFact, graph, values };
  for (const one of type ? [type, ...type.ancestors] : []) world.types.carried.add(one.name);
  push(world.trees.partsOf, part.object, added);
  world.trees.partByPiece.set(piece, added);
  return added;
}

export function partNamed(world: World, object: number, type: string): WorldPart | undefined {
  return (world.trees.partsOf.get(object) ?? []).find((part) => part.typeName === type || part.type?.name === type);
}

/** A part that is neither a type of the project nor the engine's may be of any type, and so may one of unread parents. */
export function hasUnknownParts(world: World, object: number): boolean {
  const { trees, plan } = world;
  return (
    trees.incomplete.has(object) ||
    (trees.partsOf.get(object) ?? []).some(({ type, typeName }) =>
      type ? hasUnreadParent(world, type) : !isEngines(plan.engine.parts, typeName),
    )
  );
}

function hasUnreadParent(world: World, type: WorldType): boolean {
  return [type, ...type.ancestors].some((one) =>
    itemAt(one.script.types, one.local).parents.some(
      (written) => !typeNamed(world, written, one.source) && mayBeUnread(world, written, scripting),
    ),
  );
}

export function copyPart(world: World, part: WorldPart, object: number): void {
  const { piece, typeName, type, fact, source, pieceFact, partFact, values, graph } = part;
  addPart(world, { object, typeName, type, fact, source, pieceFact, partFact, values, graph }, piece);
}

const running = once(({ trees }: World): Map<WorldType, WorldPart[]> => {
  const index = new Map<WorldType, WorldPart[]>();
  for (const part of trees.partByPiece.values())
    for (const one of part.type ? [part.type, ...part.type.ancestors] : []) push(index, one, part);
  return index;
});

/** Parts that run a type or one that descends from it. To be asked once all parts are there. */
export function partsRunning(world: World, type: WorldType): WorldPart[] {
  return running(world).get(type) ?? [];
}
