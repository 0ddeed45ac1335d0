/** How far look-ups reach: scenes, patterns, parts near by, what code attaches, values in force, imports. */
import type { Analysis } from '../analyse.js';
import { nameOf, titleOf } from '../model/graph.js';
import { GRIPS, VERBS, type Verb } from '../model/link.js';
import { carrier, scan, scanWith, scene, script, useGrammars, type Files } from '../testing/project.js';

/** Links of a verb that start from parts, as `part → target grip`. */
function links({ linked: { graph, losses } }: Analysis, verb: Verb): string[] {
  const found: string[] = [];
  for (let at = 0; at < graph.linkCount; at++) {
    if (VERBS[graph.links.verb[at]] !== verb) continue;
    const to = graph.links.to[at];
    const target = to >= 0 ? titleOf(graph, to) : `nothing (${losses.get(at)!.loss.wanted})`;
    found.push(`${nameOf(graph, graph.links.from[at])} → ${target} ${GRIPS[graph.links.grip[at]]}`);
  }
  return found.sort();
}
const CALLS = [
  { call: '*.holder', means: 'step up' },
  { call: '*.child($name)', means: 'child' },
  { call: '*.way($path)', means: 'object path' },
  { call: 'stage.find($name)', means: 'find' },
  { call: 'stage.anywhere($name)', means: 'find', reach: 'project' },
  { call: 'stage.like($name)', means: 'find', wild: true, scope: 'all' },
  { call: '*.part($type)', means: 'part' },
  { call: '*.partBelow($type)', means: 'part', on: 'below' },
  { call: '*.partAbove($type)', means: 'part', on: 'above' },
  { call: '*.attach($type)', means: 'attach' },
];
const looking = (code: string, files: Files, changes: object = {}): Analysis =>
  scan({ 'scripts/a.ts': script('A', code), ...files }, { calls: CALLS, ...changes });

describe('looking an object up by its name', () => {
  beforeAll(useGrammars);
  const files: Files = {
    'scenes/one.json': scene(carrier('A', 'a.ts')),
    'scenes/two.json': scene({ name: 'Clock' }, { name: 'Gate 1' }, { name: 'Gate 2' }),
  };

  it('reaches its own scene, those loaded together with it, or all', () => {
    expect(links(looking("stage.find('Clock');", files), 'uses')).toEqual(['A → nothing (Clock) lost']);
    const together = { together: [['one', 'scenes/two.json']] };
    expect(links(looking("stage.find('Clock');", files, together), 'uses')).toEqual(['A → two / Clock name']);
    expect(links(looking("stage.anywhere('Clock');", files), 'uses')).toEqual(['A → two / Clock name']);
  });
  it('finds all whose names fit a pattern, where the plan says so', () => {
    const together = { together: [['one', 'two']], engine: {} };
    expect(links(looking("stage.like('Gate *');", files, together), 'uses')).toEqual([
      'A → two / Gate 1 name',
      'A → two / Gate 2 name',
    ]);
    expect(links(looking("stage.like('Lock *');", files, together), 'uses')).toEqual(['A → nothing (Lock *) lost']);
  });
});

describe('a path put together at run time', () => {
  beforeAll(useGrammars);
  const crew = (...names: string[]): Files => ({
    'scenes/one.json': scene(
      carrier('A', 'a.ts', {
        objects: [{ name: 'Crew', objects: names.map((name) => ({ name, objects: [{ name: 'Hat' }] })) }],
      }),
    ),
  });
  const code = 'this.way(`Crew/${player.name}/Hat`);';

  it('is built, not broken, and narrowed by what is known of it', () => {
    const analysis = looking(code, crew('Ada', 'Bo'));
    expect(links(analysis, 'uses')).toEqual([
      'A → one / A / Crew / Ada / Hat built',
      'A → one / A / Crew / Bo / Hat built',
    ]);
    expect(analysis.findings).toEqual([]);
    expect(looking(code, crew()).findings).toEqual([]);
  });
  it('is broken where a step before the one that is made up is not there', () => {
    const analysis = looking(code.replace('Crew', 'Crw'), crew('Ada'));
    expect(analysis.findings.map(({ check }) => check)).toEqual(['broken/missing-object']);
  });
});

describe('parts near by', () => {
  beforeAll(useGrammars);
  const files: Files = {
    'scripts/b.ts': 'export class B {} export class C extends B {}',
    'scenes/one.json': scene({
      name: 'Boat',
      parts: [{ type: 'B' }],
      objects: [
        carrier('A', 'a.ts', { objects: [{ name: 'Hold', objects: [{ name: 'Box', parts: [{ type: 'C' }] }] }] }),
      ],
    }),
  };

  it('are found below and above, of child types too', () => {
    expect(links(looking('this.partBelow(B);', files), 'uses')).toEqual(['A → one / Boat / A / Hold / Box / C name']);
    expect(links(looking('this.partAbove(B);', files), 'uses')).toEqual(['A → one / Boat / B name']);
  });
  it('are lost where there is none, and not known above a prefab that nothing holds', () => {
    expect(looking('this.part(B);', files).findings.map(({ check }) => check)).toEqual(['broken/missing-part']);
    expect(looking('this.partAbove(C);', files).findings.map(({ check }) => check)).toEqual(['broken/missing-part']);
    const loose = {
      ...files,
      'scenes/one.json': '',
      'prefabs/p.json': { objects: [carrier('A', 'a.ts'), { name: 'X', parts: [{ type: 'C' }] }] },
    };
    expect(looking('this.partAbove(C);', loose).findings.map(({ check }) => check)).not.toContain(
      'broken/missing-part',
    );
  });
});

