/** Saved wiring that stands twice: the wires of one object pasted from another's, and graphs of the same steps. */
import { grouped } from '../grouped.js';
import type { EventFact, FileFacts, PieceFact } from '../reading/facts.js';
import type { Linked } from '../linking/linked.js';

/** Wires pasted with one that still leads to what the first object works. */
export interface PastedWires {
  /** Position in the list of facts. */
  source: number;
  /** Each wire of the first object with that of the second. */
  pairs: [EventFact, EventFact][];
  /** The wire that was left as it was, and what the others of the second object lead to. */
  wire: EventFact;
  own: string;
}

export function pastedWires({ facts }: Linked): PastedWires[] {
  return facts.flatMap((fact, source) => pastedIn(fact, source));
}

function pastedIn({ events }: FileFacts, source: number): PastedWires[] {
  const sets = grouped(
    events.filter(({ from, to, handler }) => from && to && handler),
    ({ rule, from }) => `${rule} ${from}`,
  ).filter((wires) => wires.length > 1);
  return sets.flatMap((later, at) =>
    sets.slice(0, at).flatMap((earlier): PastedWires[] => {
      const pairs = paired(earlier, later);
      if (!pairs) return [];
      const left = pairs.filter(([one, other]) => one.to === other.to);
      const led = pairs.filter(([one, other]) => one.to !== other.to);
      const own = new Set(led.map(([, other]) => other.to));
      if (left.length !== 1 || own.size !== 1) return [];
      const [[, wire]] = left;
      return led[0][0].to === wire.to ? [{ source, pairs, wire, own: [...own][0] }] : [];
    }),
  );
}

/** The wires of two sets, by event and function; undefined when they are not the same ones. */
function paired(earlier: EventFact[], later: EventFact[]): [EventFact, EventFact][] | undefined {
  if (earlier.length !== later.length) return undefined;
  const key = ({ event, handler }: EventFact): string => `${event} ${handler}`;
  const byKey = new Map(earlier.map((wire) => [key(wire), wire]));
  if (byKey.size !== earlier.length) return undefined;
  const pairs = later.flatMap((wire): [EventFact, EventFact][] => {
    const one = byKey.get(key(wire));
    return one ? [[one, wire]] : [];
  });
  return pairs.length === later.length ? pairs : undefined;
}

/** A behaviour graph with its steps in the order of the file. */
export interface GraphSteps {
  source: number;
  fact: FileFacts;
  steps: PieceFact[];
}

const LEAST_STEPS = 4;

/** Graphs whose steps are of the same kinds in the same order. */
export function sameGraphs({ facts }: Linked): GraphSteps[][] {
  const graphs = facts.flatMap((fact, source): GraphSteps[] => {
    const steps = fact.kind === 'graph' ? fact.pieces.filter(({ kind }) => kind === 'step') : [];
    return steps.length >= LEAST_STEPS ? [{ source, fact, steps }] : [];
  });
  const shape = ({ fact, steps }: GraphSteps): string => `${fact.rule} ${steps.map(({ name }) => name).join('\n')}`;
  return grouped(graphs, shape).filter((same) => same.length > 1);
}
