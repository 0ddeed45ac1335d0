import { named } from '../../checks/check.js';
import { sentence } from '../../model/finding.js';
import { endsOf, eventIn, type PlayCheck } from './check.js';

/** An event of the map never came. */
export const neverSentInPlay: PlayCheck = {
  id: 'play/never-sent',
  title: 'An event of the map that never came',
  severity: 'note',
  why: 'The wire was not tried: whether it works, this play test cannot say.',
  decides:
    'Fires on events that somebody on the route sends – where logs tell which scenes were loaded, somebody who comes along with one of them – and that no log has. Silent on the engine’s own.',
  begin: (play) => ({
    end: () =>
      play.expected.events.flatMap((event) => {
        const { name, senders, listeners } = event;
        const able = senders.filter(({ key }) => play.isThere(key));
        const [first] = able.flatMap(({ key }) => play.pieceOf(key) ?? []);
        if (first === undefined || play.sent.has(name) || play.handled.has(name) || play.isEngines(name)) return [];
        const { run, pieces } = eventIn(play, name);
        return [
          {
            sentence: [
              ...sentence`${run} never came; ${named(play.graph, first)} can send it`,
              ...(able.length > 1 ? [`, and ${able.length - 1} more`] : []),
              listeners.length > 0
                ? `, and ${listeners.length === 1 ? 'one listens' : `${listeners.length} listen`}`
                : '',
            ].filter((one) => one !== ''),
            sure: 'All events of the logs were looked at.',
            ...{ times: 1, lines: [], pieces, evidence: endsOf(able, 'where it is sent') },
          },
        ];
      }),
  }),
};
