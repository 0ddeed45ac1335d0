/** Runs of statements, by which functions that may be alike are found, and how rare each is. */
import { cellAt, itemAt, knownIn } from '../helpers/at.js';
import { once, oncePer } from '../helpers/once.js';
import type { BodyFact } from '../reading/facts.js';

/** Statements in one run, and in one that is looked at where those are common. */
export const RUN = 3;

export const LONG_RUN = 6;

/** So many functions may have a run before it counts for less. */
const USUAL = 6;

/** How much each statement of a row counts, by the rarity of the runs that it stands in. */
export type Rarity = (body: BodyFact) => Float32Array;

/** A statement counts in full while few functions have a run of its like, and less the more have. */
export function raritiesOf(counts: ReadonlyMap<number, number>): Rarity {
  const known = new Map<BodyFact, Float32Array>();
  return (body) => {
    let rarity = known.get(body);
    if (!rarity) {
      known.set(body, (rarity = new Float32Array(body.shapes.length)));
      const own = runsOf(body, RUN);
      for (let at = 0; at < own.length; at++) {
        const worth = Math.min(1, USUAL / knownIn(counts, itemAt(own, at)));
        for (let step = 0; step < RUN && at + step < rarity.length; step++)
          rarity[at + step] = Math.max(cellAt(rarity, at + step), worth);
      }
    }
    return rarity;
  };
}

/** The runs of a row, one for each statement that one begins at; a row shorter than a run is one run. */
const runsOf = oncePer(({ shapes }: BodyFact, length: number): number[] => {
  const most = Math.min(length, shapes.length);
  return Array.from({ length: shapes.length - most + 1 }, (_, at) => runAt(shapes, at, most));
});

/** The runs of a row, each once. */
export const distinctRuns = oncePer((body: BodyFact, length: number): number[] => [...new Set(runsOf(body, length))]);

/** The same text for two bodies of one shape. */
export const shapeOf = once(({ shapes }: BodyFact): string => `${runAt(shapes, 0, shapes.length)} ${shapes.length}`);

/** The same text for two bodies that are the same to the letter, and for no others. */
export const wholeOf = once(({ exacts }: BodyFact): string => {
  // 64 bits: two bodies that differ and have the same are not to be expected.
  const [one, other] = [runAt(exacts, 0, exacts.length), runAt([...exacts].reverse(), 0, exacts.length)];
  return `${one} ${other} ${exacts.length}`;
});

function runAt(shapes: readonly number[], at: number, length: number): number {
  let hash = length;
  for (let step = 0; step < length; step++)
    hash = Math.imul(hash ^ itemAt(shapes, at + step), 0x01000193) ^ (hash >>> 13);
  return hash | 0;
}
