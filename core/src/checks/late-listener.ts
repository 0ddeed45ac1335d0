import { scriptRuleOf } from '../reading/plan/content.js';
import { cellAt, itemAt } from '../helpers/at.js';
import { sentence } from '../model/finding.js';
import { groupOf, kindOf } from '../model/graph.js';
import { VERBS } from '../model/link.js';
import { isEngineEvent } from '../linking/events.js';
import { codeAt, type Code } from '../linking/flow.js';
import type { EventEnd, EventEnds, Linked } from '../linking/linked.js';
import { partsRunning } from '../linking/world/parts.js';
import { topOf, type WorldType } from '../linking/world/world.js';
import { isBeyondSight } from './event-drafts.js';
import type { Check } from './check.js';
import { isWithin } from './reached.js';

/** Listening begins after the event may have passed. */
export const lateListener: Check = {
  id: 'fragile/late-listener',
  title: 'Listening may begin after the event has passed',
  severity: 'warning',
  why: 'What is sent once at the start is gone by the time somebody listens: on one machine it works, on the next it does not.',
  decides:
    'Fires where an event is sent at the start of play alone, and a script begins to listen at the start as well, with no order between them stated, or later. Silent when the script looks at the present state where it begins to listen – it calls its handler, or reads from the sender –, when the plan states an order in which it listens first, when anybody sends at another moment, and on wires saved in files.',
  run: (linked) =>
    linked.events.flatMap((event) => {
      const senders = sendersAtStart(linked, event);
      if (senders.length === 0) return [];
      return event.listeners.flatMap((listener) => {
        const code = codeAt(linked.world, listener);
        const late = code && !looksAtPresent(code, listener, senders) && lateTo(linked, code, senders);
        if (!code || !late) return [];
        const { type } = code;
        return [
          {
            sentence: [
              ...sentence`${{ name: late.type.name, piece: late.type.piece }} sends ${{ name: event.name, piece: event.piece }} at the start of play; ${{ name: type.name, piece: type.piece }} begins to listen `,
              isOnlySpawned(linked, type)
                ? 'when it is spawned'
                : code.fact.moment === 'start'
                  ? 'then too, and no order is stated'
                  : 'later',
            ],
            sure: 'Every place that sends the event runs at the start, and the place where listening begins was read.',
            pieces: [event.piece, type.piece, late.type.piece],
            evidence: [
              { file: listener.file, range: listener.range, shows: 'where listening begins' },
              ...event.senders.slice(0, 3).map(({ file, range }) => ({ file, range, shows: 'where it is sent' })),
            ],
            walk: [],
            places: 1,
            repairs: [
              {
                title: 'Look once, then listen',
                words: 'Read the present state where listening begins, or call the handler there once.',
              },
            ],
            sameBy: [event.name, type.name, late.type.name],
          },
        ];
      });
    }),
};

/** All who send an event, when each does so at the start alone. */
function sendersAtStart(linked: Linked, event: EventEnds): Code[] {
  const { name, senders, listeners } = event;
  if (senders.length === 0 || listeners.length === 0) return [];
  if (isEngineEvent(linked.plan, name) || isBeyondSight(linked, name, 'a sender')) return [];
  if (!senders.every(({ moment }) => moment === 'start')) return [];
  const codes = senders.map((sender) => codeAt(linked.world, sender));
  return codes.every((code) => code !== undefined) ? codes : [];
}

/** The function calls its own handler, or reads something from the sender. */
function looksAtPresent({ type, index, fact }: Code, { handler }: EventEnd, senders: readonly Code[]): boolean {
  const { touches, uses } = type.script;
  return (
    fact.calls.includes(handler) ||
    touches.some((touch) => touch.function === index && touch.how !== 'writes' && !touch.isAct) ||
    uses.some((use) => use.function === index && senders.some((sender) => sender.type.name === use.of))
  );
}

/** The first sender whose event may have passed when the function runs. */
function lateTo(linked: Linked, code: Code, senders: readonly Code[]): Code | undefined {
  if (code.fact.moment !== 'start' && code.fact.moment !== 'on an event') return undefined;
  return senders.find((sender) => {
    if (sender.type === code.type || typesShare(sender.type, code.type)) return false;
    if (code.fact.moment !== 'start' || isOnlySpawned(linked, code.type)) return true;
    const [mine, theirs] = [phaseOf(linked, code), phaseOf(linked, sender)];
    if (mine === undefined || theirs === undefined || mine < theirs) return false;
    return mine > theirs || !listensFirst(linked, code.type, sender.type);
  });
}

const SPAWNS = VERBS.indexOf('spawns');

/** It runs on nothing that stands in a scene: it is there when code spawns it, not from the start. */
function isOnlySpawned({ graph, world }: Linked, type: WorldType): boolean {
  const parts = partsRunning(world, type);
  const isSpawned = ({ source }: (typeof parts)[number]): boolean =>
    [...groupOf(graph.incoming, itemAt(world.files.piece, source))].some(
      (link) => cellAt(graph.links.verb, link) === SPAWNS,
    );
  return parts.some(isSpawned) && parts.every(({ object }) => kindOf(graph, topOf(world, object)) !== 'scene');
}

function typesShare(a: WorldType, b: WorldType): boolean {
  return a.ancestors.includes(b) || b.ancestors.includes(a);
}

/** Which of the functions that begin play runs the code, by its place in the plan. */
function phaseOf({ plan, world }: Linked, { type, fact }: Code): number | undefined {
  const { start } = scriptRuleOf(plan, itemAt(world.facts, type.source)).moments;
  const runs = (name: string, seen: Set<string>): boolean =>
    name === fact.name ||
    type.script.functions.some(
      (code) =>
        code.type === type.local &&
        code.name === name &&
        code.calls.some((called) => !seen.has(called) && runs(called, seen.add(called))),
    );
  const phase = start.findIndex((name) => runs(name, new Set([name])));
  return phase < 0 ? undefined : phase;
}

/** The plan states the order of the tree, and by it all who listen begin before those who send. */
function listensFirst(linked: Linked, listening: WorldType, sending: WorldType): boolean {
  const { startOrder } = linked.plan.engine;
  if (startOrder === 'unknown') return false;
  const objectsOf = (type: WorldType): number[] => partsRunning(linked.world, type).map(({ object }) => object);
  const [hear, send] = [objectsOf(listening), objectsOf(sending)];
  return hear.every((ear) =>
    send.every((mouth) =>
      startOrder === 'holders first' ? isWithin(linked, mouth, ear) : isWithin(linked, ear, mouth),
    ),
  );
}
