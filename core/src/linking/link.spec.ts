import { linkAt, nameOf, titleOf } from '../model/graph.js';
import type { Analysis } from '../analyse.js';
import { carrier, scan, scene, script, useGrammars } from '../testing/project.js';

/** Every link as `from verb to (grip)`. */
function links({ linked: { graph } }: Analysis): string[] {
  return Array.from({ length: graph.linkCount }, (_, at) => {
    const link = linkAt(graph, at);
    return `${titleOf(graph, link.from)} ${link.verb} ${link.to < 0 ? `?${link.label}` : titleOf(graph, link.to)} (${link.grip})`;
  });
}

const ROPE = script('Rope', "const cleat = this.holder.holder.child('Cleat'); cleat.show();");
const boat = (name: string, cleat: string): object => ({
  name,
  objects: [{ name: cleat }, { name: 'Stern', objects: [carrier('Line', 'rope.ts')] }],
});

describe('linking', () => {
  beforeAll(useGrammars);

  it('judges one line of code from every object that carries it', () => {
    const analysis = scan({
      'scripts/rope.ts': ROPE,
      'scenes/a.json': scene(boat('Tender', 'Cleat'), boat('Barge', 'Bollard')),
    });
    expect(links(analysis)).toContain('a / Tender / Stern / Line / Rope uses a / Tender / Cleat (path)');
    expect(links(analysis)).toContain('a / Barge / Stern / Line / Rope uses ?Cleat (lost)');
  });

  it('unfolds prefabs inside prefabs and judges each instance', () => {
    const analysis = scan({
      'scripts/rope.ts': ROPE,
      'prefabs/line.json': { objects: [carrier('Line', 'rope.ts')] },
      'prefabs/boat.json': {
        objects: [
          {
            name: 'Boat',
            objects: [{ name: 'Cleat' }, { name: 'Stern', objects: [{ name: 'Line', prefab: 'prefabs/line.json' }] }],
          },
        ],
      },
      'scenes/a.json': scene(
        { name: 'One', prefab: 'prefabs/boat.json' },
        { name: 'Two', prefab: 'prefabs/boat.json' },
      ),
    });
    const uses = links(analysis).filter((link) => link.includes(' uses '));
    expect(uses).toEqual([
      'a / One / Stern / Line / Rope uses a / One / Cleat (path)',
      'a / Two / Stern / Line / Rope uses a / Two / Cleat (path)',
    ]);
    expect(links(analysis).filter((link) => link.includes('made from')).length).toBe(3);
  });

  it('adds to an instance what the scene writes on it', () => {
    const analysis = scan({
      'scripts/rope.ts': script('Rope', "this.child('Flag').show();"),
      'prefabs/line.json': { objects: [carrier('Line', 'rope.ts')] },
      'scenes/a.json': scene({ name: 'One', prefab: 'prefabs/line.json', objects: [{ name: 'Flag' }] }),
    });
    expect(links(analysis)).toContain('a / One / Rope uses a / One / Flag (path)');
  });

  it('does not run in circles when prefabs hold one another', () => {
    const analysis = scan({
      'prefabs/a.json': { objects: [{ name: 'A', objects: [{ name: 'B', prefab: 'prefabs/b.json' }] }] },
      'prefabs/b.json': { objects: [{ name: 'B', objects: [{ name: 'A', prefab: 'prefabs/a.json' }] }] },
      'scenes/s.json': scene({ name: 'One', prefab: 'prefabs/a.json' }),
    });
    expect(links(analysis).filter((link) => link.includes('made from')).length).toBe(3);
  });

  it('follows slots by identity, path and object path', () => {
    const analysis = scan({
      'scripts/boat.ts': 'export class Boat extends Behaviour { @slot() a; @slot() b; @slot() c; }',
      'data/ropes.json': {},
      'scenes/s.json': scene(
        { name: 'Ring', id: 'ring' },
        carrier('Tender', 'boat.ts', { objects: [{ name: 'Helm' }] }, { a: '#ring', b: 'data/ropes.json', c: '@Helm' }),
      ),
    });
    expect(links(analysis)).toContain('s / Tender / Boat uses s / Ring (fixed)');
    expect(links(analysis)).toContain('s / Tender / Boat uses ropes (path)');
    expect(links(analysis)).toContain('s / Tender / Boat uses s / Tender / Helm (path)');
  });

  it('looks from a slot’s target, and from a field set elsewhere in the code', () => {
    const analysis = scan({
      'scripts/boat.ts':
        "export class Boat extends Behaviour { @slot() ring; begin() { this.far = stage.find('Mast'); } pull() { this.ring.child('Pin').show(); this.far.child('Flag').show(); } }",
      'scenes/s.json': scene(
        { name: 'Ring', id: 'r', objects: [{ name: 'Pin' }] },
        { name: 'Mast', objects: [{ name: 'Flag' }] },
        carrier('Tender', 'boat.ts', {}, { ring: '#r' }),
      ),
    });
    expect(links(analysis)).toContain('s / Tender / Boat uses s / Ring / Pin (path)');
    expect(links(analysis)).toContain('s / Tender / Boat uses s / Mast / Flag (name)');
  });

  it('runs what a parent type does, unless the child replaces it', () => {
    const parent = script('Vessel', "this.child('Hull').show();");
    const files = (own: string): Record<string, object | string> => ({
      'scripts/vessel.ts': parent,
      'scripts/boat.ts': `export class Boat extends Vessel { ${own} }`,
      'scenes/s.json': scene(carrier('Tender', 'boat.ts', { objects: [{ name: 'Hull' }] })),
    });
    const hull = 's / Tender / Boat uses s / Tender / Hull (path)';
    expect(links(scan(files('')))).toContain(hull);
    expect(links(scan(files('begin() { super.begin(); }')))).toContain(hull);
    expect(links(scan(files('begin() {}')))).not.toContain(hull);
  });

  it('finds a part by its parent type', () => {
    const analysis = scan({
      'scripts/vessel.ts': 'export class Vessel {}',
      'scripts/boat.ts': 'export class Boat extends Vessel {}',
      'scripts/rope.ts': script('Rope', 'this.holder.part(Vessel).pull();'),
      'scenes/s.json': scene(carrier('Tender', 'boat.ts', { objects: [carrier('Line', 'rope.ts')] })),
    });
    expect(links(analysis)).toContain('s / Tender / Line / Rope uses s / Tender / Boat (name)');
  });

  it('calls a name made at run time built, and narrows it by what is known', () => {
    const analysis = scan({
      'scripts/boat.ts': script('Boat', 'this.child(`crew-${this.nick}`).show();'),
      'scenes/s.json': scene(carrier('Tender', 'boat.ts', { objects: [{ name: 'crew-ann' }, { name: 'mate' }] })),
    });
    expect(links(analysis)).toContain('s / Tender / Boat uses s / Tender / crew-ann (built)');
    expect(analysis.findings).toEqual([]);
  });

  it('joins both ends of an event, from scripts and from wires in files', () => {
    const analysis = scan({
      'scripts/a.ts':
        "export const Bells = { rung: 'bell.rung' };\nexport class A { ring() { bells.ring(Bells.rung); } }",
      'scripts/b.py':
        "class B:\n  def begin(self):\n    bells.hear('bell.rung', self.hear)\n  def hear(self):\n    pass\n",
      'scenes/s.json': {
        objects: [
          { name: 'Bell', id: 'b' },
          { name: 'Gate', id: 'g' },
        ],
        wires: [{ when: 'pressed', from: '#b', to: '#g', do: 'open' }],
      },
    });
    expect(links(analysis)).toEqual(
      jasmine.arrayContaining([
        'A sends bell.rung (name)',
        'B listens to bell.rung (name)',
        's / Bell sends pressed (name)',
        's / Gate listens to pressed (name)',
      ]),
    );
    expect(analysis.findings).toEqual([]);
  });

  it('numbers objects per file: an identity counts in its own file first', () => {
    const slots = { a: '#1' };
    const analysis = scan({
      'scripts/boat.ts': 'export class Boat extends Behaviour { @slot() a; }',
      'scenes/a.json': scene({ name: 'Ring A', id: '1' }, carrier('Boat', 'boat.ts', {}, slots)),
      'scenes/b.json': scene({ name: 'Ring B', id: '1' }, carrier('Boat', 'boat.ts', {}, slots)),
    });
    expect(links(analysis)).toContain('a / Boat / Boat uses a / Ring A (fixed)');
    expect(links(analysis)).toContain('b / Boat / Boat uses b / Ring B (fixed)');
  });

  it('counts what each rule of the plan came to', () => {
    const { linked } = scan({ 'scripts/rope.ts': ROPE, 'scenes/a.json': scene(boat('Tender', 'Cleat')) });
    expect(linked.rules.get('files.scenes.pieces.objects')!.pieces).toBe(4);
    const call = (row: string): (number | undefined)[] => {
      const { uses, links, lost } = linked.rules.get(`calls: ${row}`)!;
      return [uses, links, lost];
    };
    expect(call('*.holder')).toEqual([2, 0, 0]);
    expect(call('*.child($name)')).toEqual([1, 1, 0]);
    expect(call('table($path)')).toEqual([0, 0, 0]);
  });

  it('takes the type named as the file when a script holds several', () => {
    const { linked } = scan({
      'scripts/gauge-board.ts': 'class Helper {}\nexport class GaugeBoard {}',
      'scenes/a.json': scene(carrier('Gauge', 'gauge-board.ts')),
    });
    const runs = Array.from({ length: linked.graph.linkCount }, (_, at) => linkAt(linked.graph, at)).find(
      (link) => link.verb === 'runs',
    )!;
    expect(nameOf(linked.graph, runs.to)).toBe('GaugeBoard');
  });
});
