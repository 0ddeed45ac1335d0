/** Functions that are named by a text: in scripts, in data, in wires; found, lost, or not to be known. */
import { plain } from '../model/finding.js';
import { nameOf } from '../model/graph.js';
import { VERBS } from '../model/link.js';
import { PLAN, carrier, scanWith, scene, script, useGrammars, type Files } from '../testing/project.js';

const CALLS = [
  ...PLAN.calls,
  { call: 'timer($function, ...)', means: 'call' },
  { call: 'later($function)', means: 'call', target: { by: 'function', in: ['file'] } },
  { call: 'shared($function)', means: 'call', target: { by: 'function', in: ['imports'] } },
  { call: 'any($function)', means: 'call', target: { by: 'function', in: ['project'] } },
  { call: 'include($path)', means: 'take in', target: { from: 'file', endings: ['.lua'] } },
  { call: '*.have($function)', means: 'call', target: { by: 'function', in: ['receiver'] } },
];
const plan = (references: object = {}): object => ({
  ...PLAN,
  calls: CALLS,
  files: { ...PLAN.files, data: { match: 'data/*', as: 'data asset', references } },
  scripts: { ...PLAN.scripts, lua: { match: 'scripts/*.lua', language: 'lua' } },
  // Without it, what descends from the engine's type is not judged.
  engine: { ...PLAN.engine, types: ['Behaviour'], members: ['body'] },
});
const told = (files: Files, references: object = {}): string[] =>
  scanWith(files, plan(references))
    .findings.filter(({ check }) => check === 'broken/missing-call')
    .map(({ sentence, repairs }) => `${plain(sentence)} → ${repairs[0].title}`);

