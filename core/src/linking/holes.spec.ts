/** Paths and names that are not written out: with holes that the plan fills, put together, whole folders, repeats, words. */
import { nameOf } from '../model/graph.js';
import { plain } from '../model/finding.js';
import { scanWith, useGrammars, type Files } from '../testing/project.js';

const plan = (reference: object, more: object = {}): object => ({
  files: {
    ports: {
      match: 'ports/*.json',
      as: 'data asset',
      pieces: { port: { at: '$', kind: 'record', id: '$.id', space: 'ports' } },
    },
    data: {
      match: 'data/*',
      as: 'data asset',
      pieces: { rows: { at: '$.rows[*]', kind: 'record', id: '$.id', repeat: { times: '$.times' } } },
      references: { it: { at: '$.is', by: 'path', ...reference } },
    },
    pictures: { match: 'pictures/**', as: 'media' },
  },
  ...more,
});
/** Names of what the only reference leads to, or what is told of it. */
const ends = (files: Files, reference: object = {}, more: object = {}): string[] => {
  const { linked, findings } = scanWith(files, plan(reference, more));
  const { graph } = linked;
  const found = Array.from({ length: graph.linkCount }, (_, at) => graph.links.to[at])
    .filter((to) => to >= 0)
    .map((to) => graph.texts[graph.pieces.file[to]] || nameOf(graph, to));
  const told = findings
    .filter(({ check }) => check.startsWith('broken/'))
    .map(
      ({ sentence, evidence: [{ range }], repairs }) =>
        `${plain(sentence)} @ ${range.line}:${range.column}, ${repairs.filter(({ changes }) => changes).length} repairs`,
    );
  return [...found.sort(), ...told];
};
const PORTS = { 'ports/north.json': { id: 'north' }, 'ports/south.json': { id: 'south' } };

describe('texts with holes', () => {
  const holes = (hole: object): object => ({ holes: { '{port}': hole } });
  const cases: { it: string; files: Files; hole: object; ends: string[] }[] = [
    {
      it: 'stand for each of a list of texts',
      files: { 'data/a.json': { is: 'pictures/{port}.svg' }, 'pictures/north.svg': '', 'pictures/south.svg': '' },
      hole: { texts: ['north', 'south', 'west'] },
      ends: ['pictures/north.svg', 'pictures/south.svg'],
    },
    {
      it: 'stand for each record of a space',
      files: { ...PORTS, 'data/a.json': { is: 'pictures/{port}.svg' }, 'pictures/north.svg': '' },
      hole: { records: { space: 'ports' } },
      ends: ['pictures/north.svg'],
    },
    {
      it: 'stand for numbers, with digits',
      files: {
        'data/a.json': { is: 'pictures/{port}.svg' },
        'pictures/01.svg': '',
        'pictures/02.svg': '',
        'pictures/3.svg': '',
      },
      hole: { from: 1, to: 3, digits: 2 },
      ends: ['pictures/01.svg', 'pictures/02.svg'],
    },
    {
      it: 'are lost when none is there',
      files: { 'data/a.json': { is: 'pictures/{port}.svg' }, 'pictures/east.svg': '' },
      hole: { texts: ['north', 'south'] },
      ends: ['a names the file pictures/{port}.svg in is; it does not exist @ 2:8, 0 repairs'],
    },
    {
      it: 'are lost when one that must be there is not',
      files: { 'data/a.json': { is: 'pictures/{port}.svg' }, 'pictures/south.svg': '' },
      hole: { texts: ['south'], must: ['north'] },
      ends: ['a names the file pictures/north.svg in is; it does not exist @ 2:8, 0 repairs'],
    },
  ];
  for (const { it: title, files, hole, ends: wanted } of cases)
    it(title, () => expect(ends(files, {}, holes(hole))).toEqual(wanted));

  it('of more fillings than are tried, nothing is said to be missing', () => {
    const files = { 'data/a.json': { is: 'pictures/{port}.svg' }, 'pictures/east.svg': '' };
    const many = Array.from({ length: 2500 }, (_, at) => `p${at}`);
    expect(ends(files, {}, holes({ texts: many }))).toEqual([]);
    expect(ends(files, {}, holes({ from: 1, to: 1_000_000_000 }))).toEqual([]);
    expect(ends(files, {}, holes({ texts: many, must: ['north'] })).length).toBe(1);
  });

  it('several in one text', () => {
    const files = {
      'data/a.json': { is: 'pictures/{port}{n}.svg' },
      'pictures/north1.svg': '',
      'pictures/south2.svg': '',
    };
    const more = { holes: { '{port}': { texts: ['north', 'south'] }, '{n}': { from: 1, to: 2 } } };
    expect(ends(files, {}, more)).toEqual(['pictures/north1.svg', 'pictures/south2.svg']);
  });

  it('in names, and in scripts', async () => {
    await useGrammars();
    const files = { ...PORTS, 'scripts/a.ts': "sail('{port}');" };
    const scripts = { ts: { match: 'scripts/*', language: 'typescript' } };
    const calls = [{ call: 'sail($id)', means: 'refer', target: { by: 'id', space: 'ports' } }];
    expect(ends(files, {}, { ...holes({ texts: ['north', 'south'] }), scripts, calls })).toEqual([
      'ports/north.json',
      'ports/south.json',
    ]);
  });
});

