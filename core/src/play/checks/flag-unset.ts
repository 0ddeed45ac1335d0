import { push } from '../../helpers/push.js';
import { sentence } from '../../model/finding.js';
import type { ExpectedFlag } from '../expected.js';
import { endsOf, meet, timesOf, type Met, type PlayCheck } from './check.js';

/** A flag was asked for before it was set. */
export const flagUnset: PlayCheck = {
  id: 'play/flag-unset',
  title: 'A flag asked for before it was set',
  severity: 'note',
  why: 'The function went by what the flag is at the start, and did something else than later.',
  decides:
    'Needs logs that tell when flags are set, and which functions handle. Fires where a function that asks for a flag handled an event before the flag was set for the first time in the session, by whom it is set then. Silent on flags that no log tells of.',
  begin(play) {
    const askers = new Map<string, ExpectedFlag[]>();
    for (const flag of play.expected.flags) for (const { handler } of flag.askedBy) push(askers, handler, flag);
    const byName = new Map<string, ExpectedFlag[]>();
    for (const flag of play.expected.flags) push(byName, flag.name, flag);
    const byPiece = new Map(play.expected.flags.map((flag) => [play.pieceOf(flag.key) ?? -1, flag]));
    const found = new Map<string, Met & { flag: ExpectedFlag; handler: string }>();
    let set = new Set<string>();
    let asked = new Map<string, Met & { handler: string }>();
    return {
      session() {
        set = new Set();
        asked = new Map();
      },
      take({ type, happening, subject, handler }, at) {
        if (happening === 'handled' && handler !== undefined)
          for (const { key } of askers.get(handler) ?? [])
            if (!set.has(key)) {
              if (asked.has(key)) meet(asked, key, at);
              else asked.set(key, { times: 1, lines: [at], handler });
            }
        if (happening !== 'flag set') return;
        const meant = [subject, type].flatMap((name) =>
          name === undefined
            ? []
            : [...(byName.get(name) ?? []), ...play.named(name).flatMap((one) => byPiece.get(one) ?? [])],
        );
        for (const flag of meant) {
          if (set.has(flag.key)) continue;
          set.add(flag.key);
          const before = asked.get(flag.key);
          if (!before) continue;
          const known = found.get(flag.key);
          if (known) known.times += before.times;
          else found.set(flag.key, { ...before, lines: [...before.lines.slice(0, 4), at], flag });
        }
      },
      end: () =>
        [...found.values()].map(({ times, lines, flag, handler }) => {
          const piece = play.pieceOf(flag.key);
          return {
            sentence: sentence`${handler} asks for ${{ name: flag.name, piece }} and ran ${timesOf(times)} before it was set`,
            sure: 'The log tells when it was set first.',
            ...{ times, lines, pieces: piece === undefined ? [] : [piece] },
            evidence: endsOf(
              flag.askedBy.filter((one) => one.handler === handler),
              'where it is asked for',
            ),
          };
        }),
    };
  },
};
