/**
 * Fields that name items of a list by their positions in it, as some documents do. A number within the bounds of a list
 * says little: it counts where the field is called as the list, where the numbers of every file go exactly as far as its
 * list does, or where a list of such numbers in the list's own items holds each at most once, as a tree does.
 */
import type { Kind } from './kinds.js';
import { nameOf } from './domains.js';
import { calledBy, isInList, isItem, isWithin, shapesIn, type Shape } from './shapes.js';
import { affinity, wordsOf } from './words.js';

/** A field whose numbers are positions in a list of the same file. */
export interface Position {
  kind: Kind;
  field: Shape;
  /** The list, whose items are named. */
  list: Shape;
  sure: number;
  why: string;
}

const FEWEST = 3;
/** Of the files so many must have a number for the last item. */
const TO_THE_END = 0.6;
const FEWEST_FILES = 3;

export function positionsOf(kinds: readonly Kind[]): Position[] {
  return kinds.flatMap((kind) => {
    if (kind.table || kind.lines || kind.format === 'xml') return [];
    const all = [...shapesIn(kind.shape)];
    const lists = all.filter((one) => one.item && one.item.objects > 0 && one.lists > 0 && !one.keys && !isInList(one));
    if (lists.length === 0) return [];
    return all.flatMap((field): Position[] => {
      if (field.values === 0 || field.objects > 0 || field.lists > 0 || field.perFile.size === 0) return [];
      const rated = lists
        .flatMap((list) => rate(kind, field, list) ?? [])
        .sort((a, b) => b.sure - a.sure || length(a.list) - length(b.list));
      return rated.slice(0, 1);
    });
  });
}

const length = ({ perFile }: Shape): number => [...perFile.values()].reduce((sum, one) => sum + one, 0);

function rate(kind: Kind, field: Shape, list: Shape): Position | undefined {
  let ends = 0;
  let most = 0;
  for (const [file, last] of field.perFile) {
    const count = list.perFile.get(file) ?? 0;
    if (!(last < count)) return undefined;
    if (last === count - 1 && count >= FEWEST) ends++;
    most = Math.max(most, last);
  }
  const files = field.perFile.size;
  const told = (sure: number, why: string): Position => ({ kind, field, list, sure, why });
  const [own, other] = [wordsOf(calledFor(field)), wordsOf(list.key)];
  // One of `meshes` is a `mesh`.
  if (own.length > 0 && own.join(' ') === other.join(' '))
    return told(0.9, 'it is called so, and no number is beyond its end');
  if (field.values < FEWEST || field.texts.size < 2 || most === 0) return undefined;
  if (affinity(own, other) > 0) return told(0.85, 'it is called so, and no number is beyond its end');
  if (files >= FEWEST_FILES && ends >= files * TO_THE_END) return told(0.85, 'its numbers go to the end of it');
  // Each of them is held by one other.
  const isInOwn =
    isItem(field) && field.parent?.keys === undefined && field.texts.size >= FEWEST && isWithin(field, list);
  return isInOwn && field.texts.again === 0 && field.values >= FEWEST
    ? told(0.8, 'each of its items is named once at most, by another of them')
    : undefined;
}

/** What a field is called that holds a position: where it says no more than that, what is around it. */
function calledFor(field: Shape): string {
  const called = nameOf(field);
  return SAYS_POSITION.test(called) && field.parent ? calledBy(field.parent) : called.replace(SAYS_POSITION, '');
}

const SAYS_POSITION = /[-_ ]?(?:index|idx|position|number|no)$/i;
