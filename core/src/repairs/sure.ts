/**
 * Which repairs are sure: they can be written without somebody looking. A name is a slip of the pen for another one
 * when they differ by one letter and nothing else comes near; numbers and single letters that tell things apart
 * (`wheel_2`, `door-l`) are no slips.
 */
import { distance, nearest, type Words } from '../helpers/nearest.js';

/** Shorter names are alike by chance. */
const LEAST_LETTERS = 4;

/**
 * Whether `wanted` is surely meant to be `meant`.
 * @param among all that could be meant
 */
export function isSlip(wanted: string, meant: string, among: Iterable<string> | Words): boolean {
  if (wanted.toLowerCase() === meant.toLowerCase()) return true;
  if (meant.length < LEAST_LETTERS || distance(wanted, meant, 1) > 1) return false;
  if (plain(wanted) === plain(meant)) return false;
  return nearest(wanted, among, MOST_NEAR).every((other) => other === meant || distance(wanted, other, 1) > 1);
}

/** Enough to see whether another name is as near. */
const MOST_NEAR = 4;

/** A name without what tells things of one kind apart: numbers, and single letters between marks. */
function plain(name: string): string {
  return name
    .replace(/\d+/g, '')
    .replace(/(?<![\p{L}])\p{L}(?![\p{L}])/gu, '')
    .replace(/(?<=\p{Ll})\p{Lu}(?!\p{L})/gu, '');
}
