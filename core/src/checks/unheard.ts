import type { Check } from './check.js';
import { isBeyondSight, oneEnded } from './event-drafts.js';

/** An event that is sent and nobody listens to. */
export const unheard: Check = {
  id: 'fragile/unheard',
  title: 'An event is sent and nobody listens',
  severity: 'warning',
  why: 'Either the listener spells the name differently, or the sender is left over and misleads whoever reads it.',
  decides:
    'Counts both ends of every event name in scripts and files. Silent when somebody listens, when the engine listens, and when some listener takes its name at run time and the name stands elsewhere in the code.',
  run: (linked) =>
    linked.events
      .filter(
        (event) =>
          event.senders.length > 0 && event.listeners.length === 0 && !isBeyondSight(linked, event.name, 'a listener'),
      )
      .map((event) =>
        oneEnded(linked, event, event.senders, {
          does: 'sent',
          lacks: 'nobody listens',
          other: 'is listened to',
          others: linked.events.filter((other) => other.listeners.length > 0).map((other) => other.name),
        }),
      ),
};
