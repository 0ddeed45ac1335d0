/**
 * Step 6: how sure a rule is. A logistic function of what tells right rules from wrong ones, fitted on the made-up dialects
 * (`npm run bench -- learn` shows how well it is calibrated).
 */
import { itemAt } from '../helpers/at.js';
import { push } from '../helpers/push.js';
import type { Domain } from './domains.js';
import type { Reading } from './references.js';
import { affinity } from './words.js';

/** Weights of the fit. */
const WEIGHTS = { base: -0.8, score: 6, gain: 0.12 };
/** Evidence beyond this adds nothing. */
const MOST_GAIN = 40;

/** What is as likely to tell its own things apart is called like others by chance, unless all of it leads somewhere. */
const OWN_IDENTITY = 0.5;
/** One text alone, under a name of its own, may be called like anything. */
const ALONE = 0.45;
/** So much of a place must lead somewhere for a rule to be as good as sure. */
const MUCH = 0.85;
/** What is as sure as can be stays just above what is left out of a plan. */
const BY_CHANCE = 0.53;

/**
 * How sure it is that a place names what a reading says, from 0 to 1.
 * @param identity how likely it is that the place tells its own things apart, from 0 to 1
 */
export function sureOf({ score, gain, uses, useHits, texts, field, to }: Reading, identity: number): number {
  const weight = WEIGHTS.base + WEIGHTS.score * (score - 0.3) + WEIGHTS.gain * Math.min(gain, MOST_GAIN);
  const sure = Math.min(0.995, 1 / (1 + Math.exp(-weight)));
  // Where much of what stands there leads nowhere, it may well mean something else.
  const share = useHits / Math.max(1, uses);
  const isAlone =
    texts === 1 &&
    field.kind !== undefined &&
    'domains' in to &&
    affinity(field.words, itemAt(to.domains, 0).words) === 0;
  const most = isAlone ? ALONE : share < MUCH ? 0.5 + 0.5 * share : 1;
  return Math.min(most, identity >= OWN_IDENTITY && useHits < uses ? sure * BY_CHANCE : sure);
}

/** What others of its kind are sure of, a place of few texts is as sure of at least. */
const BY_OTHERS = 0.7;
const SURE = 0.9;

/**
 * Places of few texts go with those of like names that surely name the same: `second-rope` with `first-rope`, `drop_sack`
 * with `holds_sack`.
 */
export function agree(readings: readonly Reading[]): void {
  const sure = new Map<Domain, Reading[]>();
  for (const one of readings) if (one.sure >= SURE && 'domains' in one.to) push(sure, itemAt(one.to.domains, 0), one);
  for (const one of readings) {
    if (one.sure >= BY_OTHERS || one.useHits < one.uses || 'path' in one.to || one.cut.pattern !== undefined) continue;
    const others = sure.get(itemAt(one.to.domains, 0)) ?? [];
    if (others.some(({ field }) => field.kind === one.field.kind && affinity(field.own, one.field.own) > 0))
      one.sure = BY_OTHERS;
  }
}
