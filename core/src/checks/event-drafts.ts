/** What the two checks on events with one end share. */
import { itemAt } from '../helpers/at.js';
import { isSlip } from '../repairs/sure.js';
import { rewritten } from '../repairs/where-written.js';
import { nearest } from '../helpers/nearest.js';
import type { EventEnd, EventEnds, Linked } from '../linking/linked.js';
import { isEngineEvent } from '../linking/events.js';
import { mayBeUnread, telling } from '../linking/world/unread.js';
import { named, type Draft } from './check.js';

/** Whether an event is left to the engine, or what it lacks may be where the map cannot see it. */
export function isBeyondSight(
  { plan, mentions, world, unknownSends, unknownListeners }: Linked,
  name: string,
  lacks: 'a sender' | 'a listener',
): boolean {
  const isMentioned = (lacks === 'a sender' ? unknownSends : unknownListeners) && mentions.has(name);
  return isEngineEvent(plan, name) || isMentioned || mayBeUnread(world, name, telling);
}

/** A finding on an event of which only `ends` are known. `others` are the names it could have been meant to have. */
export function oneEnded(
  linked: Linked,
  event: EventEnds,
  ends: EventEnd[],
  words: { does: string; lacks: string; other: string; others: string[] },
): Draft {
  const { graph } = linked;
  const first = itemAt(ends, 0);
  const [close] = nearest(event.name, words.others, 1);
  return {
    sentence: [
      { name: event.name, piece: event.piece },
      ` is ${words.does} by `,
      named(graph, first.piece),
      ends.length > 1 ? ` and ${ends.length - 1} more, but ${words.lacks}` : ` and ${words.lacks}`,
      ...(close ? ['; ', { name: close }, ` ${words.other}`] : []),
    ],
    sure: 'The name is written out at this end, and every other place where events are named was read.',
    pieces: [event.piece, first.piece],
    evidence: ends.slice(0, 5).map((end) => ({ file: end.file, range: end.range, shows: `where it is ${words.does}` })),
    walk: [],
    places: ends.length,
    repairs: [
      ...(close
        ? [
            {
              title: `Write “${close}”`,
              words: `“${close}” is written almost the same and has the other end.`,
              oneOf: [event.name, close].sort().join(' '),
              ...(isSlip(event.name, close, words.others) && { sure: true as const }),
              // What is put together stands nowhere as it is.
              ...(ends.some(({ isPutTogether }) => isPutTogether)
                ? {}
                : {
                    changes: ends.map(({ file, range }) => rewritten(linked, file, range, event.name, close)),
                  }),
            },
          ]
        : []),
      { title: 'Connect or remove', words: 'Add the other end, or take this one out if it is left over.' },
    ],
    sameBy: [event.name],
  };
}
