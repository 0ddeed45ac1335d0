/** Functions that are named by a text: where they are looked for, and which are there. */
import { cellAt, itemAt } from '../helpers/at.js';
import { once, oncePer } from '../helpers/once.js';
import { push } from '../helpers/push.js';
import { nearest } from '../helpers/nearest.js';
import { kindOf } from '../model/graph.js';
import type { FunctionPlace, TargetForm } from '../reading/plan/plan.js';
import { takenIn } from './link-imports.js';
import { emptyLoss, isEngines } from './losses.js';
import { findMember, isWhole, memberNames } from './members.js';
import type { Pointer, Target } from './targets.js';
import { hasUnknownParts } from './world/parts.js';
import { typeNamed } from './world/types.js';
import { isRead, mayBeUnread, scripting } from './world/unread.js';
import type { World, WorldType } from './world/world.js';

/** Where a function may be: on types with their parents, in files, by position. */
interface Ground {
  types: readonly WorldType[];
  files: readonly number[];
  /** All that can be there is known: what is not there is missing. */
  isKnown: boolean;
}

const NOWHERE: Ground = { types: [], files: [], isKnown: false };
/** Functions that a loss tells, nearest first. */
const MOST_AMONG = 4;

/** What a field that names a script or type comes to; given by the caller, since targets are decided in one place. */
export type FindHolder = (text: string) => Target;

/** Finds the function that a text names, in each of the places of `form` in turn; it is reached at its type or script. */
export function findFunction(
  world: World,
  form: TargetForm,
  pointer: Pointer,
  source: number,
  findHolder: FindHolder,
): Target {
  // `Gate.open` and `Gate:open` say themselves whose function it is.
  const [, owner = '', own = ''] = /^(.+)[.:]([^.:]+)$/.exec(pointer.text) ?? [];
  const named = owner ? typeNamed(world, owner, source) : undefined;
  const grounds = named
    ? [onTypes(world, [named])]
    : form.in.map((place) => PLACES[place](world, pointer, source, findHolder));
  const name = named ? own : pointer.text;
  for (const ground of grounds) {
    const pieces = functionsOn(world, ground, name);
    if (pieces.length > 0) return { state: 'found', pieces, grip: 'name' };
  }
  const { engine } = world.plan;
  const isUnsure =
    !grounds.every(({ isKnown }) => isKnown) ||
    isEngines([...engine.functions, ...engine.members], name) ||
    world.code.setElsewhere.has(name) ||
    mayBeUnread(world, name, scripting);
  if (isUnsure) return { state: 'unknown' };
  const names = new Set(grounds.flatMap((ground) => namesOn(world, ground)));
  return { state: 'lost', loss: { ...emptyLoss('function', pointer.text), among: nearest(name, names, MOST_AMONG) } };
}

const PLACES: Record<
  FunctionPlace,
  (world: World, pointer: Pointer, source: number, findHolder: FindHolder) => Ground
> = {
  type(world, { type, piece, text }, source) {
    if (type) return onTypes(world, [type]);
    if (!itemAt(world.facts, source).script) return onObject(world, piece, source);
    // Code outside of types may be loaded together with what has the function.
    const ground = inFiles(world, [source]);
    return { ...ground, isKnown: ground.isKnown && !world.code.functionNames.has(text) };
  },
  object: (world, { piece }, source) => onObject(world, piece, source),
  file: (world, _pointer, source) => inFiles(world, [source]),
  imports: (world, _pointer, source) => withTakenIn(world, source),
  receiver: (world, { receiver }) => (receiver ? onTypes(world, receiver) : NOWHERE),
  holder(world, { holder }, _source, findHolder) {
    const target = holder === undefined ? undefined : findHolder(holder);
    return target?.state === 'found' ? ofHolders(world, target.pieces) : NOWHERE;
  },
  project: (world) => ({ types: world.types.all, files: scriptsOf(world), isKnown: true }),
};

function onTypes(world: World, types: readonly WorldType[]): Ground {
  return {
    types: types.flatMap((type) => [type, ...type.ancestors]),
    files: [],
    isKnown: types.length > 0 && types.every((type) => isWhole(world, type)),
  };
}

