import { sentence } from '../../model/finding.js';
import type { Evidence } from '../../model/evidence.js';
import type { PlayEvent } from '../event.js';
import { meet, placeIn, timesOf, type Met, type PlayCheck } from './check.js';

/** The game says that something failed. */
export const failed: PlayCheck = {
  id: 'play/failed',
  title: 'Something failed',
  severity: 'error',
  why: 'The game went on without it.',
  decides: 'Fires on what the log tells as failed: once for each message and place in code.',
  begin(play) {
    const met = new Map<string, Met & { event: PlayEvent; by: Set<string> }>();
    return {
      take(event, at) {
        if (event.happening !== 'failed') return;
        const key = JSON.stringify([event.type, event.place ?? event.source, messageOf(event)]);
        const known = met.get(key);
        if (!known) met.set(key, { times: 1, lines: [at], event, by: new Set([event.source]) });
        else {
          meet(met, key, at);
          if (known.by.size < 1000) known.by.add(event.source);
        }
      },
      end: () =>
        [...met.values()].map(({ times, lines, event, by }) => {
          const [piece] = play.named(event.source);
          const { place = '' } = event;
          return {
            sentence: [
              ...sentence`${messageOf(event)} – failed ${timesOf(times)} by ${{ name: event.source, piece }}`,
              ...(by.size > 1 ? [` and ${by.size - 1} more`] : []),
            ],
            sure: 'The game itself says so.',
            ...{ times, lines, pieces: piece === undefined ? [] : [piece], evidence: evidenceAt(place) },
          };
        }),
    };
  },
};

/** What the game says of it. */
export function messageOf({ data, type }: PlayEvent): string {
  const text = typeof data === 'object' && data !== null && 'message' in data ? data.message : data;
  return typeof text === 'string' && text !== '' ? text.slice(0, 300) : type;
}

function evidenceAt(place: string): Evidence[] {
  const at = placeIn(place);
  return at
    ? [
        {
          file: at.file,
          range: { line: at.line, column: 1, endLine: at.line + 1, endColumn: 1 },
          shows: 'where it failed',
        },
      ]
    : [];
}
