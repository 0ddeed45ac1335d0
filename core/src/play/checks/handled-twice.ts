import { recent } from '../../helpers/recent.js';
import { sentence } from '../../model/finding.js';
import { endsOf, eventIn, functionIn, meet, timesOf, type Met, type PlayCheck } from './check.js';

/** One sending was handled more than once by the same. */
export const handledTwice: PlayCheck = {
  id: 'play/handled-twice',
  title: 'A listener that handles one sending twice',
  severity: 'warning',
  why: 'It began to listen twice: counters, sounds and spawns come double.',
  decides:
    'Fires where two events say by the same cause that the same function of the same sender handled it. Silent where handling does not say what caused it.',
  begin(play) {
    const handlings = recent<true>(200_000);
    const twice = new Map<string, Met & { type: string; handler: string }>();
    return {
      session: () => handlings.clear(),
      take({ type, source, happening, handler, cause }, at) {
        if (happening !== 'handled' || cause === undefined) return;
        const handling = JSON.stringify([cause, source, handler, type]);
        if (handlings.get(handling)) {
          const name = handler ?? source;
          const key = JSON.stringify([type, name]);
          if (twice.has(key)) meet(twice, key, at);
          else twice.set(key, { times: 1, lines: [at], type, handler: name });
        }
        handlings.set(handling, true);
      },
      end: () =>
        [...twice.values()].map(({ times, lines, type, handler }) => {
          const { run, pieces } = eventIn(play, type);
          const ends = play.events
            .get(type)
            ?.listeners.filter(({ handlers }) => handlers.some((one) => functionIn(one) === functionIn(handler)));
          return {
            sentence: sentence`${handler} handled a sending of ${run} that it had handled already, ${timesOf(times)}`,
            sure: 'Both handlings name the same sending as their cause.',
            ...{ times, lines, pieces, evidence: endsOf(ends, 'where it listens') },
          };
        }),
    };
  },
};
