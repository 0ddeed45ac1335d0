/** What a map expects of play, by keys of pieces: what is asked of what was linked, so that play can be judged elsewhere. */
import { flagsOf } from '../checks/flags.js';
import { nameOf, keyOf } from '../model/graph.js';
import type { Range } from '../model/piece.js';
import { handlersOf } from '../linking/flow.js';
import type { EventEnd, Linked } from '../linking/linked.js';
import type { PlayRules } from '../reading/plan/plan.js';

/** One end of an event. */
export interface ExpectedEnd {
  key: string;
  file: string;
  range: Range;
  /** Of a listener: its functions, such as `Gate.open`; none where that cannot be said. */
  handlers: string[];
}

export interface ExpectedEvent {
  name: string;
  key: string;
  /** How many values are sent along, by each of its senders; undefined when one of them cannot be counted. */
  payloads?: number[];
  senders: ExpectedEnd[];
  listeners: ExpectedEnd[];
}

/** A flag that a function asks for before it acts. */
export interface ExpectedFlag {
  /** Such as `Gate.isOpen`. */
  name: string;
  key: string;
  /** Who asks for it: functions, and where. */
  askedBy: { handler: string; file: string; range: Range }[];
}

export interface PlayExpected {
  /** Events that the engine sends by itself, as globs. */
  engine: string[];
  rules: PlayRules;
  events: ExpectedEvent[];
  flags: ExpectedFlag[];
}

export function playExpected(linked: Linked): PlayExpected {
  const { graph, world, plan } = linked;
  const end = (one: EventEnd): ExpectedEnd => ({
    key: keyOf(graph, one.piece),
    file: one.file,
    range: one.range,
    handlers: [
      ...new Set(handlersOf(world, one).flatMap(({ type, fact }) => fact.name && `${type.name}.${fact.name}`)),
    ],
  });
  return {
    engine: plan.engine.events,
    rules: plan.play,
    events: linked.events
      .filter(({ senders, listeners }) => senders.length + listeners.length > 0)
      .map(({ piece, senders, listeners }): ExpectedEvent => {
        const payloads = senders.map(({ payload }) => payload);
        const isCounted = payloads.length > 0 && payloads.every((one) => one !== undefined);
        return {
          name: nameOf(graph, piece),
          key: keyOf(graph, piece),
          ...(isCounted && { payloads: [...new Set(payloads)] }),
          senders: senders.map(end),
          listeners: listeners.map(end),
        };
      }),
    flags: flagsOf(linked).flatMap(({ type, name, piece, reads }): ExpectedFlag[] => {
      const askedBy = reads.flatMap(({ type: own, code, asks, file, range }) =>
        asks !== undefined && own && code?.name ? [{ handler: `${own.name}.${code.name}`, file, range }] : [],
      );
      return askedBy.length > 0 ? [{ name: `${type.name}.${name}`, key: keyOf(graph, piece), askedBy }] : [];
    }),
  };
}
