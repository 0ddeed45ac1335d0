import { nameOf, titleOf, VERBS, kindOf } from '../../index.js';
import { GRIPS } from '../../model/link.js';
import { scanWith, useGrammars } from '../../testing/project.js';

const PLAN = {
  files: { facts: { match: '*.facts.ndjson', as: 'glue facts' } },
  scripts: { ts: { match: '*.ts', language: 'typescript' } },
  calls: [{ call: '*.child($name)', means: 'child' }],
};

function read(...lines: (object | string)[]): ReturnType<typeof scanWith> {
  const text = lines.map((line) => (typeof line === 'string' ? line : JSON.stringify(line))).join('\n');
  return scanWith({ 'out.facts.ndjson': text, 'rope.ts': "class Rope { begin() { this.child('Cleat'); } }" }, PLAN);
}

describe('glue facts', () => {
  beforeAll(useGrammars);

  it('puts pieces and links on the map, with their places in the own files', () => {
    const { linked } = read(
      { fact: 'piece', id: 's', kind: 'scene', name: 'Flight', file: 'flight.bin' },
      { fact: 'piece', id: 'o', kind: 'object', name: 'Tender', in: 's', labels: ['boat'], off: true },
      { fact: 'piece', id: 'p', kind: 'part', type: 'Rope', script: 'rope.ts', in: 'o' },
      { fact: 'piece', id: 'b', kind: 'object', name: 'Bell', in: 's', file: 'flight.bin', line: 7, column: 3 },
      { fact: 'link', from: 'o', to: 'b', verb: 'uses', label: 'signal' },
      { fact: 'link', from: 'o', to: 'gone', verb: 'uses', file: 'flight.bin', line: 9 },
    );
    const { graph } = linked;
    const said = Array.from(
      { length: graph.linkCount },
      (_, at) =>
        `${titleOf(graph, graph.links.from[at])} ${VERBS[graph.links.verb[at]]} ${graph.links.to[at] < 0 ? '?' : titleOf(graph, graph.links.to[at])} ${GRIPS[graph.links.grip[at]]}`,
    );
    expect(said).toContain('Flight / Tender uses Flight / Bell fixed');
    expect(said).toContain('Flight / Tender uses ? lost');
    expect(said).toContain('Flight / Tender labelled boat name');
    expect(said).toContain('Flight / Tender / Rope runs Rope path');
    // The script is judged on the object that carries it: a scene from an exporter is a scene.
    expect(said).toContain('Flight / Tender / Rope uses ? lost');
    const bell = Array.from({ length: graph.pieceCount }, (_, at) => at).find((at) => nameOf(graph, at) === 'Bell')!;
    expect([graph.texts[graph.pieces.file[bell]], graph.pieces.line[bell], kindOf(graph, bell)]).toEqual([
      'flight.bin',
      7,
      'object',
    ]);
  });

  it('names every line that cannot be taken, and takes the others', () => {
    const { linked } = read(
      { fact: 'piece', id: 'a', kind: 'object', name: 'A' },
      '{"fact": ',
      { fact: 'piece', id: 'b', kind: 'boat' },
      { fact: 'piece', id: 'a', kind: 'object' },
      { fact: 'piece', id: 'c', kind: 'object', in: 'nowhere' },
      { fact: 'piece', id: 'd', kind: 'part' },
      '',
      { fact: 'link', from: 'a', to: 'c', verb: 'hangs' },
    );
    const facts = linked.facts.find((fact) => fact.file.endsWith('ndjson'))!;
    expect(facts.problems.map(({ range, message }) => `${range.line} ${message.slice(0, 22)}`)).toEqual([
      '2 this line is not valid',
      '3 "kind" must be one of ',
      '4 the identity “a” stand',
      '5 “c” is in “nowhere”, w',
      '6 the part “d” is in not',
      '8 "verb" must be one of ',
    ]);
    expect(facts.pieces.map((piece) => piece.name)).toEqual(['A', 'c']);
  });
});
