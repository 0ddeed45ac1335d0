import { recent } from '../../helpers/recent.js';
import { sentence } from '../../model/finding.js';
import { endsOf, eventIn, type Place, type PlayCheck } from './check.js';

/** Sendings of one event that led to each other, before it is told. */
const LEAST_ROUNDS = 5;
/** Of one chain so many kinds of events are counted. */
const MOST_KINDS = 50;

interface Link {
  /** How often each event was sent on the way here. */
  sent: Map<string, number>;
}

/** An event leads to itself, over and over. */
export const goesRound: PlayCheck = {
  id: 'play/goes-round',
  title: 'An event that leads to itself',
  severity: 'warning',
  why: 'It goes on until something stops it: the game hangs, or runs out of memory.',
  decides: `Follows causes. Fires where an event led to itself ${LEAST_ROUNDS} times or more, one out of the other. Silent where events do not say what caused them.`,
  begin(play) {
    const chains = recent<Link>(100_000);
    const rounds = new Map<string, { most: number; at: Place }>();
    return {
      session: () => chains.clear(),
      take({ id, type, happening, cause }, at) {
        const before = cause === undefined ? undefined : chains.get(cause);
        if (happening !== 'sent') {
          if (before) chains.set(id, before);
          return;
        }
        const sent = new Map(before && before.sent.size < MOST_KINDS ? before.sent : []);
        const times = (sent.get(type) ?? 0) + 1;
        sent.set(type, times);
        chains.set(id, { sent });
        if (times > (rounds.get(type)?.most ?? LEAST_ROUNDS)) rounds.set(type, { most: times, at });
      },
      end: () =>
        [...rounds].map(([type, { most, at }]) => {
          const { run, pieces } = eventIn(play, type);
          return {
            sentence: sentence`${run} led to itself ${most - 1} times, one out of the other`,
            sure: 'Each of them names the one before it as what caused it.',
            ...{ times: most - 1, lines: [at], pieces },
            evidence: endsOf(play.events.get(type)?.senders, 'where it is sent'),
          };
        }),
    };
  },
};
