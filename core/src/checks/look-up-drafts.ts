/** What the checks on look-ups share: one finding for each line and each object it runs from, copies counted once. */
import { itemAt } from '../helpers/at.js';
import { grouped } from '../helpers/grouped.js';
import type { Sentence } from '../model/finding.js';
import type { Loss } from '../model/link.js';
import { nameOf, titleOf } from '../model/graph.js';
import type { Linked, LookUp, LookUpPlace } from '../linking/linked.js';
import { placeOf, sameKey, type Draft } from './check.js';

/** A look-up that finds nothing, from one object or from all copies of one object. */
export interface LostLookUp {
  lookUp: LookUp;
  loss: Loss;
  places: LookUpPlace[];
}

/** Look-ups that are surely lost and that the code does not expect to be. */
export function lostLookUps({ lookUps }: Linked, wanted: (loss: Loss) => boolean): LostLookUp[] {
  return lookUps
    .filter((lookUp) => !lookUp.guarded && mayBeSaid(lookUp))
    .flatMap((lookUp) => {
      const lost = lookUp.lost.filter((place) => wanted(place.loss));
      return grouped(lost, (place) => `${place.origin}/${place.loss.wanted}`).map((places) => ({
        lookUp,
        loss: places[0].loss,
        places,
      }));
    });
}

/**
 * A function that nothing is known to call may be meant for just those objects on which it holds: then a loss on
 * the others is no fault. Lost from everywhere, it fails whenever it is called.
 */
function mayBeSaid({ isSureToRun, foundCount, unknownCount }: LookUp): boolean {
  return isSureToRun || foundCount + unknownCount === 0;
}

/** “TowRope on Upper Flight / Tender 2”, with the number of copies when there are several. */
export function subject({ graph }: Linked, { lookUp, places }: LostLookUp): Sentence {
  const first = itemAt(places, 0);
  const more = places.length > 1 ? ` and ${places.length - 1} more like it` : '';
  return [
    { name: lookUp.typeName, piece: first.part },
    ' on ',
    { name: titleOf(graph, first.object), piece: first.object },
    more,
  ].filter((run) => run !== '');
}

export function lookUpDraft(
  linked: Linked,
  lost: LostLookUp,
  rest: Pick<Draft, 'sentence' | 'sure' | 'repairs'>,
): Draft {
  const { graph } = linked;
  const { lookUp, places, loss } = lost;
  const first = itemAt(places, 0);
  const last = loss.lastObject >= 0 ? loss.lastObject : first.object;
  return {
    ...rest,
    pieces: [...new Set([first.part, first.object, last])],
    evidence: [
      { file: lookUp.file, range: lookUp.range, shows: 'the look-up' },
      ...placeOf(graph, last, `where it ends: ${nameOf(graph, last)}`),
    ],
    walk: first.walk,
    places: places.length,
    sameBy: [lookUp.file, lookUp.typeName, loss.wanted, sameKey(graph, first.origin)],
    cause: [lookUp.file, lookUp.typeName, loss.wanted],
  };
}
