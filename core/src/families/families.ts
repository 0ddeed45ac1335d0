/** Families: a parent type, a base prefab, or a record that others are like, with all that descends from it; what each has of its parent's, and what of its own. */
import type { Linked } from '../linking/linked.js';
import { kindOf } from '../model/graph.js';
import { type FamilySummary, type Family, byName } from './family.js';
import { prefabSummary, prefabGrid, likeOf } from './prefab-family.js';
import { recordSummary, recordGrid } from './record-family.js';
import { childrenOf, typeSummary, typeGrid } from './type-family.js';

/** All families, those with most replaced first. */
export function familiesOf(linked: Linked): FamilySummary[] {
  const { world } = linked;
  const types = [...childrenOf(world)].map(([parent, children]) => typeSummary(linked, parent, children));
  const prefabs = [...world.prefabs.instanced].map((source) => prefabSummary(linked, source));
  const records = [...likeOf(linked)].map(([parent, children]) => recordSummary(linked, parent, children));
  return [...types, ...prefabs, ...records].sort(
    (a, b) => b.replaced - a.replaced || b.members - a.members || byName.compare(a.name, b.name),
  );
}

/** One family as a grid; undefined when the piece is no parent. */
export function familyOf(linked: Linked, piece: number): Family | undefined {
  const { world, graph } = linked;
  const type = world.types.all.find((one) => one.piece === piece);
  const children = type && childrenOf(world).get(type);
  if (type && children) return typeGrid(linked, type, children);
  const source = kindOf(graph, piece) === 'prefab' ? world.files.piece.indexOf(piece) : -1;
  if (world.prefabs.instanced.has(source)) return prefabGrid(linked, source);
  const like = likeOf(linked).get(piece);
  return like && recordGrid(linked, piece, like);
}