describe('functions named by a text', () => {
  beforeAll(useGrammars);

  const TICKS = 'onTick() { this.body.rise(); } onTock() {}';
  const cases: { it: string; files: Files; lost?: string }[] = [
    { it: 'in the own type', files: { 'scripts/a.ts': script('A', "timer('onTick', 2);", TICKS) } },
    {
      it: 'in the own type, misspelt',
      files: { 'scripts/a.ts': script('A', "timer('onTikc', 2);", TICKS) },
      lost: 'A calls onTikc() by its name, and it is not there; there is onTick() → Write “onTick”',
    },
    {
      it: 'in a parent',
      files: {
        'scripts/hull.ts': script('Hull', '', 'onMoored() {}'),
        'scripts/a.ts': "export class A extends Hull { begin() { timer('onMoored'); } }",
      },
    },
    {
      it: 'in a parent that has it no longer',
      files: {
        'scripts/hull.ts': script('Hull', '', 'onLanded() {}'),
        'scripts/a.ts': "export class A extends Hull { begin() { timer('onMoored'); } }",
      },
      lost: 'A calls onMoored() by its name, and it is not there → Define it or take the call out',
    },
    {
      it: 'where a parent is not known',
      files: { 'scripts/a.ts': "export class A extends Crane { begin() { timer('onMoored'); } }" },
    },
    { it: 'put together at run time', files: { 'scripts/a.ts': script('A', 'timer(this.what + "Tick");') } },
    {
      it: 'in a constant',
      files: { 'scripts/a.ts': `const WHAT = 'onTikc';\n${script('A', 'timer(WHAT);', TICKS)}` },
      lost: 'A calls onTikc() by its name, and it is not there; there is onTick() → Write “onTick”',
    },
    {
      it: 'as a handler',
      files: { 'scripts/a.ts': script('A', "bells.hear('rope.tight', 'onTikc');", TICKS) },
      lost: 'A calls onTikc() by its name, and it is not there; there is onTick() → Write “onTick”',
    },
    { it: 'as a handler that is there', files: { 'scripts/a.ts': script('A', "bells.hear('x', 'onTick');", TICKS) } },
    {
      it: 'of another type, named with it',
      files: { 'scripts/a.ts': script('A', "timer('B.onTikc');"), 'scripts/b.ts': script('B', '', TICKS) },
      lost: 'A calls B.onTikc() by its name, and it is not there; there is B.onTick() → Write “B.onTick”',
    },
    {
      it: 'in the own file of another language',
      files: { 'scripts/a.lua': "function on_tick() end\nlater('on_tick')\n" },
    },
    {
      it: 'in the own file of another language, misspelt',
      files: { 'scripts/a.lua': "function on_tick() end\nlater('on_tikc')\n" },
      lost: 'a calls on_tikc() by its name, and it is not there; there is on_tick() → Write “on_tick”',
    },
    {
      it: 'by code outside of types, which another file may have',
      files: { 'scripts/a.lua': "timer('on_tick')\n", 'scripts/b.lua': 'function on_tick() end\n' },
    },
    {
      it: 'by code outside of types, which nobody has',
      files: { 'scripts/a.lua': "timer('on_tikc')\n", 'scripts/b.lua': 'function on_tick() end\n' },
      lost: 'a calls on_tikc() by its name, and it is not there → Define it or take the call out',
    },
    {
      it: 'in a file that is taken in by one that is taken in',
      files: {
        'scripts/a.lua': "require('scripts.b')\nshared('on_tick')\n",
        'scripts/b.lua': "require('scripts.c')\n",
        'scripts/c.lua': 'function on_tick() end\n',
      },
    },
    {
      it: 'in a file that is not taken in',
      files: {
        'scripts/a.lua': "require('scripts.b')\nshared('on_tick')\n",
        'scripts/b.lua': '',
        'scripts/c.lua': 'function on_tick() end\n',
      },
      lost: 'a calls on_tick() by its name, and it is not there → Define it or take the call out',
    },
    {
      it: 'in a file that a call of the team’s own takes in',
      files: { 'scripts/a.lua': "include('b')\nshared('on_tick')\n", 'scripts/b.lua': 'function on_tick() end\n' },
    },
    {
      it: 'in a file that a call of the team’s own takes in, misspelt',
      files: { 'scripts/a.lua': "include('b')\nshared('on_tikc')\n", 'scripts/b.lua': 'function on_tick() end\n' },
      lost: 'a calls on_tikc() by its name, and it is not there; there is on_tick() → Write “on_tick”',
    },
    {
      it: 'where something from outside is taken in',
      files: { 'scripts/a.lua': "require('outside')\nshared('on_tick')\n" },
    },
    {
      it: 'anywhere',
      files: { 'scripts/a.ts': script('A', "any('on_tick');"), 'scripts/b.lua': 'function on_tick() end\n' },
    },
    {
      it: 'nowhere',
      files: { 'scripts/a.ts': script('A', "any('on_tikc');"), 'scripts/b.lua': 'function on_tick() end\n' },
      lost: 'A calls on_tikc() by its name, and it is not there; there is on_tick() → Write “on_tick”',
    },
    {
      it: 'on the type of what the call is made on',
      files: {
        'scripts/a.ts': script('A', "this.hull.have('onTikc');", 'hull: Hull;'),
        'scripts/hull.ts': script('Hull', '', TICKS),
      },
      lost: 'A calls onTikc() by its name, and it is not there; there is onTick() → Write “onTick”',
    },
    {
      it: 'on something of which the type is not known',
      files: { 'scripts/a.ts': script('A', "this.hull.have('onTikc');") },
    },
  ];
  for (const { it: words, files, lost } of cases)
    it(`are looked for ${words}`, () => expect(told(files)).toEqual(lost === undefined ? [] : [lost]));

  describe('in data', () => {
    const ON_OBJECT = { does: { at: '$..does', by: 'function', in: ['object'] } };
    const hull = script('Hull', '', 'moor() {}');
    const sceneRules = { ...PLAN.files.scenes, references: ON_OBJECT };
    const inScene = (does: string, files: Files = { 'scripts/hull.ts': hull }): string[] =>
      scanWith(
        { 'scenes/a.json': scene(carrier('Barge', 'hull.ts', { does })), ...files },
        { ...plan(), files: { ...PLAN.files, scenes: sceneRules } },
      ).findings.flatMap(({ check, sentence }) => (check === 'broken/missing-call' ? [plain(sentence)] : []));

    it('are looked for on the scripts of the object around', () => {
      expect(inScene('moor')).toEqual([]);
      expect(inScene('moro')).toEqual(['a / Barge calls moro() by its name, and it is not there; there is moor()']);
      expect(inScene('moro', {})).toEqual([]);
    });

    it('are looked for in the script or type that another field names', () => {
      for (const [by, holder] of [
        ['type', 'Hull'],
        ['path', 'scripts/hull.ts'],
      ]) {
        const references = {
          moored: { at: '$..moored', by: 'function', in: ['holder'], holder: { field: '$.code', by } },
        };
        const data = (moored: string): Files => ({
          'data/a.json': { boats: [{ code: holder, on: { moored } }] },
          'scripts/hull.ts': hull,
        });
        expect(told(data('moor'), references))
          .withContext(by)
          .toEqual([]);
        expect(told(data('moro'), references))
          .withContext(by)
          .toEqual(['a calls moro() by its name, and it is not there; there is moor() → Write “moor”']);
      }
    });

    it('are looked for in all scripts, as the text of XML elements', () => {
      const references = { moored: { at: '$..moored[*]["#text"]', by: 'function', in: ['project'] } };
      const data = (name: string): Files => ({ 'data/a.xml': `<b><moored>${name}</moored></b>`, 'scripts/h.ts': hull });
      expect(told(data('moor'), references)).toEqual([]);
      expect(told(data('moro'), references).length).toBe(1);
    });
  });

  it('are links to whoever has them, and stories go on into them', () => {
    const { linked } = scanWith(
      {
        'scripts/a.ts': script(
          'A',
          "bells.hear('tide', 'onTide');",
          "onTide() { timer('open'); } open() { bells.ring('opened'); }",
        ),
        'scripts/b.ts': script('B', "any('open');"),
      },
      plan(),
    );
    const { graph } = linked;
    const links = [...graph.links.from.slice(0, graph.linkCount)].map((from, link) =>
      [nameOf(graph, from), VERBS[graph.links.verb[link]], nameOf(graph, Math.max(0, graph.links.to[link]))].join(' '),
    );
    expect(links).toContain('B calls A');
    expect(linked.storyOf('tide', 'forward').map(({ does, what }) => `${does} ${what}`)).toContain('sends opened');
  });
});
