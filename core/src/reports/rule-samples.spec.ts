import { scanWith, useGrammars } from '../testing/project.js';
import { ruleSamples } from './rule-samples.js';

describe('samples of rules', () => {
  beforeAll(useGrammars);

  it('give the first thing that each rule found, with its place', () => {
    const plan = {
      files: {
        all: {
          match: '*.json',
          as: 'scene',
          pieces: {
            items: { at: '$.items[*]', kind: 'object', id: '$.id' },
            none: { at: '$.none[*]', kind: 'record' },
          },
          references: { refs: { at: '$..ref', by: 'id' } },
          events: { wires: { at: '$.wires[*]', event: '$' } },
          connections: { pipes: { at: '$.pipes[*]', to: '$' } },
          attachments: { scripts: { at: '$.scripts[*]', script: { field: '$' } } },
        },
      },
      scripts: { ts: { match: '*.ts', language: 'typescript' } },
      calls: [
        { call: 'ring($event)', means: 'send' },
        { call: '*.holder', means: 'step up' },
      ],
      literals: { pictures: { pattern: '\\.svg$', by: 'path' } },
    };
    const scene = {
      items: [
        { name: 'A', id: 'a' },
        { name: 'B', ref: 'a' },
      ],
      wires: ['noon'],
      pipes: ['a'],
      scripts: ['s.ts'],
    };
    const script = "class Bell { begin() { ring('noon'); this.holder; show('b.svg'); } }";
    const { linked } = scanWith({ 'f.json': scene, 's.ts': script }, plan);
    const told = [...ruleSamples(linked.facts, linked.plan)].map(
      ([rule, { text, file, line }]) => `${rule}: ${text} ${file}:${line}`,
    );
    expect(told).toEqual(
      jasmine.arrayWithExactContents([
        'files.all: f f.json:1',
        'files.all.pieces.items: A f.json:4',
        'files.all.references.refs: a f.json:9',
        'files.all.events.wires: noon f.json:13',
        'files.all.connections.pipes: a f.json:16',
        'files.all.attachments.scripts: s.ts f.json:19',
        'scripts.ts: Bell s.ts:1',
        'calls: ring($event): noon s.ts:1',
        'calls: *.holder: step up s.ts:1',
        'literals.pictures: .svg s.ts:1',
      ]),
    );
  });
});
