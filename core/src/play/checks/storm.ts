import { sentence } from '../../model/finding.js';
import { endsOf, eventIn, momentOf, ruleFor, type Place, type Play, type PlayCheck } from './check.js';

/** Without a word of the plan: so often a second, and so many times as often as usual. */
const [OF_OTHERS, LEAST_OF_OTHERS, OF_OWN, LEAST_OF_OWN] = [3, 20, 8, 50];
/** Seconds in which an event came, before it can be said what is usual for it. */
const LEAST_SECONDS = 10;

interface Rate {
  second: number;
  /** Events of this second, and the first of them. */
  events: number;
  from: Place;
  /** How many seconds had so many events. */
  seconds: Map<number, number>;
  most: number;
  mostFrom: Place;
}

/** Very many events of a kind in one second. */
export const storm: PlayCheck = {
  id: 'play/storm',
  title: 'A storm of events',
  severity: 'warning',
  why: 'Each of them is handled: the frame rate drops, queues run over, and what matters is lost among them.',
  decides: `Counts each event by the second in which it was sent. Fires over what the plan allows; where it says nothing, over ${OF_OTHERS} times the most that other sessions had (from ${LEAST_OF_OTHERS} a second); where there are none, over ${OF_OWN} times what is usual for it in these sessions (from ${LEAST_OF_OWN} a second, when it came in ${LEAST_SECONDS} seconds or more). Silent where events have neither time nor frame.`,
  begin(play) {
    const rates = new Map<string, Rate>();
    const close = (rate: Rate): void => {
      rate.seconds.set(rate.events, (rate.seconds.get(rate.events) ?? 0) + 1);
      if (rate.events > rate.most) [rate.most, rate.mostFrom] = [rate.events, rate.from];
      rate.events = 0;
    };
    return {
      take(event, at) {
        if (event.happening !== 'sent') return;
        const moment = momentOf(event);
        if (moment === undefined) return;
        const second = Math.floor(moment / 1000);
        let rate = rates.get(event.type);
        if (!rate)
          rates.set(event.type, (rate = { second, events: 0, from: at, seconds: new Map(), most: 0, mostFrom: at }));
        if (rate.second !== second || rate.from.session !== at.session) {
          if (rate.events > 0) close(rate);
          rate.second = second;
        }
        if (rate.events === 0) rate.from = at;
        rate.events++;
      },
      end: () =>
        [...rates].flatMap(([type, rate]) => {
          if (rate.events > 0) close(rate);
          const limit = limitOf(play, type, rate);
          if (!limit || rate.most <= limit.events) return [];
          const { run, pieces } = eventIn(play, type);
          return [
            {
              sentence: sentence`${run} came ${rate.most} times within one second; ${limit.words}`,
              sure: 'Counted by the second in which each was sent.',
              ...{ times: rate.most, lines: [rate.mostFrom], pieces },
              evidence: endsOf(play.events.get(type)?.senders, 'where it is sent'),
            },
          ];
        }),
    };
  },
};

/** How many may come within a second, and why. */
function limitOf({ expected, usual }: Play, type: string, rate: Rate): { events: number; words: string } | undefined {
  const allowed = ruleFor(expected.rules.storms, type);
  if (allowed !== undefined) return { events: allowed, words: `the plan allows ${allowed}` };
  const others = usual.get(type);
  if (others !== undefined)
    return {
      events: Math.max(others * OF_OTHERS, LEAST_OF_OTHERS),
      words: `in other sessions it was ${others} at most`,
    };
  const seconds = [...rate.seconds].sort(([a], [b]) => a - b);
  const count = seconds.reduce((sum, [, times]) => sum + times, 0);
  if (count < LEAST_SECONDS) return undefined;
  let before = 0;
  const [median = 0] = seconds.find(([, times]) => (before += times) * 2 >= count) ?? [];
  return { events: Math.max(median * OF_OWN, LEAST_OF_OWN), words: `mostly it is ${median}` };
}
