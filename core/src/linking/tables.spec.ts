/** Tables in code that the plan reads as documents: what is meant, what is found in them, and what other code reads of them. */
import { plain } from '../model/finding.js';
import { nameOf } from '../model/graph.js';
import { VERBS } from '../model/link.js';
import { scanWith, useGrammars, type Files } from '../testing/project.js';

const LANGUAGES = { typescript: 'ts', javascript: 'js', lua: 'lua', csharp: 'cs', python: 'py' };
const GOODS = {
  pieces: { good: { at: '$[*]', kind: 'record', id: { key: true }, named: { key: true } } },
  references: {
    needs: { at: '$[*].needs[*]', by: 'id', kinds: ['record'] },
    picture: { at: '$[*].picture', by: 'path', roots: ['pictures'] },
  },
};
const plan = (table: object): object => ({
  files: {
    pictures: { match: 'pictures/*', as: 'media' },
    data: {
      match: 'data/*',
      as: 'data asset',
      references: { cargo: { at: '$.cargo[*]', by: 'id', kinds: ['record'] } },
    },
  },
  scripts: Object.fromEntries(
    Object.entries(LANGUAGES).map(([language, ending]) => [
      language,
      { match: `scripts/*.${ending}`, language, tables: { goods: { ...GOODS, ...table } } },
    ]),
  ),
  house: { unattached: 'fine' },
});
const READY: Files = {
  'pictures/coal.svg': '',
  'pictures/salt.svg': '',
  'data/barge.json': { cargo: ['coal', 'salt'] },
};
const scanned = (files: Files, table: object): ReturnType<typeof scanWith> =>
  scanWith({ ...READY, ...files }, plan(table));
const lost = (files: Files, table: object): string[] =>
  scanned(files, table)
    .findings.filter(({ check }) => check.startsWith('broken/'))
    .map(({ sentence, evidence: [{ file, range }] }) => `${plain(sentence)} @ ${file}:${range.line}:${range.column}`)
    .sort();
const links = (files: Files, table: object): string[] => {
  const { linked } = scanned(files, table);
  const { links: all, linkCount } = linked.graph;
  return Array.from({ length: linkCount }, (_, at) => at)
    .filter((at) => all.to[at] >= 0)
    .map((at) => `${nameOf(linked.graph, all.from[at])} ${VERBS[all.verb[at]]} ${nameOf(linked.graph, all.to[at])}`)
    .sort();
};

/** The same table in every language; its last line names a good that is not there, and a picture that is not. */
const CODE: Record<string, string> = {
  'scripts/goods.ts': `export const GOODS = {
  coal: { needs: [], picture: 'coal.svg' },
  'salt': { needs: ['coal'], picture: 'salt.svg' },
  slate: { needs: ['coal', 'saltt'], picture: 'slat.svg' },
} as const;`,
  'scripts/goods.js': `const GOODS = {
  coal: { needs: [], picture: "coal.svg" },
  salt: { needs: ["coal"], picture: "salt.svg" },
  slate: { needs: ["coal", "saltt"], picture: "slat.svg" },
};`,
  'scripts/goods.lua': `GOODS = {
  coal = { needs = {}, picture = "coal.svg" },
  ["salt"] = { needs = { "coal" }, picture = "salt.svg" },
  slate = { needs = { "coal", "saltt" }, picture = "slat.svg" },
}`,
  'scripts/goods.cs': `class Stores { static readonly Dictionary<string, Good> GOODS = new Dictionary<string, Good> {
  ["coal"] = new Good { needs = new[] { "coal" }, picture = "coal.svg" },
  ["salt"] = new Good { needs = new[] { "coal" }, picture = "salt.svg" },
  ["slate"] = new Good { needs = new[] { "coal", "saltt" }, picture = "slat.svg" },
}; }`,
  'scripts/goods.py': `GOODS = {
  "coal": { "needs": [], "picture": "coal.svg" },
  "salt": { "needs": ["coal"], "picture": "salt.svg" },
  "slate": dict(needs=["coal", "saltt"], picture="slat.svg"),
}`,
};

