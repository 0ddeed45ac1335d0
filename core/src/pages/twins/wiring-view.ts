/** How wiring that is saved twice is shown. */
import { cellAt, itemAt, must } from '../../helpers/at.js';
import type { Linked } from '../../linking/linked.js';
import { nameOf } from '../../model/graph.js';
import type { GraphSteps, PastedWires, SameWiring } from '../../twins/wiring.js';
import type { TwinView, TwinPlaceView } from './twin-view.js';

export function wiresView({ facts, world, graph }: Linked, { source, pairs, wire, own }: PastedWires): TwinView {
  const { file } = itemAt(facts, source);
  const nameIn = (id: string): { name: string; piece: number } => {
    const piece = (world.names.byId.get(id) ?? []).find(
      (one) => itemAt(graph.texts, cellAt(graph.pieces.file, one)) === file,
    );
    return piece === undefined ? { name: id, piece: -1 } : { name: nameOf(graph, piece), piece };
  };
  const place = (side: 0 | 1, change: string): TwinPlaceView => {
    const lines = pairs.map((pair) => pair[side].range.line);
    const [line, endLine] = [Math.min(...lines), Math.max(...lines)];
    return { ...nameIn(itemAt(pairs, 0)[side].from), file, line, endLine, change };
  };
  return {
    kind: 'wiring',
    likeness: 'the same wires, one of them left as it was',
    risk: 'drifted apart',
    parting: '',
    saves: 0,
    places: [
      place(0, 'Stays as it is.'),
      place(1, `${wire.event} → ${wire.handler}() in line ${wire.range.line} leads to ${nameIn(own).name}.`),
    ],
    differences: pairs
      .filter(([one, other]) => one.to !== other.to || other === wire)
      .map(([one, other]) => ({
        what: 'wire',
        lines: [one.range.line, other.range.line],
        before: [0, 0],
        words: [one, other].map(({ event, to, handler }) => `${event} → ${nameIn(to).name}.${handler}()`),
        parting: '',
      })),
    fields: [],
    home: { words: '', change: 'Each object keeps wires of its own; one of them is led elsewhere.' },
  };
}

export function graphsView({ world }: Linked, graphs: GraphSteps[]): TwinView {
  return {
    kind: 'wiring',
    likeness: `the same ${itemAt(graphs, 0).steps.length} steps in the same order`,
    risk: 'the same',
    parting: '',
    saves: 0,
    places: graphs.map(({ source, fact, steps }, at) => ({
      name: fact.name,
      file: fact.file,
      line: itemAt(steps, 0).range.line,
      endLine: must(steps.at(-1)).range.line,
      piece: itemAt(world.files.piece, source),
      change: at === 0 ? 'Stays, with a variable for what differs.' : 'Goes out; who runs it runs the first.',
    })),
    differences: [],
    fields: [],
    home: { words: 'one graph that all of them run', change: `${itemAt(graphs, 0).fact.name} is kept.` },
  };
}

export function sameWiringView({ facts, graph }: Linked, { types, does }: SameWiring): TwinView {
  return {
    kind: 'wiring',
    likeness: `the same wiring in two languages: ${does.map(({ verb, to }) => `${verb} ${nameOf(graph, to)}`).join(', ')}`,
    risk: 'the same',
    parting: '',
    saves: 0,
    places: types.map(({ name, piece, source, script, local }) => {
      const { line, endLine } = itemAt(script.types, local).range;
      const change = 'Stays, or goes out: one of them is enough.';
      return { name, file: itemAt(facts, source).file, line, endLine, piece, change };
    }),
    differences: [],
    fields: [],
    home: { words: 'one of them', change: '' },
  };
}
