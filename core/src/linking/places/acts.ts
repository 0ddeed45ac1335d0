/** What code does to the things that it looked up. */
import { itemAt } from '../../helpers/at.js';
import type { Side } from '../../model/link.js';
import type { Operation } from '../../reading/facts.js';
import type { MeaningOf } from '../../reading/plan/meanings.js';
import type { CallRule } from '../../reading/plan/plan.js';
import type { Outcome } from '../look-ups/outcome.js';
import type { Place } from '../look-ups/place.js';
import { typeName } from '../look-ups/texts.js';
import { sideOf } from '../scripts/operations.js';
import { isBarred } from '../slots.js';
import type { Work } from '../work.js';
import type { World, WorldType } from '../world/world.js';

/** What is done to the pieces that a look-up found; what it has lost is told by the look-up itself. */
export function linkAct(
  { world, linked }: Work,
  { part }: Place,
  outcome: Outcome,
  operation: Operation,
  rule: CallRule,
  { verb, label }: NonNullable<MeaningOf['act']>,
  file: string,
  type: WorldType,
): void {
  const { scope } = rule;
  const { moment, range } = operation;
  const side = sideOf(rule, operation);
  const wanted = typeActedOn(world, operation, type);
  if (wanted && outcome.state === 'found' && outcome.pieces.length > 1) {
    const place = { part: part.piece, foundIn: '', file, range };
    linked.faults.push({ is: 'wide', typeName: type.name, verb, wanted, matches: outcome.pieces, ...place });
  }
  for (const to of outcome.pieces) {
    const object = world.trees.partByPiece.get(to)?.object ?? to;
    const words = label ?? (object === part.object ? 'itself' : undefined);
    // A call for one thing made on all of a type is done to all.
    const whom = wanted ? 'all' : scope;
    const link = {
      from: part.piece,
      to,
      verb,
      grip: outcome.grip,
      scope: whom,
      moment,
      side,
      label: words,
      file,
      range,
    };
    world.builder.addLink(link);
    const how =
      scope === 'self' && object !== part.object
        ? 'self only'
        : isBarred(world, object)
          ? 'act'
          : isOtherSide(rule.side, operation.side)
            ? 'other side'
            : undefined;
    if (!how || outcome.state !== 'found') continue;
    const place = { part: part.piece, foundIn: '', file, range };
    linked.faults.push({ is: 'barred', from: part.piece, target: object, how, label: verb, ...place });
  }
}

/** Whether a call that works on one side alone is made by code that runs on the other. */
function isOtherSide(works: Side, runs: Side): boolean {
  return (works === 'server' && runs === 'client') || (works === 'client' && runs === 'server');
}

/** The type of which everything is acted on; none when it is acted on single things. */
function typeActedOn(
  world: World,
  { arguments: given, receiver }: Operation,
  { script }: WorldType,
): string | undefined {
  const on = given.object ?? receiver;
  const operation = on.is === 'operation' ? script.operations[on.operation] : undefined;
  if (!operation || itemAt(world.plan.calls, operation.rule).means !== 'find type') return undefined;
  return operation.arguments.type && typeName(operation.arguments.type);
}
