import { sentence } from '../../model/finding.js';
import type { ExpectedEnd } from '../expected.js';
import { endsOf, eventIn, functionIn, timesOf, type PlayCheck, type PlayDraft } from './check.js';

/** An event came, and one of those who listen to it, or all of them, did not handle it. */
export const unhandled: PlayCheck = {
  id: 'play/unhandled',
  title: 'A listener that did not handle what it hears',
  severity: 'warning',
  why: 'The map says that it listens. It was made too late, was taken off, listens to another one, or what it does was never reached.',
  decides:
    'Fires where an event came, somebody on the map listens to it – on the route, and along with a scene that was loaded, where logs tell of that – and either nothing handled it, or the logs name the functions that did and one of the map’s never did. Silent where no log tells of handling.',
  begin: (play) => ({
    end() {
      if (play.handled.size === 0) return [];
      return [...play.sent].flatMap(([name, { times, lines }]): PlayDraft[] => {
        const there = play.events.get(name)?.listeners.filter(({ key }) => play.isThere(key)) ?? [];
        if (there.length === 0) return [];
        const handled = play.handled.get(name);
        const { run, pieces } = eventIn(play, name);
        const told = { times, lines, sure: 'The logs tell what handled others.' };
        if (!handled)
          return [
            {
              sentence: sentence`${run} came ${timesOf(times)} and nothing handled it, though on the map ${there.length === 1 ? 'one listens' : `${there.length} listen`}`,
              ...{ ...told, pieces, evidence: endsOf(there, 'where it is listened to') },
            },
          ];
        if ([...handled.keys()].some((handler) => handler === '')) return [];
        const ran = new Set([...handled.keys()].map(functionIn));
        const didNot = ({ handlers }: ExpectedEnd): boolean =>
          handlers.length > 0 && !handlers.some((handler) => ran.has(functionIn(handler)));
        return there.filter(didNot).map((end) => {
          const piece = play.pieceOf(end.key);
          const handler = { name: end.handlers[0] ?? '', piece };
          return {
            sentence: sentence`${run} came ${timesOf(times)} and ${handler} never handled it, as others did`,
            ...{ ...told, evidence: endsOf([end], 'where it listens') },
            pieces: [...pieces, ...(piece === undefined ? [] : [piece])],
          };
        });
      });
    },
  }),
};
