import type { Check } from './check.js';
import { isBeyondSight, oneEnded } from './event-drafts.js';

/** An event that is listened to and nobody sends. */
export const neverSent: Check = {
  id: 'fragile/never-sent',
  title: 'Somebody listens to an event that nobody sends',
  severity: 'warning',
  why: 'What hangs on the event never happens in play, and nothing says so.',
  decides:
    'Counts both ends of every event name in scripts and files. Silent when somebody sends it, when the engine sends it, and when some sender takes its name at run time and the name stands elsewhere in the code.',
  run: (linked) =>
    linked.events
      .filter((event) => event.listeners.length > 0 && event.senders.length === 0 && !isBeyondSight(linked, event.name))
      .map((event) =>
        oneEnded(linked, event, event.listeners, {
          does: 'listened to',
          lacks: 'nobody sends it',
          other: 'is sent',
          others: linked.events.filter((other) => other.senders.length > 0).map((other) => other.name),
        }),
      ),
};
