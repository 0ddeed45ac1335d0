/** Instances of prefabs, unfolded into objects of their own. */
import { cellAt, itemAt } from '../../helpers/at.js';
import { push } from '../../helpers/push.js';
import { nameOf, rangeOf } from '../../model/graph.js';
import { applyOverrides, removedBy } from './overrides.js';
import { copyPart } from './parts.js';
import type { PrefabFinder } from './world.js';
import { rootsOf, topOf, type World } from './world.js';
import { isRead } from './unread.js';

/** Pieces beyond which no more instances are unfolded, and prefabs within prefabs. */
const MOST_PIECES = 3_000_000;
const DEEPEST = 100;

/** Unfolds every instance: a prefab is unfolded itself before it is copied; a circle is left as it is. */
export function unfoldAll(world: World, findPrefab: PrefabFinder): void {
  const state = new Map<number, 'open' | 'done'>();
  const unfold = (source: number, depth: number): void => {
    if (state.has(source)) return;
    state.set(source, 'open');
    itemAt(world.facts, source).pieces.forEach((piece, at) => {
      if (!piece.madeFrom) return;
      const object = itemAt(itemAt(world.trees.pieceOf, source), at);
      const path = findPrefab(world, source, piece);
      const prefab = path === undefined ? undefined : world.files.sourceOf.get(path);
      if (prefab === undefined) return void world.trees.incomplete.add(object);
      if (depth >= DEEPEST || world.builder.graph.pieceCount > MOST_PIECES) return leaveFolded(world, object, prefab);
      unfold(prefab, depth + 1);
      push(world.prefabs.madeFrom, source, { object, prefab, pieceFact: at });
      world.prefabs.instanced.add(prefab);
      if (state.get(prefab) === 'open') return void world.trees.incomplete.add(object);
      copyPrefab(world, prefab, object, removedBy(world, source, at, prefab));
      applyOverrides(world, source, at);
    });
    state.set(source, 'done');
  };
  world.facts.forEach((_fact, source) => unfold(source, 0));
}

/** An instance that is not unfolded: what stands below it is not known. */
function leaveFolded(world: World, object: number, prefab: number): void {
  world.trees.incomplete.add(object);
  const { graph } = world.builder;
  const top = topOf(world, object);
  const file = itemAt(graph.texts, cellAt(graph.pieces.file, top));
  const words = `instances in ${file} are not unfolded, such as one of ${itemAt(world.facts, prefab).file}: prefabs hold prefabs more than ${DEEPEST} deep, or more than ${MOST_PIECES} times over`;
  world.leftOut.set(`unfolded ${file}`, { words, piece: object, file, range: rangeOf(graph.pieces, object) });
}

/** Gives `object` what the prefab holds: an only root becomes the object itself, several become its children. */
function copyPrefab(world: World, prefab: number, object: number, removed: ReadonlySet<number>): void {
  const roots = rootsOf(world, prefab);
  if (!isRead(world, prefab)) world.trees.incomplete.add(object);
  if (roots.length !== 1) {
    for (const root of roots) copyObject(world, root, object, removed);
    return;
  }
  const root = itemAt(roots, 0);
  if (world.trees.incomplete.has(root)) world.trees.incomplete.add(object);
  const own = world.trees.partsOf.get(object) ?? [];
  for (const part of world.trees.partsOf.get(root) ?? []) {
    if (removed.has(part.piece)) continue;
    const mine = own.find((candidate) => candidate.typeName === part.typeName && candidate.type === part.type);
    if (mine) mine.values = [...part.values, ...mine.values];
    else copyPart(world, part, object);
  }
  const { pieces } = world.builder.graph;
  if (pieces.name[object] === 0) pieces.name[object] = cellAt(pieces.name, root);
  pieces.flags[object] = cellAt(pieces.flags, object) | cellAt(pieces.flags, root);
  const labels = world.labels.of.get(root);
  if (labels) world.labels.of.set(object, [...new Set([...(world.labels.of.get(object) ?? []), ...labels])]);
  for (const child of [...(world.trees.children.get(root) ?? [])]) copyObject(world, child, object, removed);
}

function copyObject(world: World, from: number, parent: number, removed: ReadonlySet<number>): void {
  if (removed.has(from)) return;
  const { graph } = world.builder;
  if (graph.pieceCount > MOST_PIECES) return void world.trees.incomplete.add(parent);
  const copy = world.builder.addPiece({
    kind: 'object',
    name: nameOf(graph, from),
    parent,
    file: graph.texts[cellAt(graph.pieces.file, from)],
    range: {
      line: cellAt(graph.pieces.line, from),
      column: cellAt(graph.pieces.column, from),
      endLine: cellAt(graph.pieces.endLine, from),
      endColumn: cellAt(graph.pieces.endColumn, from),
    },
    origin: from,
    flags: graph.pieces.flags[from],
  });
  push(world.trees.children, parent, copy);
  const labels = world.labels.of.get(from);
  if (labels) world.labels.of.set(copy, labels);
  if (world.trees.incomplete.has(from)) world.trees.incomplete.add(copy);
  for (const part of world.trees.partsOf.get(from) ?? []) if (!removed.has(part.piece)) copyPart(world, part, copy);
  for (const child of [...(world.trees.children.get(from) ?? [])]) copyObject(world, child, copy, removed);
}
