/** Runs of statements, by which functions that may be alike are found, and how rare each is. */
import { cellAt, itemAt, knownIn } from '../helpers/at.js';
import { once, oncePer } from '../helpers/once.js';
import { BETWEEN, type BodyFact } from '../reading/facts.js';

/** Statements in one run, and in one that is looked at where those are common. */
export const RUN = 3;

export const LONG_RUN = 6;

/** So many functions may have a run before it counts for less. */
const USUAL = 6;

/** So many statements may be alike but for their values before one counts for less. */
const USUAL_STATEMENTS = 20;

/** How much each statement of a row counts: by the rarity of the runs that it stands in, and by its own, values left out. */
export interface Rare {
  runs: Float32Array;
  own: Float32Array;
  /** To the letter. */
  exact: Float32Array;
}

export type Rarity = (body: BodyFact) => Rare;

/** How many rows have a run, and how many statements are alike but for their values. */
export interface Counts {
  runs: Map<number, number>;
  statements: Map<number, number>;
  exacts: Map<number, number>;
}

/** A statement counts in full while few functions have a run of its like, and less the more have. */
export function raritiesOf(counts: Counts): Rarity {
  const known = new Map<BodyFact, Rare>();
  return (body) => {
    let rare = known.get(body);
    if (!rare) {
      const runs = new Float32Array(body.shapes.length);
      const all = runsOf(body, RUN);
      for (let at = 0; at < all.length; at++) {
        const worth = Math.min(1, USUAL / knownIn(counts.runs, itemAt(all, at)));
        for (let step = 0; step < RUN && at + step < runs.length; step++)
          runs[at + step] = Math.max(cellAt(runs, at + step), worth);
      }
      const among = (map: ReadonlyMap<number, number>, usual: number, all: ArrayLike<number>): Float32Array =>
        Float32Array.from(all, (one) => Math.min(1, usual / knownIn(map, one)));
      const own = among(counts.statements, USUAL_STATEMENTS, statementsOf(body));
      known.set(body, (rare = { runs, own, exact: among(counts.exacts, USUAL, body.exacts) }));
    }
    return rare;
  };
}

/** Each statement with its names, without its values: how a thing is called, whatever is given to it. */
export const statementsOf = once(({ shapes, words }: BodyFact): Int32Array =>
  Int32Array.from(shapes, (shape, at) => withNames(itemAt(words, at), shape)),
);

/** A hash carried on over the names among words; these are many, so no word is cut out. */
function withNames(words: string, from: number): number {
  let hash = from;
  let isStart = true;
  let isSkipped = false;
  for (let at = 0; at < words.length; at++) {
    const code = words.charCodeAt(at);
    if (code === BETWEEN_CODE) {
      isStart = true;
      continue;
    }
    if (isStart) isSkipped = beginsValue(code);
    isStart = false;
    if (!isSkipped) hash = Math.imul(hash ^ code, 0x01000193);
  }
  return hash | 0;
}

const BETWEEN_CODE = BETWEEN.charCodeAt(0);

/** Quotes and digits. */
function beginsValue(code: number): boolean {
  return code === 0x22 || code === 0x27 || code === 0x60 || (code >= 0x30 && code <= 0x39);
}

/** Texts and numbers are values, everything else is a name. */
export function isValue(word: string): boolean {
  return beginsValue(word.charCodeAt(0));
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
