/** Links that a glue facts file gives as they are. */
import { itemAt } from '../../helpers/at.js';
import { emptyLoss } from '../losses.js';
import { lose, type Work } from '../work.js';
import type { World } from '../world/world.js';

/** Links that glue facts give directly. */
export function linkGiven(work: Work, source: number): void {
  const { world } = work;
  const fact = itemAt(world.facts, source);
  if (fact.given.length === 0) return;
  const own = new Map(fact.pieces.map((piece, at) => [piece.id, itemAt(world.trees.pieceOf, source)[at]]));
  const named = (id: string): number | undefined =>
    own.get(id) ?? world.names.byId.get(id)?.[0] ?? fileNamed(world, id);
  for (const { from, to, verb, grip, scope, moment, side, label, file, range } of fact.given) {
    const start = named(from) ?? itemAt(world.files.piece, source);
    const end = to ? named(to) : undefined;
    const place = { from: start, verb, file: file || fact.file, range };
    if (end === undefined) lose(work, { ...place, field: label }, emptyLoss('object', to || label));
    else world.builder.addLink({ ...place, to: end, grip, scope, moment, side, label });
  }
}

function fileNamed(world: World, path: string): number | undefined {
  const source = world.files.sourceOf.get(path);
  return source === undefined ? undefined : itemAt(world.files.piece, source);
}