describe('references that are put together', () => {
  const text = { join: ['$.folder', { text: '/' }, '$.name', { text: '.svg' }] };
  it('lead to what all of it names', () => {
    const files = { 'data/a.json': { is: { folder: 'pictures', name: 'north' } }, 'pictures/north.svg': '' };
    expect(ends(files, { text })).toEqual(['pictures/north.svg']);
  });
  it('are lost as a whole, and no repair writes into a part', () => {
    const files = { 'data/a.json': { is: { folder: 'pictures', name: 'nort' } }, 'pictures/north.svg': '' };
    expect(ends(files, { text })).toEqual([
      'a names the file pictures/nort.svg in is; it does not exist @ 2:8, 0 repairs',
    ]);
  });
  it('are none where a part is missing', () => {
    expect(ends({ 'data/a.json': { is: { name: 'north' } }, 'pictures/north.svg': '' }, { text })).toEqual([]);
  });
});

describe('folders', () => {
  const files = {
    'data/a.json': { is: 'pictures' },
    'pictures/a.svg': '',
    'pictures/b.txt': '',
    'pictures/deep/c.svg': '',
  };
  it('mean the files in them', () =>
    expect(ends(files, { by: 'folder' })).toEqual(['pictures/a.svg', 'pictures/b.txt']));
  it('mean those that the plan says', () =>
    expect(ends(files, { by: 'folder', files: '**/*.svg' })).toEqual(['pictures/a.svg', 'pictures/deep/c.svg']));
  it('are lost when they are not there, or hold nothing of it', () => {
    expect(ends({ ...files, 'data/a.json': { is: 'picture' } }, { by: 'folder' }).length).toBe(1);
    expect(ends(files, { by: 'folder', files: '*.png' })).toEqual([
      'a names the file pictures in is; it does not exist @ 2:8, 0 repairs',
    ]);
  });
  it('are taken in as a whole', async () => {
    await useGrammars();
    const lua = {
      'scripts/main.lua': 'include("lib")\nlower()\nhaul()',
      'scripts/lib/a.lua': 'function lower() end',
      'scripts/other.lua': 'function haul() end',
    };
    const { findings } = scanWith(lua, {
      scripts: { lua: { match: 'scripts/**/*.lua', language: 'lua', sees: 'imports' } },
      calls: [{ call: 'include($path)', means: 'take in', target: { by: 'folder', from: 'file' } }],
      engine: { functions: ['print'] },
      house: { unattached: 'fine' },
    });
    expect(findings.map(({ sentence }) => plain(sentence))).toEqual([
      'main calls haul(), which only scripts/other.lua has',
    ]);
  });
});

it('a piece that stands for several is found under the name of each', () => {
  const rows = { rows: [{ id: 'buoy', name: 'Buoy', times: 3 }] };
  const by = (is: string): string[] => ends({ 'data/a.json': { is, ...rows } }, { by: 'name', kinds: ['record'] });
  expect(by('Buoy[2]')).toEqual(['data/a.json']);
  expect(by('Buoy[3]').length).toBe(1);
  expect(by('Buoy[3]')[0]).toContain('refers to Buoy[3]');
});

describe('words of a running text', () => {
  const every = { by: 'name', kinds: ['record'], every: true, pattern: '\\[(\\w+)\\]' };
  const at = (path: string, text: string, format: string): string[] =>
    scanWith(
      { [path]: text },
      { files: { all: { match: 'data/*', as: 'data asset', format, references: { it: { at: '$..is', ...every } } } } },
    )
      .findings.map(({ evidence: [{ range }] }) => `${range.line}:${range.column}-${range.endColumn}`)
      .sort();
  const cases: { it: string; path: string; text: string; format: string; at: string[] }[] = [
    {
      it: 'JSON with escapes',
      path: 'data/a.json',
      text: '{ "is": "a \\"q\\" \\u00e9 [coal] \\n and [salt]" }',
      format: 'json',
      at: ['1:26-30', '1:40-44'],
    },
    {
      it: 'XML with entities',
      path: 'data/a.xml',
      text: '<a is="&lt;b&gt; &#233; [coal]\n [salt]"/>',
      format: 'xml',
      at: ['1:26-30', '2:3-7'],
    },
    {
      it: 'YAML in a block',
      path: 'data/a.yaml',
      text: 'is: |\n  First [coal]\n  then [salt].\n',
      format: 'yaml',
      at: ['2:10-14', '3:9-13'],
    },
    {
      it: 'YAML folded',
      path: 'data/a.yaml',
      text: 'is: >\n  First [coal]\n  then [salt].\n',
      format: 'yaml',
      at: ['2:10-14', '3:9-13'],
    },
    {
      it: 'YAML in quotes over lines',
      path: 'data/a.yaml',
      text: "is: 'it''s [coal]\n  and [salt]'\n",
      format: 'yaml',
      at: ['1:13-17', '2:8-12'],
    },
    {
      it: 'CSV with doubled quotes',
      path: 'data/a.csv',
      text: 'is,b\n"say ""a"" [coal]",1\n',
      format: 'csv',
      at: ['2:13-17'],
    },
    {
      it: 'TOML over lines',
      path: 'data/a.toml',
      text: 'is = """\nsay [coal]\nand [salt]"""\n',
      format: 'toml',
      at: ['2:6-10', '3:6-10'],
    },
  ];
  for (const { it: title, path, text, format, at: wanted } of cases)
    it(`stand where they are written: ${title}`, () => expect(at(path, text, format)).toEqual(wanted));
});

describe('rows that hold for some texts only', () => {
  beforeAll(useGrammars);
  it('count where the text is one of them', () => {
    const files = { ...PORTS, 'scripts/a.ts': "go('port', 'north'); go('crew', 'south'); go(what, 'west');" };
    const scripts = { ts: { match: 'scripts/*', language: 'typescript' } };
    const calls = [
      {
        call: 'go($type, $id)',
        means: 'refer',
        when: { role: 'type', is: ['port'] },
        target: { by: 'id', space: 'ports' },
      },
    ];
    expect(ends(files, {}, { scripts, calls, house: { unattached: 'fine' } })).toEqual(['ports/north.json']);
  });
});
