/** Wiring that stands twice: wires of one object pasted from another's, graphs of the same steps, types of two languages that hear and do the same. */
import { cellAt, itemAt } from '../helpers/at.js';
import { grouped, type Some } from '../helpers/grouped.js';
import { push } from '../helpers/push.js';
import type { EventFact, FileFacts, PieceFact } from '../reading/facts.js';
import type { Linked } from '../linking/linked.js';
import type { WorldType } from '../linking/world/world.js';
import { groupOf, nameOf } from '../model/graph.js';
import { VERBS, type Verb } from '../model/link.js';

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
  // Which of two was pasted shows in where they lead, not in which stands first.
  const byTarget = new Map<string, Some<EventFact>[]>();
  for (const wires of sets) for (const to of targetsOf(wires)) push(byTarget, to, wires);
  return sets.flatMap((later) =>
    othersWith(later, byTarget).flatMap((earlier): PastedWires[] => {
      const pairs = paired(earlier, later);
      if (!pairs) return [];
      const left = pairs.filter(([one, other]) => one.to === other.to);
      const led = pairs.filter(([one, other]) => one.to !== other.to);
      const own = new Set(led.map(([, other]) => other.to));
      if (left.length !== 1 || own.size !== 1) return [];
      const [, wire] = itemAt(left, 0);
      return itemAt(led, 0)[0].to === wire.to ? [{ source, pairs, wire, own: itemAt([...own], 0) }] : [];
    }),
  );
}

const targetsOf = (wires: readonly EventFact[]): Set<string> => new Set(wires.flatMap(({ to }) => to ?? []));

/** What more objects than this have their wires end on is shared, and none of them was left there by a paste. */
const MOST_SHARING = 200;

/** Wires of other objects that end where some of these do: what was pasted shares an end with what it was pasted from. */
function othersWith(wires: Some<EventFact>, byTarget: Map<string, Some<EventFact>[]>): Some<EventFact>[] {
  const sharing = [...targetsOf(wires)].flatMap((to) => {
    const all = byTarget.get(to) ?? [];
    return all.length > MOST_SHARING ? [] : all;
  });
  return [...new Set(sharing)].filter((other) => other !== wires);
}

/** Fewer wires than these are alike by chance. */
const LEAST_PAIRS = 2;

/** The wires of two sets, by event and function; undefined when they are not the same ones, but for one on top. */
function paired(earlier: EventFact[], later: EventFact[]): [EventFact, EventFact][] | undefined {
  if (Math.abs(earlier.length - later.length) > 1) return undefined;
  const key = ({ event, handler }: EventFact): string => `${event} ${handler}`;
  const byKey = new Map(earlier.map((wire) => [key(wire), wire]));
  if (byKey.size !== earlier.length) return undefined;
  const pairs = later.flatMap((wire): [EventFact, EventFact][] => {
    const one = byKey.get(key(wire));
    return one ? [[one, wire]] : [];
  });
  return pairs.length >= LEAST_PAIRS && pairs.length === Math.min(earlier.length, later.length) ? pairs : undefined;
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

/** What ties a type to the rest of the game, whatever language it is written in. */
const WIRING: readonly Verb[] = ['listens to', 'sends', 'spawns', 'destroys', 'switches', 'loads', 'uses'];
const LEAST_LINKS = 4;

export interface SameWiring {
  types: WorldType[];
  /** What all of them do: `listens to noon`. */
  does: { verb: Verb; to: number }[];
}

/** Types in two languages or more that listen to the same and do the same to the same pieces, and nothing else. */
export function sameWiring({ facts, world, graph }: Linked): SameWiring[] {
  const { links, outgoing } = graph;
  const wanted = new Set(WIRING.map((verb) => VERBS.indexOf(verb)));
  const listens = VERBS.indexOf('listens to');
  const wired = world.types.all.flatMap((type) => {
    const own = [...groupOf(outgoing, type.piece)].filter(
      (link) => wanted.has(cellAt(links.verb, link)) && cellAt(links.to, link) >= 0,
    );
    const does = [...new Set(own.map((link) => `${cellAt(links.verb, link)} ${cellAt(links.to, link)}`))].sort();
    const heard = own.filter((link) => cellAt(links.verb, link) === listens).length;
    const { side } = itemAt(type.script.types, type.local);
    return does.length >= LEAST_LINKS && heard > 0 && heard < own.length
      ? [{ type, does, key: `${side} ${does.join()}` }]
      : [];
  });
  return grouped(wired, ({ key }) => key).flatMap((same): SameWiring[] => {
    const languages = new Set(same.map(({ type }) => type.script.language));
    if (languages.size < 2) return [];
    const does = same[0].does.map((one) => {
      const [verb = -1, to = -1] = one.split(' ').map(Number);
      return { verb: itemAt(VERBS, verb), to };
    });
    does.sort(
      (a, b) => WIRING.indexOf(a.verb) - WIRING.indexOf(b.verb) || (nameOf(graph, a.to) < nameOf(graph, b.to) ? -1 : 1),
    );
    const types = same.map(({ type }) => type);
    return [
      { types: types.sort((a, b) => (itemAt(facts, a.source).file < itemAt(facts, b.source).file ? -1 : 1)), does },
    ];
  });
}
