import { itemAt } from '../helpers/at.js';
import { sentence } from '../model/finding.js';
import { circles } from '../model/circles.js';
import { deedsOf, handlersOf, typeOfPiece, type Code, type Deed } from '../linking/flow.js';
import type { EventEnds } from '../linking/linked.js';
import type { Check } from './check.js';

/** A handler of one event sends another. */
interface Relay {
  /** Positions among the events. */
  from: number;
  to: number;
  handler: Code;
  deed: Deed;
}

/** A handler whose sends lead back to itself. */
export const eventLoop: Check = {
  id: 'fragile/event-loop',
  title: 'What a handler sends leads back to itself',
  severity: 'warning',
  why: 'Once the event is sent it is sent again and again: the game stands still, or a stack runs over.',
  decides:
    'Follows every event to its handlers, and what those send whenever they run, through functions of their own. Fires once for each circle. Silent when one of the sends hangs on a condition, since that may end it.',
  run: ({ events: all, world }) => {
    // In an order of their own: which file was linked last must not show.
    const events = [...all].sort((a, b) => (a.name < b.name ? -1 : 1));
    const at = new Map(events.map((event, index) => [event.name, index]));
    const relays = events.flatMap((event, from) => relaysOf(world, event, from, at));
    return circles(relays).map((circle) => {
      const names = circle.map(({ from }) => itemAt(events, from).name);
      const first = itemAt(circle, 0);
      return {
        sentence: [
          { name: itemAt(names, 0), piece: itemAt(events, first.from).piece },
          ' leads back to itself: ',
          ...circle.flatMap(({ handler, to }, step) => [
            ...(step > 0 ? [', '] : []),
            { name: `${handler.type.name}.${handler.fact.name}()`, piece: handler.type.piece },
            ...sentence` sends ${{ name: itemAt(events, to).name, piece: itemAt(events, to).piece }}`,
          ]),
        ],
        sure: 'Every send in the circle is made whenever its handler runs, and all names are written out.',
        pieces: [itemAt(events, first.from).piece, first.handler.type.piece],
        evidence: circle.slice(0, 6).map(({ deed, to }) => ({
          file: itemAt(world.facts, deed.code.type.source).file,
          range: deed.operation.range,
          shows: `where ${itemAt(events, to).name} is sent`,
        })),
        walk: [],
        places: circle.length,
        repairs: [
          {
            title: 'End it somewhere',
            words: 'Send only when something has changed, or let one of them send another event.',
          },
        ],
        sameBy: [...names].sort(),
      };
    });
  },
};

function relaysOf(
  world: Parameters<typeof deedsOf>[0],
  event: EventEnds,
  from: number,
  at: ReadonlyMap<string, number>,
): Relay[] {
  return event.listeners.flatMap((listener) =>
    handlersOf(world, listener).flatMap((handler) =>
      deedsOf(world, handler, typeOfPiece(world, listener.piece) ?? handler.type)
        .filter(({ isSure }) => isSure)
        .flatMap((deed) =>
          deed.events.flatMap((name) => {
            const to = at.get(name);
            return to === undefined ? [] : [{ from, to, handler, deed }];
          }),
        ),
    ),
  );
}