describe('tables in code as documents', () => {
  beforeAll(useGrammars);

  for (const [file, text] of Object.entries(CODE)) {
    it(`are read in ${file}, with their places`, () => {
      const table = { assigned: ['GOODS', 'Stores.GOODS'] };
      const lines = text.split('\n');
      const column = (word: string): number => lines[3].indexOf(word) + 1;
      const [picture, need] = lost({ [file]: text }, table);
      expect(lost({ [file]: text }, table).length).toBe(2);
      expect(picture).toMatch(/pictures\/slat\.svg|slat\.svg/);
      expect(picture).toContain(`@ ${file}:4:${column('slat.svg') - 1}`);
      expect(need).toContain('saltt');
      expect(need).toContain(`@ ${file}:4:${column('saltt') - 1}`);
      expect(links({ [file]: text }, table)).toContain('barge uses coal');
    });
  }

  const where: { it: string; files: Files; table: object; lost: string[] }[] = [
    {
      it: 'what a file returns, by a name or as it is',
      files: {
        'scripts/a.lua': 'local goods = { coal = {}, salt = { needs = { "cole" } } }\nreturn goods',
        'scripts/b.lua': 'return { peat = { needs = { "peet" } } }',
      },
      table: { returned: '' },
      lost: ['cole', 'peet'],
    },
    {
      it: 'what a file exports as such',
      files: { 'scripts/a.ts': 'const goods = { coal: {}, salt: { needs: ["cole"] } };\nexport default goods;' },
      table: { assigned: 'default' },
      lost: ['cole'],
    },
    {
      it: 'what a function returns',
      files: { 'scripts/a.py': 'def goods():\n  return {"coal": {}, "salt": {"needs": ["cole"]}}\n' },
      table: { returned: 'goods' },
      lost: ['cole'],
    },
    {
      it: 'what is handed to a call, by its place',
      files: {
        'scripts/a.lua':
          'stock("coal", {})\nstock("salt", { needs = { "cole" } })\nother("slate", { needs = { "ash" } })',
      },
      table: {
        calls: 'stock',
        pieces: { good: { at: '$', kind: 'record', id: '$[0]', named: '$[0]' } },
        references: { needs: { at: '$[1].needs[*]', by: 'id', kinds: ['record'] } },
      },
      lost: ['cole'],
    },
    {
      it: 'what a decorator is given',
      files: {
        'scripts/a.ts':
          "@stocked({ id: 'coal' }) export class Coal {}\n@stocked({ id: 'salt', needs: ['cole'] }) export class Salt {}",
      },
      table: {
        decorators: 'stocked',
        pieces: { good: { at: '$[0]', kind: 'record', id: '$.id', named: '$.id' } },
        references: { needs: { at: '$[0].needs[*]', by: 'id', kinds: ['record'] } },
      },
      lost: ['cole'],
    },
    {
      it: 'what an attribute is given, by name',
      files: { 'scripts/a.cs': '[Stocked("coal")] class Coal {}\n[Stocked("salt", needs = "cole")] class Salt {}' },
      table: {
        decorators: 'Stocked',
        pieces: { good: { at: '$', kind: 'record', id: '$[0]', named: '$[0]' } },
        references: { needs: { at: '$.needs', by: 'id', kinds: ['record'] } },
      },
      lost: ['cole'],
    },
    {
      it: 'what is put together at run time is no reference',
      files: { 'scripts/a.ts': 'const GOODS = { coal: {}, salt: { needs: [`${name}`, pick(), a ? "x" : "y"] } };' },
      table: { assigned: 'GOODS' },
      lost: [],
    },
    {
      it: 'a name that the file gives a text stands for that text',
      files: {
        'scripts/a.ts':
          "const COAL = 'coal';\nconst ASH = 'ash';\nconst GOODS = { coal: {}, salt: { needs: [COAL, ASH] } };",
      },
      table: { assigned: 'GOODS' },
      lost: ['ash'],
    },
    {
      it: 'a table that holds functions as well',
      files: { 'scripts/a.lua': 'GOODS = { coal = {}, salt = { needs = { "cole" } }, pick = function() end }' },
      table: { assigned: 'GOODS' },
      lost: ['cole'],
    },
    {
      it: 'calls that only give on what they are given are passed through',
      files: { 'scripts/a.lua': 'GOODS = { coal = {}, salt = { needs = { _"cole", tr("coal") } } }' },
      table: { assigned: 'GOODS', through: ['_', 'tr'] },
      lost: ['cole'],
    },
    {
      it: 'keys are references where the plan says so',
      files: { 'scripts/a.lua': 'GOODS = { coal = {}, salt = {} }\nPRICES = { coal = 3, slt = 4 }' },
      table: {
        assigned: ['GOODS', 'PRICES'],
        pieces: { good: { at: '$[?!(@ > 0)]', kind: 'record', id: { key: true }, named: { key: true } } },
        references: { prices: { at: '$[?@ > 0]', by: 'id', kinds: ['record'], written: 'key' } },
      },
      lost: ['slt'],
    },
  ];
  for (const { it: title, files, table, lost: names } of where) {
    it(title, () => {
      const found = lost(files, table);
      expect(found.length).withContext(found.join('\n')).toBe(names.length);
      names.forEach((name, at) => expect(found[at]).toContain(` ${name}`));
    });
  }
});

