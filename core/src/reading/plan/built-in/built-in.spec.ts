import type { Analysis } from '../../../analyse.js';
import { titleOf, VERBS } from '../../../index.js';
import { scanWith, useGrammars } from '../../../testing/project.js';
import { planForStandards } from './built-in.js';

function links({ linked: { graph } }: Analysis, verb: string): string[] {
  return Array.from({ length: graph.linkCount }, (_, at) => at)
    .filter((at) => VERBS[graph.links.verb[at]] === verb && graph.links.to[at] >= 0)
    .map((at) => {
      const label = graph.texts[graph.links.label[at]];
      return `${titleOf(graph, graph.links.from[at])} → ${titleOf(graph, graph.links.to[at])}${label ? ` (${label})` : ''}`;
    })
    .sort();
}

const lost = ({ linked }: Analysis): string[] => linked.lostReferences.map(({ loss }) => loss.wanted).sort();

const x3d = (body: string, files: Record<string, string> = {}): Analysis =>
  scanWith({ 'lock.x3d': `<X3D><Scene>${body}</Scene></X3D>`, ...files }, { extends: 'x3d' });

describe('the plan for X3D', () => {
  beforeAll(useGrammars);

  it('finds named nodes where they nest, and ties USE to them in their own file', () => {
    const result = x3d(
      '<Transform DEF="Chamber"><Group DEF="Gate"><Shape DEF="Leaf"/></Group><Shape USE="Leaf"/><Shape USE="Other"/></Transform>',
      { 'other.x3d': '<X3D><Scene><Shape DEF="Other"/></Scene></X3D>' },
    );
    expect(links(result, 'uses')).toEqual(['lock / Chamber → lock / Chamber / Gate / Leaf (USE)']);
    expect(lost(result)).toEqual(['Other']);
  });

  it('reads routes as connections', () => {
    const result = x3d(
      '<TouchSensor DEF="Touch"/><TimeSensor DEF="Clock"/><ROUTE fromNode="Touch" fromField="touchTime" toNode="Clock" toField="set_startTime"/><ROUTE fromNode="Clock" fromField="cycleTime" toNode="Bell" toField="ring"/>',
    );
    expect(links(result, 'sends')).toEqual(['lock / Touch → lock / Clock (touchTime → set_startTime)']);
    expect(lost(result)).toEqual(['Bell']);
  });

  it('follows lists of addresses, and leaves other places and code alone', () => {
    const result = x3d(
      `<Inline url='"path.x3d" "https://example.org/path.x3d"'/><ImageTexture url="gone.png"/><AudioClip url='"a%20b.wav"'/><Anchor url='"elsewhere.html"'/><Script url='"ecmascript: function go() { x = 1; }"'/><Script url='"keeper.js" "gone.js"'/>`,
      { 'path.x3d': '<X3D/>', 'a b.wav': '', 'keeper.js': 'function go() {}' },
    );
    expect(lost(result)).toEqual(['gone.js', 'gone.png']);
    expect(links(result, 'uses').length).toBe(3);
  });

  it('ties instances to prototypes of this file and of others', () => {
    const result = x3d(
      `<ProtoDeclare name="Paddle"><ProtoBody><Group DEF="Rack"/></ProtoBody></ProtoDeclare><ExternProtoDeclare name="Bollard" url='"fittings.x3d#Bollard"'/><ExternProtoDeclare name="Ring" url='"fittings.x3d#Ring"'/><ProtoInstance name="Paddle" DEF="Left"/><ProtoInstance name="Bollard"/><ProtoInstance name="Nothing"/>`,
      { 'fittings.x3d': '<X3D><Scene><ProtoDeclare name="Bollard"/></Scene></X3D>' },
    );
    expect(links(result, 'uses')).toEqual(['Bollard → Bollard (url)']);
    expect(lost(result)).toEqual(['Nothing', 'Ring']);
    expect(links(result, 'made from').length).toBe(2);
  });
});

const gltf = (content: object, files: Record<string, string> = {}): Analysis =>
  scanWith({ 'lock.gltf': content, ...files }, { extends: 'gltf' });

describe('the plan for glTF', () => {
  it('ties everything by its position', () => {
    const result = gltf(
      {
        scene: 0,
        scenes: [{ nodes: [0] }],
        nodes: [
          { name: 'Chamber', children: [1], mesh: 0 },
          { name: 'Gate', mesh: 3 },
        ],
        meshes: [{ name: 'Leaf', primitives: [{ material: 0, attributes: { POSITION: 0 } }] }],
        materials: [{ name: 'Wood', pbrMetallicRoughness: { baseColorTexture: { index: 0 } } }],
        textures: [{ name: 'Grain', source: 0 }],
        images: [{ uri: 'gone.png' }],
        buffers: [{ uri: 'lock.bin' }, { uri: 'data:application/octet-stream;base64,AAAA' }],
        animations: [{ name: 'Swing', channels: [{ target: { node: 1 } }, { target: { node: 9 } }] }],
      },
      { 'lock.bin': '' },
    );
    expect(links(result, 'uses')).toContain('lock / Chamber → lock / Leaf (mesh)');
    expect(links(result, 'holds')).toContain('lock / Chamber → lock / Chamber / Gate (children)');
    expect(links(result, 'uses')).toContain('lock / Wood → lock / Grain (index)');
    expect(links(result, 'moves')).toEqual(['lock / Swing → lock / Chamber / Gate (node)']);
    expect(lost(result)).toEqual(['0', '3', '9', 'gone.png']);
  });

  it('reads interactivity graphs: steps, flows, events and what they start', () => {
    const graph = {
      name: 'Keeping',
      events: [{ id: 'asked' }, { id: 'moved' }],
      declarations: [{ op: 'event/receive' }, { op: 'animation/start' }, { op: 'event/send' }],
      nodes: [
        { declaration: 0, configuration: { event: { value: [0] } }, flows: { out: { node: 1, socket: 'in' } } },
        { declaration: 1, values: { animation: { value: [0] } }, flows: { out: { node: 2, socket: 'in' } } },
        { declaration: 2, configuration: { event: { value: [1] } }, flows: { out: { node: 7 } } },
      ],
    };
    const result = gltf({ animations: [{ name: 'Swing' }], extensions: { KHR_interactivity: { graphs: [graph] } } });
    expect(links(result, 'calls')).toEqual([
      'animation/start → event/send (out → in)',
      'event/receive → animation/start (out → in)',
    ]);
    expect(links(result, 'sends')).toEqual(['event/send → moved (moved)']);
    expect(links(result, 'listens to')).toEqual(['event/receive → asked']);
    expect(links(result, 'uses')).toEqual(['animation/start → lock / Swing (value)']);
    expect(lost(result)).toEqual(['7']);
    // The host may send and hear: nothing is said of unmatched ends.
    expect(result.findings.filter((finding) => finding.check.startsWith('fragile/'))).toEqual([]);
  });
});

describe('folders without a plan', () => {
  it('get one when their files are of a standard', () => {
    expect(JSON.parse(planForStandards('A', ['in/a.X3D', 'b.gltf', 'c.png'])!)).toEqual({
      version: 1,
      name: 'A',
      extends: ['x3d', 'gltf'],
    });
    expect(planForStandards('A', ['a.json'])).toBeUndefined();
  });
});
