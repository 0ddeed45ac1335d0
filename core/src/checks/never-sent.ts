import { itemAt } from '../helpers/at.js';
import { sentence } from '../model/finding.js';
import { groupOf } from '../model/graph.js';
import type { Linked } from '../linking/linked.js';
import { named, placeOf, sameKey, type Check, type Draft } from './check.js';
import { isBeyondSight, oneEnded } from './event-drafts.js';

/** An event that is listened to and nobody sends, or that is declared and nobody uses. */
export const neverSent: Check = {
  id: 'fragile/never-sent',
  title: 'Somebody listens to an event that nobody sends',
  severity: 'warning',
  why: 'What hangs on the event never happens in play, and nothing says so.',
  decides:
    'Counts both ends of every event name in scripts and files; an event that a file declares and nothing at all uses is worth a note. Silent when somebody sends it, when the engine sends it, and when some sender takes its name at run time and the name stands elsewhere in the code.',
  run: (linked) => [
    ...linked.events
      .filter(
        (event) =>
          event.listeners.length > 0 && event.senders.length === 0 && !isBeyondSight(linked, event.name, 'a sender'),
      )
      .map((event) =>
        oneEnded(linked, event, event.listeners, {
          does: 'listened to',
          lacks: 'nobody sends it',
          other: 'is sent',
          others: linked.events.filter((other) => other.senders.length > 0).map((other) => other.name),
        }),
      ),
    ...unused(linked),
  ],
};

/** Events that a file declares and that nothing sends, listens to or refers to. */
function unused(linked: Linked): Draft[] {
  const { graph, world, facts, mentions } = linked;
  return facts.flatMap((fact, source) =>
    fact.pieces.flatMap(({ kind, name, id }, at): Draft[] => {
      if (kind !== 'event') return [];
      const piece = itemAt(itemAt(world.trees.pieceOf, source), at);
      const isUsed = groupOf(graph.incoming, piece).length > 0 || [name, id].some((one) => mentions.has(one));
      if (isUsed || isBeyondSight(linked, name, 'a sender')) return [];
      return [
        {
          severity: 'note',
          sentence: [...sentence`${named(graph, piece)} is declared as an event, and nobody sends it or listens to it`],
          sure: 'Every place where events are named was read, and no script mentions the name.',
          pieces: [piece],
          evidence: placeOf(graph, piece, 'where it is declared'),
          walk: [],
          places: 1,
          repairs: [{ title: 'Use it or take it out', words: 'Take it out if it is left over from an earlier try.' }],
          sameBy: ['declared', sameKey(graph, piece)],
        },
      ];
    }),
  );
}
