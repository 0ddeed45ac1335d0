import { recent } from '../../helpers/recent.js';
import { sentence } from '../../model/finding.js';
import type { Happening } from '../event.js';
import { eventIn, meet, momentOf, timesOf, type Met, type PlayCheck } from './check.js';

/** So often within so many milliseconds. */
const [LEAST_TIMES, WITHIN] = [4, 1000];
/** What adds up when it is done again. */
const ADDS_UP: ReadonlySet<Happening> = new Set(['spawned', 'value changed']);
/** Effects that are watched at once. */
const MOST_WATCHED = 50_000;

interface Root {
  type: string;
  source: string;
  moment: number;
  /** Effects that it had already. */
  had: Set<string>;
}

/** One action again and again, each time with an effect that adds up. */
export const addsUp: PlayCheck = {
  id: 'play/adds-up',
  title: 'An action that can be repeated and adds up',
  severity: 'note',
  why: 'Whoever hits the key fast enough gets more of it than was meant: nothing holds it back.',
  decides: `Follows causes. Fires where one and the same sender sends an event that nothing led to ${LEAST_TIMES} times within a second, and each of them leads to the same spawn or changes the same value. Silent where events do not say what caused them.`,
  begin(play) {
    const roots = recent<Root>(100_000);
    const watched = recent<number[]>(MOST_WATCHED);
    const met = new Map<string, Met & { type: string; effect: string; most: number }>();
    return {
      session() {
        roots.clear();
        watched.clear();
      },
      take(event, at) {
        const { id, type, source, subject, happening, cause } = event;
        const root = cause === undefined ? undefined : roots.get(cause);
        if (cause === undefined) {
          const moment = momentOf(event);
          if (happening === 'sent' && moment !== undefined) roots.set(id, { type, source, moment, had: new Set() });
          return;
        }
        if (!root) return;
        roots.set(id, root);
        if (!ADDS_UP.has(happening)) return;
        const effect = `${happening} ${subject ?? source}`;
        if (root.had.has(effect) || root.had.size >= 100) return;
        root.had.add(effect);
        const key = JSON.stringify([root.type, root.source, effect]);
        const moments = [...(watched.get(key) ?? []).filter((one) => root.moment - one < WITHIN), root.moment];
        watched.set(key, moments.slice(-100));
        if (moments.length < LEAST_TIMES) return;
        const name = JSON.stringify([root.type, effect]);
        const known = met.get(name);
        if (!known) met.set(name, { times: 1, lines: [at], type: root.type, effect, most: moments.length });
        else {
          meet(met, name, at);
          known.most = Math.max(known.most, moments.length);
        }
      },
      end: () =>
        [...met.values()].map(({ times, lines, type, effect, most }) => {
          const { run, pieces } = eventIn(play, type);
          return {
            sentence: sentence`${run} came ${timesOf(most)} within one second from one sender, and each time led to ${effect}`,
            sure: 'By their causes all of them lead back to it.',
            ...{ times, lines, pieces, evidence: [] },
          };
        }),
    };
  },
};
