import { itemAt, must } from '../helpers/at.js';
import { grouped } from '../helpers/grouped.js';
import { sentence } from '../model/finding.js';
import { deedsOf, handlersOf, type Code, type Deed } from '../linking/flow.js';
import type { Linked } from '../linking/linked.js';
import { isEngines } from '../linking/losses.js';
import type { Check } from './check.js';
import { operationsThat } from './reached.js';

/** Code that acts on a key, a button or a pointer. */
interface InputHandler {
  code: Code;
  /** What it answers to: an event of the engine, or an input action. */
  to: string;
  range: Deed['operation']['range'];
}

/** An input handler acts though somebody may be typing. */
export const unguardedInput: Check = {
  id: 'fragile/unguarded-input',
  title: 'A key works while somebody is typing',
  severity: 'warning',
  why: 'Whoever types a name into a text box, or walks through a menu, works the game behind it.',
  decides:
    'Works where the plan says which call asks whether a text box or menu has the input (`asks input`). Fires on a handler of an input event (engine.inputs), and on a function that runs every frame and asks for an input action, that sends, spawns, destroys, switches, moves or enters something. Silent when it, or a function that calls it or that it calls, asks who has the input, and when it does nothing of the kind.',
  run: (linked) => {
    const { plan, world } = linked;
    if (!plan.calls.some(({ means }) => means === 'asks input')) return [];
    return grouped(inputHandlers(linked), ({ code }) => `${code.type.index} ${code.index}`).flatMap(
      ([{ code, to, range }]) => {
        const { type, fact } = code;
        const deeds = deedsOf(world, code);
        const acts = deeds.filter(({ rule }) => rule.means in ACTS);
        if (acts.length === 0 || asksWho(linked, code, deeds)) return [];
        const { file } = itemAt(world.facts, type.source);
        return [
          {
            sentence: [
              { name: `${type.name}.${fact.name}()`, piece: type.piece },
              ...sentence` ${must(ACTS[itemAt(acts, 0).rule.means])} on ${to} and does not ask whether a text box or menu has the input`,
            ],
            sure: 'The plan names the call that asks, and neither this function nor those around it make it.',
            pieces: [type.piece],
            evidence: [
              { file, range, shows: 'the input' },
              ...acts.slice(0, 3).map(({ code: at, operation }) => ({
                file: itemAt(world.facts, at.type.source).file,
                range: operation.range,
                shows: 'what it does',
              })),
            ],
            walk: [],
            places: 1,
            repairs: [
              {
                title: 'Ask first who has the input',
                words: `Return at once while \`${must(plan.calls.find(({ means }) => means === 'asks input')).call}\` says that somebody else has it.`,
              },
            ],
            sameBy: [file, type.name, fact.name],
          },
        ];
      },
    );
  },
};

const ACTS: Partial<Record<string, string>> = {
  send: 'sends an event',
  spawn: 'spawns something',
  destroy: 'destroys something',
  switch: 'switches something',
  move: 'moves something',
  travel: 'moves something',
  load: 'enters a scene',
};

function inputHandlers({ events, plan, world }: Linked): InputHandler[] {
  const told = events
    .filter(({ name }) => isEngines(plan.engine.inputs, name))
    .flatMap(({ name, listeners }) =>
      listeners.flatMap((listener) =>
        handlersOf(world, listener).map((code) => ({ code, to: name, range: code.fact.range })),
      ),
    );
  const asked = operationsThat(world, 'refer').flatMap(({ type, operation }) => {
    const { action } = operation.arguments;
    const fact = type.script.functions[operation.function];
    if (!action || fact?.moment !== 'every frame') return [];
    const to = action.is === 'text' ? action.text : 'an input action';
    return [{ code: { type, index: operation.function, fact }, to, range: operation.range }];
  });
  return [...told, ...asked];
}

function asksWho({ world }: Linked, { type, fact }: Code, deeds: readonly Deed[]): boolean {
  if (deeds.some(({ rule }) => rule.means === 'asks input')) return true;
  const { functions, operations } = type.script;
  return operations.some((one) => {
    const around = functions[one.function];
    return (
      itemAt(world.plan.calls, one.rule).means === 'asks input' &&
      around?.type === type.local &&
      around.calls.includes(fact.name)
    );
  });
}