function inFiles(world: World, files: readonly number[]): Ground {
  return {
    types: files.flatMap((source) => world.types.inFile.get(source) ?? []),
    files,
    isKnown: files.every((source) => isRead(world, source)),
  };
}

/** The scripts on the object that a piece of a file is, or stands in. */
function onObject(world: World, fact: number, source: number): Ground {
  const { graph } = world.builder;
  let piece = fact >= 0 ? itemAt(itemAt(world.trees.pieceOf, source), fact) : -1;
  while (piece >= 0 && kindOf(graph, piece) !== 'object') piece = cellAt(graph.pieces.parent, piece);
  if (piece < 0) return NOWHERE;
  const types = (world.trees.partsOf.get(piece) ?? []).flatMap((part) => part.type ?? []);
  const ground = onTypes(world, types);
  return { ...ground, isKnown: ground.isKnown && !hasUnknownParts(world, piece) };
}

/** A script and all that it takes in, and they in turn. Known when none of it comes from outside of the project. */
const withTakenIn = oncePer((world: World, source: number): Ground => {
  const files = new Set([source]);
  let areInside = true;
  for (const at of files) {
    const taken = takenIn(world, at);
    areInside &&= taken.isInside;
    for (const file of taken.files) files.add(file);
  }
  const ground = inFiles(world, [...files]);
  return { ...ground, isKnown: ground.isKnown && areInside };
});

/** Types themselves, and scripts with all that stands in them. */
function ofHolders(world: World, pieces: readonly number[]): Ground {
  const { graph } = world.builder;
  const grounds = pieces.map((piece): Ground => {
    const type = typeByPiece(world).get(piece);
    if (type) return onTypes(world, [type]);
    const source = world.files.sourceOf.get(itemAt(graph.texts, cellAt(graph.pieces.file, piece)));
    if (source === undefined || !itemAt(world.facts, source).script) return NOWHERE;
    const inFile = inFiles(world, [source]);
    // A type of the script may have the function from a parent.
    const types = inFile.types.flatMap((one) => [one, ...one.ancestors]);
    return { ...inFile, types, isKnown: inFile.isKnown && inFile.types.every((one) => isWhole(world, one)) };
  });
  return {
    types: grounds.flatMap(({ types }) => types),
    files: grounds.flatMap(({ files }) => files),
    isKnown: grounds.length > 0 && grounds.every(({ isKnown }) => isKnown),
  };
}

const typeByPiece = once(({ types }: World) => new Map(types.all.map((type) => [type.piece, type])));

const scriptsOf = once(({ facts }: World) => facts.flatMap(({ script }, source) => (script ? [source] : [])));

/** Functions of a script that belong to no type, by name. */
const looseIn = oncePer(({ facts }: World, source: number): Set<string> => {
  const { functions = [] } = itemAt(facts, source).script ?? {};
  return new Set(functions.flatMap(({ name, type }) => (type < 0 && name ? [name] : [])));
});

/** Types and scripts of the whole project by the functions they have. */
const everywhere = once((world: World): Map<string, number[]> => {
  const pieces = new Map<string, number[]>();
  for (const source of scriptsOf(world))
    for (const name of looseIn(world, source)) push(pieces, name, itemAt(world.files.piece, source));
  for (const type of world.types.all)
    for (const { name, type: of } of type.script.functions) if (of === type.local) push(pieces, name, type.piece);
  return pieces;
});

function functionsOn(world: World, { types, files }: Ground, name: string): number[] {
  if (types === world.types.all) return [...new Set(everywhere(world).get(name) ?? [])];
  const onType = types.map((type) => findMember(type, name)?.declaring.piece).find((piece) => piece !== undefined);
  if (onType !== undefined) return [onType];
  return files
    .filter((source) => looseIn(world, source).has(name))
    .map((source) => itemAt(world.files.piece, source))
    .slice(0, 1);
}

function namesOn(world: World, { types, files }: Ground): string[] {
  if (types === world.types.all) return [...everywhere(world).keys()];
  return [...types.flatMap(memberNames), ...files.flatMap((source) => [...looseIn(world, source)])];
}
