import { sentence } from '../../model/finding.js';
import { endsOf, eventIn, meet, timesOf, type Met, type PlayCheck, type PlayDraft } from './check.js';

/** Payloads that are alike, before one that is not is worth a word; and the share of those at most. */
const [LEAST_ALIKE, MOST_SHARE] = [20, 0.05];
/** Entries of one event that are watched. */
const MOST_ENTRIES = 200;

/** What was passed along is not what the map says, or not what it is at other times. */
export const payload: PlayCheck = {
  id: 'play/payload',
  title: 'Another payload than expected',
  severity: 'warning',
  why: 'Whoever handles it reads nothing, or something of another kind.',
  decides: `Fires where the map can count what every sender passes along, and a payload in a list has another count. And, as a note, where an entry is of one kind – a number, a text, a list – ${LEAST_ALIKE} times or more, and rarely of another one. Silent on payloads in one object, which may be one value or several, and on entries that are left out.`,
  begin(play) {
    const counts = new Map<string, Met & { type: string; count: number }>();
    const kinds = new Map<string, Map<string, Map<string, Met>>>();
    return {
      take({ type, happening, data }, at) {
        if (happening !== 'sent') return;
        const wanted = play.events.get(type)?.payloads;
        if (wanted && Array.isArray(data) && !wanted.includes(data.length) && !wanted.includes(1)) {
          const key = JSON.stringify([type, data.length]);
          if (counts.has(key)) meet(counts, key, at);
          else counts.set(key, { times: 1, lines: [at], type, count: data.length });
        }
        const entries = kinds.get(type) ?? new Map<string, Map<string, Met>>();
        if (!kinds.has(type)) kinds.set(type, entries);
        for (const [name, value] of entriesOf(data)) {
          let entry = entries.get(name);
          if (!entry && entries.size < MOST_ENTRIES) entries.set(name, (entry = new Map<string, Met>()));
          if (entry) meet(entry, kindOf(value), at);
        }
      },
      end: () => [
        ...[...counts.values()].map(({ times, lines, type, count }): PlayDraft => {
          const { run, pieces } = eventIn(play, type);
          const event = play.events.get(type);
          return {
            sentence: sentence`${run} came ${timesOf(times)} with ${valuesOf(count)}; on the map it is sent with ${(event?.payloads ?? []).map(valuesOf).join(' or ')}`,
            sure: 'All its senders on the map write out what they pass along.',
            ...{ times, lines, pieces, evidence: endsOf(event?.senders, 'where it is sent') },
          };
        }),
        ...[...kinds].flatMap(([type, entries]) =>
          [...entries].flatMap(([name, byKind]): PlayDraft[] => {
            const [most, ...others] = [...byKind].sort(([, a], [, b]) => b.times - a.times);
            if (!most || most[1].times < LEAST_ALIKE) return [];
            const rare = others.filter(([, { times }]) => times / (times + most[1].times) <= MOST_SHARE);
            const { run, pieces } = eventIn(play, type);
            return rare.map(([kind, { times, lines }]) => ({
              sentence: sentence`${name} of ${run} is ${most[0]} ${timesOf(most[1].times)}, and ${kind} ${timesOf(times)}`,
              sure: 'Counted over all of these sessions.',
              severity: 'note',
              ...{ times, lines, pieces, evidence: [] },
            }));
          }),
        ),
      ],
    };
  },
};

/** Entries of a payload by their names; those of a list by their positions, from 1. */
function entriesOf(data: unknown): [string, unknown][] {
  if (data === undefined) return [];
  if (Array.isArray(data)) return data.slice(0, 20).map((value, at) => [`value ${at + 1}`, value]);
  if (typeof data === 'object' && data !== null) return Object.entries(data).slice(0, MOST_ENTRIES);
  return [['what is passed along', data]];
}

function kindOf(value: unknown): string {
  if (value === null) return 'nothing';
  if (Array.isArray(value)) return 'a list';
  const kind = typeof value;
  return kind === 'number'
    ? 'a number'
    : kind === 'string'
      ? 'a text'
      : kind === 'boolean'
        ? 'a truth value'
        : 'an object';
}

const valuesOf = (count: number): string => (count === 0 ? 'nothing' : count === 1 ? '1 value' : `${count} values`);
