import { sentence } from '../../model/finding.js';
import { eventIn, meet, timesOf, type Met, type PlayCheck, type PlayDraft } from './check.js';

/** Two that come in the same order so often, before the other order is worth a word; and its share at most. */
const [LEAST_TIMES, MOST_SHARE] = [10, 0.1];
/** Functions that handle one event, of which the order is watched. */
const MOST_HANDLERS = 12;

interface Pair {
  type: string;
  first: string;
  second: string;
  /** Times that they came in this order, and in the other one. */
  so: Met;
  other: Met;
}

/** Events, or functions that handle one, came in another order than they should. */
export const otherOrder: PlayCheck = {
  id: 'play/other-order',
  title: 'Another order than expected',
  severity: 'warning',
  why: 'Something relies on the order and nothing holds it: it works until it does not.',
  decides: `Fires where an event comes and one that the plan puts before it has not come since the last time. And, as a note, where two functions handle one event in one order ${LEAST_TIMES} times or more and in the other one rarely.`,
  begin(play) {
    const before = new Map<string, string>();
    for (const events of play.expected.rules.order)
      events.slice(1).forEach((event, at) => before.set(event, events[at] ?? ''));
    const isFirst = new Set(before.values());
    const came = new Set<string>();
    const wrong = new Map<string, Met>();
    const pairs = new Map<string, Pair>();
    let sending: { cause: string; type: string; handlers: string[] } | undefined;
    const pair = (type: string, one: string, other: string): { pair: Pair; isSo: boolean } => {
      const isSo = one < other;
      const [first, second] = isSo ? [one, other] : [other, one];
      const key = JSON.stringify([type, first, second]);
      let found = pairs.get(key);
      if (!found)
        pairs.set(key, (found = { type, first, second, so: { times: 0, lines: [] }, other: { times: 0, lines: [] } }));
      return { pair: found, isSo };
    };
    return {
      session() {
        came.clear();
        sending = undefined;
      },
      take({ type, happening, cause, handler }, at) {
        if (happening === 'sent') {
          const needed = before.get(type);
          if (needed !== undefined && !came.delete(needed)) meet(wrong, type, at);
          if (isFirst.has(type)) came.add(type);
        }
        if (happening !== 'handled' || cause === undefined || handler === undefined) return;
        if (sending?.cause !== cause || sending.type !== type) sending = { cause, type, handlers: [] };
        const { handlers } = sending;
        if (handlers.includes(handler) || handlers.length >= MOST_HANDLERS) return;
        for (const earlier of handlers) {
          const { pair: found, isSo } = pair(type, earlier, handler);
          const met = isSo ? found.so : found.other;
          met.times++;
          if (met.lines.length < 3) met.lines.push(at);
        }
        handlers.push(handler);
      },
      end: () => [
        ...[...wrong].map(([type, { times, lines }]): PlayDraft => {
          const { run, pieces } = eventIn(play, type);
          return {
            sentence: sentence`${run} came ${timesOf(times)} without ${before.get(type) ?? ''} before it`,
            sure: 'The plan says that it comes before.',
            ...{ times, lines, pieces, evidence: [] },
          };
        }),
        ...[...pairs.values()].flatMap(({ type, first, second, so, other }): PlayDraft[] => {
          const [usual, rare, one, two] =
            so.times >= other.times ? [so, other, first, second] : [other, so, second, first];
          const all = usual.times + rare.times;
          if (rare.times === 0 || usual.times < LEAST_TIMES || rare.times / all > MOST_SHARE) return [];
          const { run, pieces } = eventIn(play, type);
          return [
            {
              sentence: sentence`${one} handles ${run} before ${two} ${timesOf(usual.times)}, and after it ${timesOf(rare.times)}`,
              sure: 'Both name the same sending as their cause.',
              severity: 'note',
              ...{ times: rare.times, lines: rare.lines, pieces, evidence: [] },
            },
          ];
        }),
      ],
    };
  },
};
