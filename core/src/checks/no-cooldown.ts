import { itemAt } from '../helpers/at.js';
import { sentence } from '../model/finding.js';
import { isEngines } from '../linking/losses.js';
import { deedsOf, handlersOf, typeOfPiece, type Deed } from '../linking/flow.js';
import type { Linked } from '../linking/linked.js';
import type { Check, Draft } from './check.js';
import { operationsThat } from './reached.js';

/** A trigger that can fire repeatedly changes state with no guard. */
export const noCooldown: Check = {
  id: 'fragile/no-cooldown',
  title: 'A trigger that comes again and again acts every time',
  severity: 'warning',
  why: 'One touch of a body with several parts, or a body that rests on the trigger, sets it off dozens of times.',
  decides:
    'Works where the plan says which events of the engine repeat (engine.repeats). Fires on a handler of one that sends, spawns, destroys or switches something whenever it runs, itself or through functions of its own; and anywhere on a function that runs every frame and sends an event whenever it does. Silent when that hangs on a condition – a flag, a timer – and on events that do not repeat.',
  run: (linked) => [...repeated(linked), ...everyFrame(linked)],
};

/** What is done on every event of a kind that repeats. */
function repeated({ events, plan, world }: Linked): Draft[] {
  return events
    .filter(({ name }) => isEngines(plan.engine.repeats, name))
    .flatMap((event) =>
      event.listeners.flatMap((listener) =>
        handlersOf(world, listener).flatMap((handler) => {
          const own = typeOfPiece(world, listener.piece) ?? handler.type;
          const sure = deedsOf(world, handler, own).filter((deed) => deed.isSure && deed.rule.means in ACTS);
          if (sure.length === 0) return [];
          const first = itemAt(sure, 0);
          const { type, fact } = handler;
          return [
            {
              sentence: [
                { name: `${type.name}.${fact.name}()`, piece: type.piece },
                ...sentence` ${does(first)} whenever ${{ name: event.name, piece: event.piece }} comes, and it comes again and again`,
              ],
              sure: 'The plan says that the event repeats, and nothing in the code stands between it and what is done.',
              pieces: [type.piece, event.piece],
              evidence: [
                {
                  file: itemAt(world.facts, first.code.type.source).file,
                  range: first.operation.range,
                  shows: 'what is done every time',
                },
                { file: listener.file, range: listener.range, shows: 'where it listens' },
              ],
              walk: [],
              places: sure.length,
              repairs: [
                {
                  title: 'Wait before acting again',
                  words:
                    'Set a flag or note the time when it acts, return at once while that holds, and take it back when the body has left.',
                },
              ],
              sameBy: [event.name, type.name, fact.name],
            },
          ];
        }),
      ),
    );
}

/** Events that are sent in every frame. */
function everyFrame({ world }: Linked): Draft[] {
  return operationsThat(world, 'send').flatMap(({ type, operation, file }) => {
    const fact = type.script.functions[operation.function];
    if (fact?.moment !== 'every frame' || operation.isConditional) return [];
    const called = type.script.functions.some(
      (one) => one.calls.includes(fact.name) && !one.sureCalls.includes(fact.name),
    );
    const { event } = operation.arguments;
    if (called || event?.is !== 'text') return [];
    return [
      {
        sentence: sentence`${{ name: `${type.name}.${fact.name}()`, piece: type.piece }} sends ${event.text} in every frame`,
        sure: 'The plan says that the function runs every frame, and nothing in the code stands between it and the event.',
        pieces: [type.piece],
        evidence: [{ file, range: operation.range, shows: 'sent every frame' }],
        walk: [],
        places: 1,
        repairs: [
          {
            title: 'Send when something has changed',
            words: 'Keep what was sent last, compare, and send only when it differs.',
          },
        ],
        sameBy: [event.text, type.name, fact.name],
      },
    ];
  });
}

const ACTS: Partial<Record<string, string>> = {
  send: 'sends',
  spawn: 'spawns something',
  destroy: 'destroys something',
  switch: 'switches something',
};

function does({ rule, events }: Deed): string {
  return rule.means === 'send' ? `sends ${events[0] ?? 'an event'}` : (ACTS[rule.means] ?? 'acts');
}
