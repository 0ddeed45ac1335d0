/** Two sessions of the same input beside each other: where they part for the first time, and what came more or less often. */
import type { PlayEvent } from './event.js';

/** A place at which two sessions part; undefined on the side that has ended. */
export interface Parting {
  /** Events before it, which are the same. */
  same: number;
  one?: PlayEvent;
  other?: PlayEvent;
}

/** How often something happens in each of two sessions. */
export interface TimesBeside {
  type: string;
  happening: string;
  one: number;
  other: number;
}

/** What two events must have alike: neither when they came nor how they were numbered. */
const said = ({ type, happening, source, subject, handler, frame, side, data }: PlayEvent): string =>
  JSON.stringify([type, happening, source, subject, handler, frame, side, data]);

/** The first place at which two sessions part; undefined where one is as the other. */
export function partingOf(one: Iterable<PlayEvent>, other: Iterable<PlayEvent>): Parting | undefined {
  const [left, right] = [one[Symbol.iterator](), other[Symbol.iterator]()];
  for (let same = 0; ; same++) {
    const [a, b] = [left.next(), right.next()];
    if (a.done === true && b.done === true) return undefined;
    if (a.done !== true && b.done !== true && said(a.value) === said(b.value)) continue;
    return { same, ...(a.done !== true && { one: a.value }), ...(b.done !== true && { other: b.value }) };
  }
}

type Kind = Pick<PlayEvent, 'type' | 'happening'> & { events: number };

/** Kinds that came more often in one of two sessions, those that differ most first. */
export function timesBeside(one: readonly Kind[], other: readonly Kind[]): TimesBeside[] {
  const all = new Map<string, TimesBeside>();
  const count = (kinds: readonly Kind[], side: 'one' | 'other'): void => {
    for (const { type, happening, events } of kinds) {
      const key = `${happening} ${type}`;
      const known = all.get(key) ?? { type, happening, one: 0, other: 0 };
      all.set(key, { ...known, [side]: known[side] + events });
    }
  };
  count(one, 'one');
  count(other, 'other');
  const far = (times: TimesBeside): number => Math.abs(times.one - times.other);
  return [...all.values()]
    .filter((times) => far(times) > 0)
    .sort((a, b) => far(b) - far(a) || (a.type < b.type ? -1 : 1));
}
