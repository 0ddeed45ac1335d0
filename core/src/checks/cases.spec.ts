/** Cases that a lead meets, as small flights of their own; the sample plants the others. */
import { titleOf } from '../model/graph.js';
import { plain } from '../model/finding.js';
import { GRIPS, VERBS } from '../model/link.js';
import { carrier, scan, scene, script, told, useGrammars, type Files } from '../testing/project.js';

describe('a rope that steps up twice to its boat and takes a child by name', () => {
  beforeAll(useGrammars);
  const rope = script('Rope', "this.holder.holder.child('Cleat').fasten(this);");
  const boat = (name: string, cleat: string, isShort: boolean): object => {
    const line = carrier('Line', 'rope.ts');
    const stern = isShort ? line : { name: 'Stern', objects: [line] };
    return { objects: [{ name, objects: [{ name: cleat }, stern] }] };
  };
  const files: Files = {
    'scripts/rope.ts': rope,
    'prefabs/tender.json': boat('Tender', 'Cleat', false),
    'prefabs/punt.json': boat('Punt', 'Cleat', true),
    'prefabs/barge.json': boat('Barge', 'Bollard', false),
    'scenes/quay.json': scene(
      ...['tender', 'punt', 'barge'].map((name) => ({
        name: `The ${name}`,
        objects: [{ name: 'Berth', prefab: `prefabs/${name}.json` }],
      })),
    ),
  };

  it('is right in one prefab, one level short in another, and finds another name in the third', () => {
    const [finding, ...others] = scan(files).findings.filter(({ check }) => check === 'broken/missing-object');
    expect([others, finding.places]).toEqual([[], 2]);
    const { evidence } = finding;
    expect([plain(finding.sentence), ...evidence.slice(2).map(({ shows }) => shows)]).toEqual([
      'Rope on quay / The punt / Berth / Line looks for a child called Cleat, two steps up; The punt has no such child',
      'Rope on quay / The barge / Berth / Stern / Line looks for a child called Cleat, two steps up; Berth has no such child',
    ]);
    expect(evidence.map(({ file }) => file)).toEqual(['scripts/rope.ts', 'scenes/quay.json', 'scenes/quay.json']);
  });
  it('shows the tree, step by step, and where the look-up left it', () => {
    const [punt] = scan(files).findings.filter(({ check }) => check === 'broken/missing-object');
    expect(punt.walk.map(({ asks, finds }) => `${asks}: ${finds}`)).toEqual([
      'starts on: quay / The punt / Berth / Line',
      'one step up: quay / The punt / Berth',
      'one step up: quay / The punt',
      'child “Cleat”: not among: Berth',
    ]);
  });
});

describe('a thing that code spawns', () => {
  beforeAll(useGrammars);
  const spawning = (code: string): string[] =>
    told(
      scan({
        'scripts/crane.ts': script('Crane', `const crate = spawnFrom('prefabs/crate.json'); ${code}`),
        'prefabs/crate.json': { objects: [{ name: 'Crate', objects: [{ name: 'Hook' }] }] },
        'scenes/quay.json': scene(carrier('Crane', 'crane.ts', { objects: [{ name: 'Chain' }] })),
      }),
      'broken/missing-object',
    );

  it('is asked for a child that its prefab does not have', () => {
    expect(spawning("crate.child('Hoop').swing();")).toEqual([
      'Crane on quay / Crane looks for a child called Hoop; Crate has no such child @ scripts/crane.ts:4',
    ]);
    expect(spawning("crate.child('Hook').swing();")).toEqual([]);
  });
  it('is put at a child that the spawning object does not have', () => {
    expect(spawning("crate.moveTo(this.child('Chian'));")).toEqual([
      'Crane on quay / Crane looks for a child called Chian; Crane has no such child @ scripts/crane.ts:4',
    ]);
    expect(spawning("crate.moveTo(this.child('Chain'));")).toEqual([]);
  });
});

describe('names that stand in constants and enums', () => {
  beforeAll(useGrammars);
  const using = (names: string, code: string): string[] =>
    told(
      scan({
        'scripts/names.ts': names,
        'scripts/gate.ts': `import { Names, LEAF } from './names';\n${script('Gate', code)}`,
        'scenes/quay.json': scene(carrier('Gate', 'gate.ts', { objects: [{ name: 'Left Leaf' }] })),
      }),
      'broken/missing-object',
    );

  it('are followed to what they say', () => {
    const enums = "export enum Names { leaf = 'Left Leaf', other = 'Right Leaf' } export const LEAF = 'Left Leaf';";
    expect(using(enums, 'this.child(Names.leaf).turn(70); this.child(LEAF).turn(3);')).toEqual([]);
    expect(using(enums, 'this.child(Names.other).turn(70);').length).toBe(1);
    const table = "export const Names = { leaf: 'Left Leaf', other: 'Right Leaf' };";
    expect(using(table, 'this.child(Names.leaf).turn(70);')).toEqual([]);
    expect(using(table, 'this.child(Names.other).turn(70);').length).toBe(1);
  });
});

describe('a target that was renamed', () => {
  beforeAll(useGrammars);

  it('holds where an identity names it, and Trace can say so', () => {
    const analysis = scan({
      'scripts/crane.ts': 'export class Crane { @slot() bell!: X; }',
      'scenes/a.json': scene(carrier('Crane', 'crane.ts', {}, { bell: '#bell' }), {
        name: 'A bell by any name',
        id: 'bell',
      }),
    });
    expect(analysis.findings).toEqual([]);
    const { graph } = analysis.linked;
    const uses = [...graph.links.verb.keys()].find((link) => VERBS[graph.links.verb[link]] === 'uses')!;
    expect([titleOf(graph, graph.links.to[uses]), GRIPS[graph.links.grip[uses]]]).toEqual([
      'a / A bell by any name',
      'fixed',
    ]);
  });
});
