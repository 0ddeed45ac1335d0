import { sentence } from '../../model/finding.js';
import { meet, textsIn, timesOf, type Met, type PlayCheck } from './check.js';

/** Of more it is not remembered that they were spawned, or met. */
const [MOST_SPAWNED, MOST_SENDERS] = [100_000, 20_000];

/** Somebody sends who is not on the map. */
export const unknownSender: PlayCheck = {
  id: 'play/unknown-sender',
  title: 'A sender that the map does not know',
  severity: 'warning',
  why: 'What it does in play is not seen by any check.',
  decides:
    'Fires on those who send and whom no path, identity, name or key of the map is. Silent on what the engine sends by itself, and on things that were spawned before under that name.',
  begin(play) {
    const met = new Map<string, Met>();
    let spawned = new Set<string>();
    return {
      session() {
        spawned = new Set();
      },
      take({ type, source, subject, happening, data }, at) {
        if (happening === 'spawned' && spawned.size < MOST_SPAWNED)
          for (const name of [subject ?? source, ...textsIn(data)]) spawned.add(name);
        if (play.isEngines(type) || spawned.has(source) || play.named(source).length > 0) return;
        if (met.size < MOST_SENDERS || met.has(source)) meet(met, source, at);
      },
      end: () =>
        [...met].map(([name, { times, lines }]) => ({
          sentence: sentence`${name} was met ${timesOf(times)}, and is not on the map`,
          sure: 'No path, identity, name or key of the map is written so.',
          ...{ times, lines, pieces: [], evidence: [] },
        })),
    };
  },
};
