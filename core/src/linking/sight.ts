/**
 * Which of several things of one name a file means: the nearest in sight – its own file, what is loaded together with
 * it, its own package, the packages around that and those that it needs, and the project.
 */
import { cellAt, itemAt } from '../helpers/at.js';
import { keeper, once, oncePer } from '../helpers/once.js';
import { push } from '../helpers/push.js';
import { WITHIN, type ContentRules, type Plan, type TargetForm, type Within } from '../reading/plan/plan.js';
import { packageOf } from './packages.js';
import type { World } from './world/world.js';

/**
 * How far the identities of a space count: as far as the widest of the references that name it. What nobody refers to
 * counts in the whole project.
 */
export function outermost(plan: Plan, space: string): Within {
  const found = reachOfSpaces(plan).get(space);
  return found === undefined ? 'project' : itemAt(WITHIN, found);
}

const reachOfSpaces = once((plan: Plan): Map<string, number> => {
  const reach = new Map<string, number>();
  const note = ({ by, space, within }: Pick<TargetForm, 'by' | 'space' | 'within'>): void => {
    if (by === 'id' || by === 'name')
      for (const one of space) reach.set(one, Math.max(reach.get(one) ?? 0, WITHIN.indexOf(within)));
  };
  const noteContent = ({ references, pieces }: Pick<ContentRules, 'references' | 'pieces'>): void => {
    for (const reference of Object.values(references)) note(reference);
    for (const piece of Object.values(pieces)) if (piece.extends) note(piece.extends);
  };
  for (const rule of Object.values(plan.files)) {
    noteContent(rule);
    if (rule.extends) note(rule.extends);
  }
  for (const rule of Object.values(plan.scripts)) for (const table of Object.values(rule.tables)) noteContent(table);
  for (const call of plan.calls) note(call.target);
  for (const literal of Object.values(plan.literals)) note(literal);
  return reach;
});

/** Whether two packages are ever loaded for one: one needs the other, or a third needs both. */
export function areTogether(world: World, one: string, other: string): boolean {
  const { packages } = world.files;
  return packages.some((pack, home) => {
    const sees = new Set([pack.id, ...seenFrom(world, home).map((at) => itemAt(packages, at).id)]);
    return sees.has(one) && sees.has(other);
  });
}

/** Stands for files that belong to no package. */
const NO_PACKAGE = -1;

/**
 * Groups of those pieces that a file sees, nearest first, as far as `within` goes.
 * @param source position of the file that looks
 */
export function* inSight(
  world: World,
  source: number,
  within: Within,
  pieces: readonly number[],
): Generator<readonly number[]> {
  const { file } = itemAt(world.facts, source);
  yield inFile(world, pieces, file);
  if (within === 'file') return;
  for (const other of loadedWith(world, source)) yield inFile(world, pieces, other);
  if (within === 'together') return;
  if (world.files.packages.length > 0) {
    const home = packageOfFile(world, file);
    yield inPackage(world, pieces, home);
    if (within === 'package') return;
    for (const one of seenFrom(world, home)) yield inPackage(world, pieces, one);
    if (within === 'needed') return;
  }
  yield pieces;
}

/** The nearest of several things that stand in files; the first of those that are as near. */
export function nearestInSight<Thing>(
  world: World,
  source: number,
  things: readonly Thing[],
  sourceOf: (thing: Thing) => number,
): Thing | undefined {
  if (things.length <= 1 || source < 0 || world.files.packages.length === 0) return things[0];
  const homeOf = (at: number): number => packageOfFile(world, itemAt(world.facts, at).file);
  const home = homeOf(source);
  const order = [home, ...seenFrom(world, home)];
  const rank = (thing: Thing): number => {
    const at = order.indexOf(homeOf(sourceOf(thing)));
    return at < 0 ? order.length : at;
  };
  return things.reduce((best, one) => (rank(one) < rank(best) ? one : best));
}

/** Files of the scenes that are loaded together with that of a file. */
function loadedWith(world: World, source: number): string[] {
  const { loadedWith: together } = world.trees;
  if (together.size === 0) return [];
  const { graph } = world.builder;
  const own = world.files.piece[source];
  const others = own === undefined ? undefined : together.get(own);
  return (others ?? [])
    .filter((scene) => scene !== own)
    .map((scene) => itemAt(graph.texts, cellAt(graph.pieces.file, scene)));
}

