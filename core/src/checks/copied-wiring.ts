import { cellAt, itemAt } from '../helpers/at.js';
import { sentence } from '../model/finding.js';
import { nameOf } from '../model/graph.js';
import type { Linked } from '../linking/linked.js';
import {
  pastedWires,
  sameGraphs,
  sameWiring,
  type GraphSteps,
  type PastedWires,
  type SameWiring,
} from '../twins/wiring.js';
import type { Check, Draft } from './check.js';

/** The same chain of events and actions stands in two graphs or scenes. */
export const copiedWiring: Check = {
  id: 'twin/copied-wiring',
  title: 'The same wiring is saved twice',
  severity: 'note',
  why: 'A pasted wire often still leads to the thing that it was copied from; whoever mends one set forgets the other.',
  decides:
    'Compares the wires that objects of one file save, and the steps of behaviour graphs. Fires – a warning – when two objects send the same events to the same functions and one wire of the second still leads to what the first one works, while its others lead elsewhere; on two graphs of at least four steps whose steps are of the same kinds in the same order; and on types of two languages that listen to the same events and send, spawn, use, load, switch or destroy the same pieces, four links at least, and nothing else. Silent when all wires of the second lead to its own, when all lead to one shared thing, on single wires, and on types that run on two sides.',
  run: (linked) => [
    ...pastedWires(linked).map((one) => pastedDraft(linked, one)),
    ...sameGraphs(linked).map((same) => graphDraft(linked, same)),
    ...sameWiring(linked).map((same) => typesDraft(linked, same)),
  ],
};

function pastedDraft({ facts, graph, world }: Linked, { source, pairs, wire, own }: PastedWires): Draft {
  const { file } = itemAt(facts, source);
  const name = (id: string): { name: string; piece?: number } => {
    const piece = (world.names.byId.get(id) ?? []).find(
      (one) => itemAt(graph.texts, cellAt(graph.pieces.file, one)) === file,
    );
    return piece === undefined ? { name: id } : { name: nameOf(graph, piece), piece };
  };
  return {
    severity: 'warning',
    sentence: sentence`The wires of ${name(wire.from)} are those of ${name(itemAt(pairs, 0)[0].from)} over again, and one still leads to ${name(wire.to)}: ${wire.event} → ${wire.handler}()`,
    sure: 'The same events lead to the same functions in both, and all other wires lead to the second one’s own.',
    pieces: [itemAt(world.files.piece, source)],
    evidence: [
      { file, range: wire.range, shows: 'the wire that was left as it was' },
      ...pairs.slice(0, 3).map(([one]) => ({ file, range: one.range, shows: 'what it was copied from' })),
    ],
    walk: [],
    places: 1,
    repairs: [{ title: 'Lead it to its own', words: `Let the wire end on ${name(own).name} like the others.` }],
    sameBy: [file, wire.from, wire.event, wire.handler],
  };
}

function graphDraft({ world }: Linked, same: GraphSteps[]): Draft {
  const [first, second] = [itemAt(same, 0), itemAt(same, 1)];
  return {
    sentence: [
      ...sentence`${{ name: first.fact.name, piece: itemAt(world.files.piece, first.source) }} and ${{ name: second.fact.name, piece: itemAt(world.files.piece, second.source) }}`,
      same.length > 2 ? ` and ${same.length - 2} more` : '',
      ` take the same ${first.steps.length} steps in the same order`,
    ].filter((run) => run !== ''),
    sure: 'The kinds of all steps were compared in order.',
    pieces: same.map(({ source }) => itemAt(world.files.piece, source)),
    evidence: same
      .slice(0, 5)
      .map(({ fact, steps }) => ({ file: fact.file, range: itemAt(steps, 0).range, shows: fact.name })),
    walk: [],
    places: same.length,
    repairs: [
      {
        title: 'Keep one graph',
        words: 'Keep one of them, with a variable for what differs, and let both objects run it.',
      },
    ],
    sameBy: same.map(({ fact }) => fact.file).sort(),
  };
}

function typesDraft({ facts, graph }: Linked, { types, does }: SameWiring): Draft {
  const [first, second] = [itemAt(types, 0), itemAt(types, 1)];
  const name = (type: SameWiring['types'][number]): { name: string; piece: number } => ({
    name: type.name,
    piece: type.piece,
  });
  return {
    sentence: [
      ...sentence`${name(first)} and ${name(second)}`,
      types.length > 2 ? ` and ${types.length - 2} more` : '',
      ` hear and do the same in two languages: ${does
        .slice(0, 4)
        .map(({ verb, to }) => `${verb} ${nameOf(graph, to)}`)
        .join(', ')}`,
      does.length > 4 ? ` and ${does.length - 4} more` : '',
    ].filter((run) => run !== ''),
    sure: 'The links of both were compared; how the code comes to them was not.',
    pieces: types.map(({ piece }) => piece),
    evidence: types.slice(0, 6).map((type) => ({
      file: itemAt(facts, type.source).file,
      range: itemAt(type.script.types, type.local).range,
      shows: `${type.name}, ${type.script.language}`,
    })),
    walk: [],
    places: types.length,
    repairs: [
      {
        title: 'Keep one of them',
        words:
          'If both run in one game, each event is answered twice: keep the one that is meant, and take the other off its objects.',
      },
    ],
    sameBy: types.map((type) => `${itemAt(facts, type.source).file} ${type.name}`).sort(),
  };
}
