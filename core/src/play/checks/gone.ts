import { sentence } from '../../model/finding.js';
import type { Happening } from '../event.js';
import { meet, textsIn, timesOf, type Met, type Place, type PlayCheck } from './check.js';

/** What something that is gone cannot do, and what nobody can do with it. */
const NEEDS_IT: ReadonlySet<Happening> = new Set(['sent', 'handled', 'moved', 'switched', 'value changed', 'flag set']);
interface Away {
  at: Place;
  frame?: number;
  cause?: string;
}

/** Things that are gone, of which it is remembered. */
const MOST_GONE = 50_000;

/** Something was used after it was gone. */
export const gone: PlayCheck = {
  id: 'play/gone',
  title: 'Used after it was gone',
  severity: 'warning',
  why: 'Something still holds it: what it does to it does nothing, or stops with a fault.',
  decides:
    'Fires where something was destroyed, and after that sends, handles, is moved, switched or changed. Silent in the same frame or out of the same cause, where it may say goodbye, once it is spawned again, and once another scene is loaded.',
  begin(play) {
    const used = new Map<string, Met & { name: string; what: string }>();
    let away = new Map<string, Away>();
    return {
      session() {
        away = new Map();
      },
      take({ happening, source, subject, data, frame, cause }, at) {
        if (happening === 'loaded') away = new Map();
        else if (happening === 'destroyed') {
          if (away.size < MOST_GONE) away.set(subject ?? source, { at, frame, cause });
        } else if (away.size > 0 && happening === 'spawned') {
          for (const name of [subject, source, ...textsIn(data)]) if (name !== undefined) away.delete(name);
        } else if (away.size > 0 && NEEDS_IT.has(happening)) {
          for (const name of new Set([source, subject])) {
            const since = name === undefined ? undefined : away.get(name);
            if (since === undefined || name === undefined) continue;
            if (frame === undefined ? cause === since.cause : frame === since.frame) continue;
            const what = happening === 'sent' || happening === 'handled' ? happening : `was ${happening}`;
            const key = JSON.stringify([name, what]);
            if (used.has(key)) meet(used, key, at);
            else used.set(key, { times: 1, lines: [since.at, at], name, what });
          }
        }
      },
      end: () =>
        [...used.values()].map(({ times, lines, name, what }) => {
          const [piece] = play.named(name);
          return {
            sentence: sentence`${{ name, piece }} ${what} ${timesOf(times)} after it was destroyed`,
            sure: 'The log tells that it was destroyed, and nothing of it coming again.',
            ...{ times, lines, pieces: piece === undefined ? [] : [piece], evidence: [] },
          };
        }),
    };
  },
};
