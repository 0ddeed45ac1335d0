import { itemAt, must } from '../helpers/at.js';
import { sentence } from '../model/finding.js';
import { kindOf } from '../model/graph.js';
import { handlersOf } from '../linking/flow.js';
import type { EventEnd } from '../linking/linked.js';
import type { Language } from '../reading/plan/plan.js';
import { named, type Check } from './check.js';

/** Languages in which a function that is given more than it takes passes over the rest. */
const PASSES_OVER: ReadonlySet<Language> = new Set<Language>(['typescript', 'javascript', 'lua']);

/** A handler takes other arguments than are sent. */
export const payloadMismatch: Check = {
  id: 'fragile/payload-mismatch',
  title: 'A handler takes other arguments than are sent',
  severity: 'warning',
  why: 'The handler works with nothing where it expects a value, or stops with a fault when the event comes.',
  decides:
    'Counts the values that each sender passes along and the parameters that each handler cannot do without. Fires when fewer come than are needed, and – in languages that do not pass over what is too much – when more come than are taken. Silent on events that are types, since what is sent travels in one object of theirs, when the number of values is not known, when the handler is not, and on parameters with a default.',
  run: ({ events, graph, world }) =>
    events
      .filter(({ piece }) => kindOf(graph, piece) !== 'type')
      .flatMap((event) =>
        event.listeners.flatMap((listener) =>
          handlersOf(world, listener).flatMap(({ type, fact }) => {
            const wrong = event.senders.filter(
              ({ payload }) => payload !== undefined && !fits(payload, fact, type.script.language),
            );
            if (wrong.length === 0) return [];
            const sender = itemAt(wrong, 0);
            const { file } = itemAt(world.facts, type.source);
            return [
              {
                sentence: [
                  ...sentence`${{ name: event.name, piece: event.piece }} is sent with ${words(must(sender.payload))} by `,
                  named(graph, sender.piece),
                  ...(wrong.length > 1 ? [` and ${wrong.length - 1} more`] : []),
                  ...sentence`; ${{ name: `${type.name}.${fact.name}()`, piece: type.piece }} takes ${words(fact.parameters.length)}`,
                  fact.needs < fact.parameters.length ? `, of which ${fact.needs} cannot be left out` : '',
                ].filter((run) => run !== ''),
                sure: 'The values are written out at the sender, the parameters at the handler, and the wire between them is known.',
                pieces: [event.piece, type.piece],
                evidence: [
                  { file, range: fact.range, shows: 'the handler' },
                  ...wrong
                    .slice(0, 4)
                    .map((end: EventEnd) => ({ file: end.file, range: end.range, shows: 'where it is sent' })),
                ],
                walk: [],
                places: wrong.length,
                repairs: [
                  {
                    title: 'Let both ends agree',
                    words: `Send ${words(fact.needs)}, or let the handler take ${words(must(sender.payload))}; a default at the handler lets the rest be left out.`,
                  },
                ],
                sameBy: [event.name, type.name, fact.name],
              },
            ];
          }),
        ),
      ),
};

function fits(
  payload: number,
  { parameters, needs, takesMore }: { parameters: string[]; needs: number; takesMore: boolean },
  language: Language,
): boolean {
  if (payload < needs) return false;
  return takesMore || payload <= parameters.length || PASSES_OVER.has(language);
}

function words(count: number): string {
  return `${count === 0 ? 'no' : count} ${count === 1 ? 'value' : 'values'}`;
}
