import { sentence } from '../model/finding.js';
import { nameOf } from '../model/graph.js';
import type { EventFact, FileFacts } from '../reading/facts.js';
import type { Linked } from '../linking/linked.js';
import { grouped, type Check, type Draft } from './check.js';

/** The same chain of events and actions stands in two graphs or scenes. */
export const copiedWiring: Check = {
  id: 'twin/copied-wiring',
  title: 'The same wiring is saved twice',
  severity: 'note',
  why: 'A pasted wire often still leads to the thing that it was copied from; whoever mends one set forgets the other.',
  decides:
    'Compares the wires that objects of one file save, and the steps of behaviour graphs. Fires – a warning – when two objects send the same events to the same functions and one wire of the second still leads to what the first one works, while its others lead elsewhere; and on two graphs of at least four steps whose steps are of the same kinds in the same order. Silent when all wires of the second lead to its own, when all lead to one shared thing, and on single wires.',
  run: (linked) => [...linked.facts.flatMap((fact, source) => pasted(linked, fact, source)), ...sameGraphs(linked)],
};

/** Wires of one object that were pasted from another's, with one left as it was. */
function pasted({ world, graph }: Linked, { file, events }: FileFacts, source: number): Draft[] {
  const sets = grouped(
    events.filter(({ from, to, handler }) => from && to && handler),
    ({ rule, from }) => `${rule} ${from}`,
  ).filter((wires) => wires.length > 1);
  return sets.flatMap((later, at) =>
    sets.slice(0, at).flatMap((earlier): Draft[] => {
      const pairs = paired(earlier, later);
      if (!pairs) return [];
      const left = pairs.filter(([one, other]) => one.to === other.to);
      const own = new Set(pairs.filter(([one, other]) => one.to !== other.to).map(([, other]) => other.to));
      const [wire] = left.map(([, other]) => other);
      if (left.length !== 1 || own.size !== 1 || pairs.length - 1 < 1) return [];
      const [first] = pairs.find(([one, other]) => one.to !== other.to)!;
      if (first.to !== wire.to) return [];
      const name = (id: string): { name: string; piece?: number } => {
        const piece = (world.byId.get(id) ?? []).find((one) => graph.texts[graph.pieces.file[one]] === file);
        return piece === undefined ? { name: id } : { name: nameOf(graph, piece), piece };
      };
      return [
        {
          severity: 'warning',
          sentence: sentence`The wires of ${name(wire.from)} are those of ${name(earlier[0].from)} over again, and one still leads to ${name(wire.to)}: ${wire.event} → ${wire.handler}()`,
          sure: 'The same events lead to the same functions in both, and all other wires lead to the second one’s own.',
          pieces: [world.filePiece[source]],
          evidence: [
            { file, range: wire.range, shows: 'the wire that was left as it was' },
            ...pairs.slice(0, 3).map(([one]) => ({ file, range: one.range, shows: 'what it was copied from' })),
          ],
          walk: [],
          places: 1,
          repairs: [
            { title: 'Lead it to its own', words: `Let the wire end on ${name([...own][0]).name} like the others.` },
          ],
          sameBy: [file, wire.from, wire.event, wire.handler],
        },
      ];
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

function sameGraphs({ facts, world }: Linked): Draft[] {
  const graphs = facts.flatMap((fact, source) => {
    const steps = fact.kind === 'graph' ? fact.pieces.filter(({ kind }) => kind === 'step') : [];
    return steps.length >= 4 ? [{ fact, source, steps }] : [];
  });
  return grouped(graphs, ({ fact, steps }) => `${fact.rule} ${steps.map(({ name }) => name).join('\n')}`)
    .filter((same) => same.length > 1)
    .map((same) => ({
      sentence: [
        ...sentence`${{ name: same[0].fact.name, piece: world.filePiece[same[0].source] }} and ${{ name: same[1].fact.name, piece: world.filePiece[same[1].source] }}`,
        same.length > 2 ? ` and ${same.length - 2} more` : '',
        ` take the same ${same[0].steps.length} steps in the same order`,
      ].filter((run) => run !== ''),
      sure: 'The kinds of all steps were compared in order.',
      pieces: same.map(({ source }) => world.filePiece[source]),
      evidence: same
        .slice(0, 5)
        .map(({ fact, steps }) => ({ file: fact.file, range: steps[0].range, shows: fact.name })),
      walk: [],
      places: same.length,
      repairs: [
        {
          title: 'Keep one graph',
          words: 'Keep one of them, with a variable for what differs, and let both objects run it.',
        },
      ],
      sameBy: same.map(({ fact }) => fact.file).sort(),
    }));
}
