/** Families: a parent type, a base prefab, or a record that others are like, with all that descends from it; what each has of its parent's, and what of its own. */
import type { Linked } from '../linking/linked.js';
import { kindOf } from '../model/graph.js';
import { type Family, type FamilyCell, type FamilySummary, MOST_COLUMNS, NONE, byName, inOrder } from './family.js';
import { prefabSummary, prefabGrid, likeOf } from './prefab-family.js';
import { recordSummary, recordGrid } from './record-family.js';
import { childrenOf, typeSummary, typeGrid } from './type-family.js';

/** All families, those with most replaced first. */
export function familiesOf(linked: Linked): FamilySummary[] {
  const { world } = linked;
  const types = [...childrenOf(world)].map(([parent, children]) => typeSummary(linked, parent, children));
  const like = likeOf(linked);
  const prefabs = [...world.prefabs.instanced].map((source) => {
    const summary = prefabSummary(linked, source);
    const children = like.get(summary.piece);
    return children ? together(summary, recordSummary(linked, summary.piece, children)) : summary;
  });
  const made = new Set(prefabs.map(({ piece }) => piece));
  const records = [...like]
    .filter(([parent]) => !made.has(parent))
    .map(([parent, children]) => recordSummary(linked, parent, children));
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
  const like = likeOf(linked).get(piece);
  if (!world.prefabs.instanced.has(source)) return like && recordGrid(linked, piece, like);
  const grid = prefabGrid(linked, source);
  return like ? besides(grid, recordGrid(linked, piece, like)) : grid;
}

/** A prefab that is a base of records as well is one family with both. */
function together(prefab: FamilySummary, record: FamilySummary): FamilySummary {
  return { ...prefab, members: prefab.members + record.members, replaced: prefab.replaced + record.replaced };
}

/** The rows of both below one parent, with the columns of both. */
function besides(prefab: Family, record: Family): Family {
  const [base, ...made] = prefab.rows;
  const [recordBase, ...derived] = record.rows;
  const none = (count: number): FamilyCell[] => Array.from({ length: count }, () => NONE);
  const [first, second] = [prefab.columns.length, record.columns.length];
  const rows = [
    ...(base ? [{ ...base, cells: [...base.cells, ...(recordBase?.cells ?? none(second))] }] : []),
    ...made.map((row) => ({ ...row, cells: [...row.cells, ...none(second)] })),
    ...derived.map((row) => ({ ...row, cells: [...none(first), ...row.cells] })),
  ].map((row) => ({ ...row, cells: row.cells.slice(0, MOST_COLUMNS) }));
  return {
    ...prefab,
    members: prefab.members + record.members,
    replaced: prefab.replaced + record.replaced,
    columns: [...prefab.columns, ...record.columns].slice(0, MOST_COLUMNS),
    rows: inOrder(rows),
  };
}
