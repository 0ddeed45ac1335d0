/**
 * Step 6: how sure a rule is. A logistic function of what tells right rules from wrong ones, fitted on the made-up dialects
 * (`npm run bench -- learn` shows how well it is calibrated).
 */
import type { Reading } from './references.js';

/** Weights of the fit. */
const WEIGHTS = { base: -0.8, score: 6, gain: 0.12 };
/** Evidence beyond this adds nothing. */
const MOST_GAIN = 40;

/** What is as likely to tell its own things apart is called like others by chance, unless all of it leads somewhere. */
const OWN_IDENTITY = 0.5;
/** What is as sure as can be stays just above what is left out of a plan. */
const BY_CHANCE = 0.53;

/**
 * How sure it is that a place names what a reading says, from 0 to 1.
 * @param identity how likely it is that the place tells its own things apart, from 0 to 1
 */
export function sureOf({ score, gain, uses, useHits }: Reading, identity: number): number {
  const weight = WEIGHTS.base + WEIGHTS.score * (score - 0.3) + WEIGHTS.gain * Math.min(gain, MOST_GAIN);
  const sure = Math.min(0.995, 1 / (1 + Math.exp(-weight)));
  return identity >= OWN_IDENTITY && useHits < uses ? sure * BY_CHANCE : sure;
}
