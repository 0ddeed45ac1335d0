/** Chance that comes out the same for one seed. */
import { randomFrom } from '../planted.js';

export interface Chance {
  /** From 0 to 1, without 1. */
  next: () => number;
  /** A whole number from `least` to `most`. */
  whole: (least: number, most: number) => number;
  is: (share: number) => boolean;
  one: <T>(list: readonly T[]) => T;
  some: <T>(list: readonly T[], count: number) => T[];
}

export function chanceOf(seed: number): Chance {
  const next = randomFrom(Math.imul(seed, 0x9e3779b1));
  const whole = (least: number, most: number): number => least + Math.floor(next() * (most - least + 1));
  const one = <T>(list: readonly T[]): T => {
    const found = list[whole(0, list.length - 1)];
    if (found === undefined) throw new RangeError('nothing to choose from');
    return found;
  };
  return {
    next,
    whole,
    is: (share) => next() < share,
    one,
    some(list, count) {
      const left = [...list];
      const found = [];
      while (found.length < count && left.length > 0) found.push(...left.splice(whole(0, left.length - 1), 1));
      return found;
    },
  };
}