describe('entries of tables that other code names', () => {
  beforeAll(useGrammars);
  const table = { assigned: 'GOODS', returned: '' };
  const TS = { 'scripts/goods.ts': "export const GOODS = { coal: { picture: 'coal.svg' }, salt: {} };" };
  const LUA = { 'scripts/goods.lua': 'local goods = { coal = {}, salt = {} }\nreturn goods' };
  const use = (code: string): Files => ({
    ...TS,
    'scripts/hold.ts': `import { GOODS as G } from './goods';\nexport class Hold { open() { ${code} } }`,
  });

  it('are links to what they hold', () => {
    expect(links(use('return G.coal;'), table)).toContain('Hold reads coal');
    expect(links(use("return G['coal'];"), table)).toContain('Hold reads coal');
    const lua = { ...LUA, 'scripts/hold.lua': 'local G = require("scripts.goods")\nprint(G.coal)' };
    expect(links(lua, table)).toContain('hold reads coal');
    const own = { 'scripts/a.py': 'GOODS = {"coal": {}, "salt": {}}\nprint(GOODS["salt"])\n' };
    expect(links(own, table)).toContain('a reads salt');
  });

  const cases: { it: string; files: Files; lost: string[] }[] = [
    {
      it: 'misspelt, in TypeScript',
      files: use('return G.coall;'),
      lost: ['Hold reads coall of GOODS, which has no such member; there is coal'],
    },
    {
      it: 'misspelt, in Lua',
      files: { ...LUA, 'scripts/hold.lua': 'local G = require("scripts.goods")\nprint(G.coall)' },
      lost: ['hold reads coall of G, which has no such member; there is coal'],
    },
    {
      it: 'misspelt, in Python',
      files: { 'scripts/a.py': 'GOODS = {"coal": {}, "salt": {}}\nprint(GOODS["slt"])\n' },
      lost: ['a reads slt of GOODS, which has no such member; there is salt'],
    },
    {
      it: 'members that every table has',
      files: { 'scripts/a.py': 'GOODS = {"coal": {}, "salt": {}}\nGOODS.items()\n' },
      lost: [],
    },
    {
      it: 'set elsewhere',
      files: { ...use('return G.peat;'), 'scripts/b.ts': "import { GOODS } from './goods';\nGOODS.peat = {};" },
      lost: [],
    },
    {
      it: 'given to it later on',
      files: {
        'scripts/a.lua':
          'GOODS = { coal = {}, salt = {} }\nGOODS.count = 3\nGOODS.pick = function() end\nfunction GOODS.more() end',
        'scripts/b.lua': 'print(GOODS.count, GOODS.pick, GOODS.more)',
      },
      lost: [],
    },
    {
      it: 'given to it by its name in brackets, or by one that is made',
      files: {
        'scripts/a.lua': 'GOODS = { coal = {}, salt = {} }',
        'scripts/b.lua': 'GOODS["peat"] = {}\nGOODS["turf"] = GOODS["peat"]\nprint(GOODS["slate"])',
        'scripts/c.lua': 'WARES = {}\nfor _, name in pairs(all()) do WARES[name] = {} end',
        'scripts/d.lua': 'print(WARES.flax)',
      },
      lost: ['b reads slate of GOODS, which has no such member'],
    },
    { it: 'with something else at hand', files: use('return G.peat ?? G.coal;'), lost: [] },
    { it: 'asked for', files: use('if (G.peat) return 1;'), lost: [] },
    {
      it: 'in a table that takes in another',
      files: { ...use('return G.peat;'), 'scripts/goods.ts': 'export const GOODS = { coal: {}, salt: {}, ...more };' },
      lost: [],
    },
    {
      it: 'of a local of the same name',
      files: { ...TS, 'scripts/b.ts': 'export function f(GOODS) { return GOODS.peat; }' },
      lost: [],
    },
    {
      it: 'from outside the project',
      files: { ...TS, 'scripts/b.ts': "import { GOODS } from 'harbour';\nexport const x = GOODS.peat;" },
      lost: [],
    },
  ];
  for (const { it: title, files, lost: wanted } of cases) {
    it(title, () => {
      const found = lost(files, table);
      expect(found.map((one) => one.replace(/ @.*$/, ''))).toEqual(wanted);
    });
  }
});

it('what a table says can be changed where it is written', async () => {
  await useGrammars();
  const { findings } = scanned({ 'scripts/goods.ts': CODE['scripts/goods.ts'] }, { assigned: 'GOODS' });
  const repair = findings.find(({ check }) => check === 'broken/missing-object')?.repairs[0];
  expect(repair?.title).toContain('salt');
  expect(JSON.stringify(repair?.changes)).toContain('"to":"salt"');
});