/** Position of the package that a file belongs to, in load order; {@link NO_PACKAGE} where it belongs to none. */
const packageOfFile = oncePer(({ files: { packages } }: World, file: string): number => {
  const home = packageOf(packages, file);
  return home ? packages.indexOf(home) : NO_PACKAGE;
});

/** The packages that one sees besides itself: those whose folder is around its own, then those it needs, last loaded first. */
const seenFrom = oncePer(({ files: { packages } }: World, home: number): number[] => {
  const own = packages[home];
  if (!own) return [];
  const around = packages
    .map((one, at) => ({ at, folder: one.folder }))
    .filter(({ at, folder }) => at !== home && (folder === '' || own.folder.startsWith(`${folder}/`)))
    .sort((a, b) => b.folder.length - a.folder.length)
    .map(({ at }) => at);
  const needed = new Set<number>();
  const open = [home, ...around];
  for (let at = open.pop(); at !== undefined; at = open.pop()) {
    for (const id of itemAt(packages, at).needs) {
      const found = packages.findIndex((one) => one.id === id);
      if (found < 0 || found === home || needed.has(found)) continue;
      needed.add(found);
      open.push(found);
    }
  }
  return [...new Set([...around, ...[...needed].sort((a, b) => b - a)])];
});

/** Fewer are looked through sooner than put in order. */
const FEW = 20;

/** Those of some pieces that stand in a file. */
function inFile(world: World, pieces: readonly number[], file: string): readonly number[] {
  if (pieces.length <= FEW) return pieces.filter((piece) => fileOf(world, piece) === file);
  return byFile(pieces, [pieces.length], () => grouped(pieces, (piece) => fileOf(world, piece))).get(file) ?? [];
}

/** Those of some pieces that stand in files of a package. */
function inPackage(world: World, pieces: readonly number[], home: number): readonly number[] {
  const homeOf = (piece: number): number => packageOfFile(world, fileOf(world, piece));
  if (pieces.length <= FEW) return pieces.filter((piece) => homeOf(piece) === home);
  return byPackage(pieces, [pieces.length], () => grouped(pieces, homeOf)).get(home) ?? [];
}

function fileOf({ builder: { graph } }: World, piece: number): string {
  return itemAt(graph.texts, cellAt(graph.pieces.file, piece));
}

function grouped<Key>(pieces: readonly number[], keyOf: (piece: number) => Key): Map<Key, number[]> {
  const found = new Map<Key, number[]>();
  for (const piece of pieces) push(found, keyOf(piece), piece);
  return found;
}

/** Pieces of one name by where they stand; their list grows while the map is made. */
const byFile = keeper<readonly number[], Map<string, number[]>>();
const byPackage = keeper<readonly number[], Map<number, number[]>>();

/** Whether a piece lives in one of these spaces of the plan's; none stands for any. */
export function isInSpace({ names }: World, piece: number, spaces: readonly string[]): boolean {
  if (spaces.length === 0) return true;
  const own = names.spaceOf.get(piece);
  return own !== undefined && spaces.includes(own);
}

/** Those of some pieces that live in one of these spaces. */
export function inSpaces(world: World, pieces: readonly number[], spaces: readonly string[]): readonly number[] {
  if (spaces.length === 0) return pieces;
  if (pieces.length <= FEW) return pieces.filter((piece) => isInSpace(world, piece, spaces));
  const found = bySpace(pieces, [pieces.length], () => grouped(pieces, (piece) => world.names.spaceOf.get(piece)));
  return spaces.flatMap((space) => found.get(space) ?? []);
}
const bySpace = keeper<readonly number[], Map<string | undefined, number[]>>();

/** The package that a file stands in, as a number: files of one see the same. */
export function homeOf(world: World, source: number): number {
  return packageOfFile(world, itemAt(world.facts, source).file);
}

/** Whether what stands in one package is seen from another: it is the same, around it, or needed. */
export function seesHome(world: World, home: number, other: number): boolean {
  return home === other || seenFrom(world, home).includes(other);
}
