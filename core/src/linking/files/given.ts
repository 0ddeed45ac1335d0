/** Links that a glue facts file gives as they are. */
import { itemAt } from '../../helpers/at.js';
import { kindOf } from '../../model/graph.js';
import type { GivenLink } from '../../reading/facts.js';
import { emptyLoss } from '../losses.js';
import { inSight } from '../sight.js';
import { lose, type Work } from '../work.js';
import type { World } from '../world/world.js';

/** Links that glue facts give directly. */
export function linkGiven(work: Work, source: number): void {
  const { world } = work;
  const fact = itemAt(world.facts, source);
  if (fact.given.length === 0) return;
  const { graph } = world.builder;
  const own = new Map(fact.pieces.map((piece, at) => [piece.id, itemAt(world.trees.pieceOf, source)[at]]));
  const named = (id: string, is: GivenLink['fromIs']): number | undefined => {
    const isMeant = (piece: number): boolean =>
      (!is?.kind || kindOf(graph, piece) === is.kind) && (!is?.space || world.names.spaceOf.get(piece) === is.space);
    const inOwn = own.get(id);
    if (inOwn !== undefined && isMeant(inOwn)) return inOwn;
    for (const pieces of inSight(world, source, 'project', world.names.byId.get(id) ?? [])) {
      const found = pieces.find(isMeant);
      if (found !== undefined) return found;
    }
    const file = fileNamed(world, id);
    return file !== undefined && isMeant(file) ? file : undefined;
  };
  for (const { from, to, fromIs, toIs, verb, grip, scope, moment, side, label, file, range } of fact.given) {
    const start = named(from, fromIs) ?? itemAt(world.files.piece, source);
    const end = to ? named(to, toIs) : undefined;
    const place = { from: start, verb, file: file || fact.file, range };
    if (end === undefined) lose(work, { ...place, field: label }, emptyLoss('object', to || label));
    else world.builder.addLink({ ...place, to: end, grip, scope, moment, side, label });
  }
}

function fileNamed(world: World, path: string): number | undefined {
  const source = world.files.sourceOf.get(path);
  return source === undefined ? undefined : itemAt(world.files.piece, source);
}