describe('scripts that code attaches', () => {
  beforeAll(useGrammars);

  it('run where the code puts them, and are judged from there', () => {
    const analysis = looking("this.child('Hull').attach(Leak);", {
      'scripts/leak.ts': script('Leak', "this.holder.child('Pump'); this.holder.child('Bung');"),
      'scenes/one.json': scene(carrier('A', 'a.ts', { objects: [{ name: 'Hull' }, { name: 'Pump' }] })),
    });
    expect(links(analysis, 'uses')).toEqual([
      'A → one / A / Hull path',
      'Leak → nothing (Bung) lost',
      'Leak → one / A / Pump path',
    ]);
    expect(links(analysis, 'runs')).toContain('Leak → Leak name');
  });
  it('may attach further ones', () => {
    const analysis = looking("this.child('Hull').attach(Leak);", {
      'scripts/leak.ts': script('Leak', 'this.holder.attach(Alarm);'),
      'scripts/alarm.ts': script('Alarm', "this.child('Hull');"),
      'scenes/one.json': scene(carrier('A', 'a.ts', { objects: [{ name: 'Hull' }] })),
    });
    expect(links(analysis, 'uses')).toContain('Alarm → one / A / Hull path');
  });
});

describe('values in force', () => {
  beforeAll(useGrammars);

  it('stand from the code to the instance, each with its place', () => {
    const pieces = {
      objects: {
        at: '$..objects[*]',
        kind: 'object',
        madeFrom: { field: '$.prefab' },
        parts: { at: '$.parts[*]', script: { field: '$.script' }, values: '$.slots' },
        overrides: { at: '$.changes[*]', part: '$.part', values: '$.set' },
      },
    };
    const { linked } = scanWith(
      {
        'rope.ts':
          'class Line extends Behaviour { @slot() length = 10; } export class Rope extends Line { @slot() name: string; hidden = 1; }',
        'prefabs/rope.json': {
          objects: [carrier('Rope', '', {}, {})].map((one) => ({
            ...one,
            parts: [{ script: 'rope.ts', slots: { length: 20 } }],
          })),
        },
        'prefabs/long.json': {
          objects: [{ name: 'Long', prefab: 'prefabs/rope.json', changes: [{ part: 'Rope', set: { length: 30 } }] }],
        },
        'scenes/quay.json': {
          objects: [
            { name: 'Line', prefab: 'prefabs/long.json', changes: [{ part: 'Rope', set: { length: 40, name: '' } }] },
          ],
        },
      },
      {
        files: {
          prefabs: { match: 'prefabs/*', as: 'prefab', pieces },
          scenes: { match: 'scenes/*', as: 'scene', pieces },
        },
        scripts: { ts: { match: '*.ts', language: 'typescript', exposed: { decorators: ['slot'] } } },
      },
    );
    const object = linked.world.names.inTree.get('Line')![0];
    const [part] = linked.valuesOf(object);
    const told = part.fields.map(({ field, type, levels }) => [
      field,
      type,
      ...levels.map(({ by, text, empty, file, range }) => `${by}: ${empty ? 'empty' : text} ${file}:${range.line}`),
    ]);
    expect(told).toEqual([
      ['name', 'string', 'Rope in code: empty rope.ts:1', 'scene quay: empty scenes/quay.json:11'],
      [
        'length',
        '',
        'Line in code: 10 rope.ts:1',
        'prefab rope: 20 prefabs/rope.json:9',
        'prefab long: 30 prefabs/long.json:10',
        'scene quay: 40 scenes/quay.json:10',
      ],
    ]);
    expect(linked.valuesOf(part.part)).toEqual([part]);
  });
});

describe('scripts that take each other in', () => {
  beforeAll(useGrammars);

  it('are linked in every language that names files, and modules from outside are left alone', () => {
    const match = (ending: string, language: string): object => ({ match: `**/*.${ending}`, language });
    const analysis = scanWith(
      {
        'boats/tender.ts': "import { Vessel } from './vessel.js'; import { Gate } from '../gate'; import 'deck';",
        'boats/vessel.ts': '',
        'gate/index.ts': '',
        'bell.lua': "local clapper = require('parts.clapper')",
        'parts/clapper.lua': '',
        'tide.py': 'from water.level import Level\nimport os\n',
        'water/level.py': 'class Level:\n  pass\n',
      },
      { scripts: { ts: match('ts', 'typescript'), lua: match('lua', 'lua'), py: match('py', 'python') } },
    );
    expect(links(analysis, 'imports')).toEqual([
      'bell → clapper path',
      'tender → index path',
      'tender → vessel path',
      'tide → level path',
    ]);
  });
});
