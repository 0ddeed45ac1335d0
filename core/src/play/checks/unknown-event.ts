import { nearest } from '../../helpers/nearest.js';
import { sentence } from '../../model/finding.js';
import { meet, OF_EVENTS, timesOf, type Met, type PlayCheck } from './check.js';

/** An event came that the map does not know. */
export const unknownEvent: PlayCheck = {
  id: 'play/unknown-event',
  title: 'An event that the map does not know',
  severity: 'warning',
  why: 'Either a name is misspelt and nobody hears it, or the map does not see who sends and listens, and is silent about it.',
  decides:
    'Fires on events that no script, wire or table of the map sends or listens to, and that the plan does not name as the engine’s.',
  begin(play) {
    const met = new Map<string, Met>();
    return {
      take({ type, happening }, at) {
        if (OF_EVENTS.has(happening) && !play.events.has(type) && !play.isEngines(type)) meet(met, type, at);
      },
      end: () =>
        [...met].map(([name, { times, lines }]) => {
          const [near] = nearest(name, play.events.keys(), 1);
          return {
            sentence: [
              ...sentence`${name} came ${timesOf(times)}, and the map does not know it`,
              ...(near === undefined ? [] : sentence`; there is ${near}`),
            ],
            sure: 'Nothing on the map sends it or listens to it, and the plan does not name it as the engine’s.',
            ...{ times, lines, pieces: [], evidence: [] },
          };
        }),
    };
  },
};
