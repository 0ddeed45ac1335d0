/** The map for other programs: GraphML (its schema 1.1) and DOT, whole or what lies so many steps around a piece. */
import { cellAt, itemAt } from '../helpers/at.js';
import { GRIPS, VERBS } from '../model/link.js';
import { keyOf, kindOf, titleOf, type Graph } from '../model/graph.js';
import { xmlText } from './xml.js';

/** Pieces and links that are written. */
export interface MapPart {
  pieces: readonly number[];
  links: readonly number[];
}

/** What of a map is written: all of it, or what lies around some pieces. */
export function partOf(graph: Graph, around?: { pieces: readonly number[]; steps: number }): MapPart {
  if (!around) {
    const all = Array.from({ length: graph.linkCount }, (_, link) => link);
    return {
      pieces: Array.from({ length: graph.pieceCount }, (_, piece) => piece),
      links: all.filter((link) => cellAt(graph.links.to, link) >= 0),
    };
  }
  const { from, to } = graph.links;
  const depth = new Map<number, number>(around.pieces.map((piece) => [piece, 0]));
  const links = new Set<number>();
  const open = [...depth.keys()];
  for (let at = 0; at < open.length; at++) {
    const piece = itemAt(open, at);
    const next = (depth.get(piece) ?? 0) + 1;
    if (next > around.steps) continue;
    for (const { starts, items } of [graph.outgoing, graph.incoming])
      for (let index = cellAt(starts, piece); index < cellAt(starts, piece + 1); index++) {
        const link = cellAt(items, index);
        const other = cellAt(from, link) === piece ? cellAt(to, link) : cellAt(from, link);
        if (other < 0) continue;
        links.add(link);
        if (depth.has(other)) continue;
        depth.set(other, next);
        open.push(other);
      }
  }
  return { pieces: open.sort((a, b) => a - b), links: [...links].sort((a, b) => a - b) };
}

const NODE_DATA = ['key', 'kind', 'title', 'file', 'line'] as const;
const EDGE_DATA = ['verb', 'grip', 'label', 'file', 'line'] as const;

/** GraphML, with what is known of pieces and links as data. Given in stretches, since it may be longer than one text can be. */
export function* toGraphml(graph: Graph, { pieces, links }: MapPart): Generator<string> {
  yield '<?xml version="1.0" encoding="UTF-8"?>\n';
  yield '<graphml xmlns="http://graphml.graphdrawing.org/xmlns" xmlns:xsi="http://www.w3.org/2001/XMLSchema-instance" xsi:schemaLocation="http://graphml.graphdrawing.org/xmlns http://graphml.graphdrawing.org/xmlns/1.1/graphml.xsd">\n';
  const type = (name: string): string => (name === 'line' ? 'int' : 'string');
  for (const name of NODE_DATA)
    yield `  <key id="n-${name}" for="node" attr.name="${name}" attr.type="${type(name)}"/>\n`;
  for (const name of EDGE_DATA)
    yield `  <key id="e-${name}" for="edge" attr.name="${name}" attr.type="${type(name)}"/>\n`;
  yield '  <graph id="map" edgedefault="directed">\n';
  for (const piece of pieces) {
    const told = pieceTold(graph, piece);
    yield `    <node id="p${piece}">${NODE_DATA.map((name) => data(`n-${name}`, told[name])).join('')}</node>\n`;
  }
  for (const link of links) {
    const told = linkTold(graph, link);
    yield `    <edge id="l${link}" source="p${told.from}" target="p${told.to}">${EDGE_DATA.map((name) => data(`e-${name}`, told[name])).join('')}</edge>\n`;
  }
  yield '  </graph>\n</graphml>\n';
}

const data = (key: string, value: string | number): string =>
  value === '' ? '' : `<data key="${key}">${xmlText(String(value))}</data>`;

/** The language of DOT: a directed graph with quoted identifiers. */
export function* toDot(graph: Graph, { pieces, links }: MapPart): Generator<string> {
  yield 'digraph map {\n  rankdir=LR;\n  node [shape=box];\n';
  for (const piece of pieces) {
    const { title, kind } = pieceTold(graph, piece);
    yield `  p${piece} [label=${quoted(`${title}\n${kind}`)}, tooltip=${quoted(keyOf(graph, piece))}];\n`;
  }
  for (const link of links) {
    const { from, to, verb, label } = linkTold(graph, link);
    yield `  p${from} -> p${to} [label=${quoted(label ? `${verb} ${label}` : verb)}];\n`;
  }
  yield '}\n';
}

/** A string of DOT: backslashes stand for themselves, line ends are written out. */
function quoted(text: string): string {
  const plain = text.replace(/[\u0000-\u0009\u000b-\u001f]/g, ' ');
  return `"${plain.replace(/\\/g, '\\\\').replace(/"/g, '\\"').replace(/\n/g, '\\n')}"`;
}

function pieceTold(graph: Graph, piece: number): Record<(typeof NODE_DATA)[number], string | number> {
  return {
    key: keyOf(graph, piece),
    kind: kindOf(graph, piece),
    title: titleOf(graph, piece),
    file: itemAt(graph.texts, cellAt(graph.pieces.file, piece)),
    line: cellAt(graph.pieces.line, piece),
  };
}

function linkTold(
  graph: Graph,
  link: number,
): Record<Exclude<(typeof EDGE_DATA)[number], 'line'>, string> & Record<'from' | 'to' | 'line', number> {
  const { links, texts } = graph;
  return {
    from: cellAt(links.from, link),
    to: cellAt(links.to, link),
    verb: itemAt(VERBS, cellAt(links.verb, link)),
    grip: itemAt(GRIPS, cellAt(links.grip, link)),
    label: itemAt(texts, cellAt(links.label, link)),
    file: itemAt(texts, cellAt(links.file, link)),
    line: cellAt(links.line, link),
  };
}
