/** The story of an event as boxes and what runs between them, for a drawing. */
import { itemAt } from '../helpers/at.js';
import type { Grip } from '../model/link.js';

/** How a box stands out: it is what the drawing is about, or something was found there, or all is well. */
export type BoxLook = 'about' | 'error' | 'warning' | 'good' | 'plain';

/** Boxes and the lines between them, not laid out yet. */
export interface SheetShape {
  boxes: {
    key: string;
    name: string;
    title: string;
    under: string;
    /** `plain` unless given. */
    look?: BoxLook;
    /** The column that it stands in or right of, from 0; by the lines alone when left out. */
    column?: number;
  }[];
  /** `from` and `to` are positions of boxes. The weaker the grip, the more broken up the line. */
  lines: { from: number; to: number; words: string; grip: Grip; count: number }[];
  /** Lines run from earlier boxes to later ones, but for those that go back. */
  isInOrder: boolean;
}

/** A line of a story, as it is told: see `StoryLine`. */
export interface ToldLine {
  depth: number;
  who: string;
  does: string;
  what: string;
  mark: string;
  /** Key of who, and of what. */
  key?: string;
  whatKey?: string;
}

/** Marks that say on what something hangs; others say that it goes round, goes on, or has no such function. */
const CONDITION = /^(?:only if|unless) /;
/** What a listener does at the event that it hangs on; all else is done to something. */
const LISTENS = /^(?:hears it|listens)$/;

/**
 * Who comes several times in a story stands there once, so that circles are circles. What hangs on a condition has the grip
 * `name`, all else `fixed`.
 * @param event what the story is of
 */
export function storySheet(
  event: { key: string; name: string },
  lines: readonly ToldLine[],
  direction: 'forward' | 'backward',
): SheetShape {
  const sheet: SheetShape = { boxes: [], lines: [], isInOrder: direction === 'forward' };
  const places = new Map<string, number>();
  const box = (name: string, key = ''): number => {
    const known = places.get(key || name);
    if (known !== undefined) return known;
    const under = key.slice(0, Math.max(0, key.indexOf(':')));
    const look = sheet.boxes.length === 0 ? 'about' : 'plain';
    places.set(key || name, sheet.boxes.length);
    return sheet.boxes.push({ key, name, title: under ? `${name} (${under})` : name, under, look }) - 1;
  };
  const line = (from: number, to: number, { does, what, whatKey, mark }: ToldLine): void => {
    const said = [does, !whatKey && LISTENS.test(does) ? what : '', mark].filter(Boolean).join(' ');
    const known = sheet.lines.find((one) => one.from === from && one.to === to);
    if (known) {
      known.words = [...new Set([...known.words.split('; '), said])].join('; ');
      known.count++;
    } else {
      const grip = CONDITION.test(mark) ? 'name' : 'fixed';
      sheet.lines.push({ from, to, words: said, grip, count: 1 });
    }
  };
  // What the last line of each depth came to: all that is indented below it hangs on that.
  const led = [box(event.name, event.key)];
  for (const told of lines) {
    const { depth, who, does, what, key, whatKey } = told;
    const before = itemAt(led, Math.min(depth, led.length - 1));
    const own = box(who, key);
    let end = own;
    if (direction === 'backward') line(own, before, told);
    else if (LISTENS.test(does)) line(before, own, told);
    else line(own, (end = box(what || does, whatKey)), told);
    led.splice(depth + 1, led.length, end);
  }
  const nameOf = (at: number): string => itemAt(sheet.boxes, at).name;
  for (const one of sheet.lines) one.words = `${nameOf(one.from)} → ${nameOf(one.to)}: ${one.words}`;
  return sheet;
}
