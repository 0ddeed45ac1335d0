/** The way that a look-up takes through the tree, worked out again when somebody asks for it. */
import { entryOf, itemAt, must } from '../helpers/at.js';
import { kindOf } from '../model/graph.js';
import type { WalkStep } from '../model/link.js';
import type { Range } from '../model/piece.js';
import { evaluateAt } from './look-ups/evaluate.js';
import { referenceOutcome } from './look-ups/reference.js';
import { walkOf } from './look-ups/outcome.js';
import type { Work } from './work.js';
import { contentAt, topOf } from './world/world.js';

/** @returns no steps for links that are no look-ups in the tree */
export function walkAt(work: Work, from: number, file: string, place: Range): WalkStep[] {
  const { world } = work;
  // Steps of one chain begin at the same place and end at different ones.
  const isHere = ({ line, column, endLine, endColumn }: Range): boolean =>
    line === place.line && column === place.column && endLine === place.endLine && endColumn === place.endColumn;
  const part = world.trees.partByPiece.get(from);
  const object = part?.object ?? from;
  const isLoose = kindOf(world.builder.graph, topOf(world, object)) !== 'scene';
  for (const type of part?.type ? [part.type, ...part.type.ancestors] : []) {
    if (itemAt(world.facts, type.source).file !== file) continue;
    const at = type.script.operations.findIndex((one) => one.type === type.local && isHere(one.range));
    if (at >= 0)
      return walkOf(
        world,
        evaluateAt(world, { part: must(part), isLoose }, work.slots, work.madeAtRun).operation(type, at),
      );
  }
  const source = world.files.sourceOf.get(file);
  const reference =
    source === undefined ? undefined : itemAt(world.facts, source).references.find((one) => isHere(one.range));
  if (source === undefined || !reference) return [];
  const { by } = entryOf(contentAt(world, source).references, reference.rule);
  return by === 'object path' ? walkOf(world, referenceOutcome(world, reference, source, object, isLoose)) : [];
}
