import type { SeenInPlay } from '@glue-trace/core';

/** What play says of a finding, in words: `failed 14 times in 3 sessions`. */
export function saidOfPlay({ sessions, failed, came }: SeenInPlay): string {
  const where = sessions === 1 ? 'in one session' : `in ${sessions} sessions`;
  const times = (count: number): string => (count === 1 ? 'once' : `${count} times`);
  if (failed > 0) return `failed ${times(failed)} ${where}`;
  return came > 0
    ? `what it speaks of came up ${times(came)} ${where}, and the log tells of no failure`
    : `what it speaks of never came up ${where}`;
}
