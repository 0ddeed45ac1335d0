/** What look-ups came to from all places together, and taking it back for some. */
import { cellAt, knownIn, must } from '../../helpers/at.js';
import type { LookUp } from '../linked.js';
import type { LookUpPlan, Work } from '../work.js';
import { partsRunning } from '../world/parts.js';
import type { WorldPart } from '../world/world.js';

export const STATES = ['unknown', 'found', 'lost'] as const;

/** Takes back what linking places noted of some parts, links left alone. Plans must still be as they were then. */
export function forgetPlaces(work: Work, parts: ReadonlySet<WorldPart>): void {
  const pieces = new Set([...parts].map((part) => part.piece));
  const touched = new Set<LookUp>();
  for (const part of parts) {
    const outcomes = work.outcomes.get(part.piece);
    if (!outcomes || !part.type) continue;
    knownIn(work.lookUpPlans, part.type).forEach(({ type, operation }, at) => {
      const lookUp = work.lookUps.get(type.source)?.[operation];
      if (!lookUp) return;
      if (lookUp.firstFound?.part === part.piece) work.unsureFirsts.set(lookUp, { type, operation });
      touched.add(lookUp);
      if (STATES[cellAt(outcomes, at)] === 'found') lookUp.foundCount--;
      else if (STATES[cellAt(outcomes, at)] === 'unknown') lookUp.unknownCount--;
    });
    work.outcomes.delete(part.piece);
  }
  for (const lookUp of touched) {
    lookUp.lost = lookUp.lost.filter((place) => !pieces.has(place.part));
  }
  work.linked.emptySlots = work.linked.emptySlots.filter((slot) => !pieces.has(slot.part));
  work.linked.faults = work.linked.faults.filter((fault) => !pieces.has(fault.part));
}

/** All look-ups, and an example of where each holds. */
export function gatherLookUps(work: Work): LookUp[] {
  for (const [lookUp, plan] of work.unsureFirsts) lookUp.firstFound = firstFound(work, plan);
  work.unsureFirsts.clear();
  return [...work.lookUps.values()]
    .flatMap((found) => found.filter(Boolean))
    .filter((lookUp) => lookUp.foundCount + lookUp.unknownCount + lookUp.lost.length > 0);
}

/** The first part from which a look-up holds. */
function firstFound({ world, lookUpPlans, outcomes }: Work, plan: LookUpPlan): LookUp['firstFound'] {
  const found = STATES.indexOf('found');
  for (const part of partsRunning(world, plan.type)) {
    const at = lookUpPlans
      .get(must(part.type))
      ?.findIndex(({ type, operation }) => type === plan.type && operation === plan.operation);
    if (at !== undefined && at >= 0 && outcomes.get(part.piece)?.[at] === found)
      return { part: part.piece, object: part.object };
  }
  return undefined;
}
