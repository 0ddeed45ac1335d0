/** What scripts take in, and what they see of others: found, lost, or not to be known. */
import { plain } from '../model/finding.js';
import { scanWith, useGrammars, type Files } from '../testing/project.js';

const ENDINGS = { typescript: 'ts', javascript: 'js', lua: 'lua', csharp: 'cs', python: 'py' };
const plan = (more: object = {}, rest: object = {}): object => ({
  scripts: Object.fromEntries(
    Object.entries(ENDINGS).map(([language, ending]) => [language, { match: `**/*.${ending}`, language, ...more }]),
  ),
  files: { crews: { match: '**/crew.json', as: 'package', id: '$.id', needs: { at: '$.needs[*]', id: '$' } } },
  calls: [{ call: 'include($path)', means: 'take in', target: { from: 'file' } }],
  house: { unattached: 'fine' },
  engine: { functions: ['print', 'log'], types: ['Behaviour'], members: ['body'], files: ['engine.*'] },
  ...rest,
});
const told = (files: Files, more?: object, rest?: object): string[] =>
  scanWith(files, plan(more, rest))
    .findings.filter(({ check }) => check.startsWith('broken/'))
    .map(({ check, sentence }) => `${check.slice(7)}: ${plain(sentence)}`)
    .sort();

interface Case {
  it: string;
  files: Files;
  more?: object;
  rest?: object;
  told: string[];
}
const all = (title: string, cases: Case[]): void =>
  describe(title, () => {
    beforeAll(useGrammars);
    for (const { it: name, files, more, rest, told: wanted } of cases)
      it(name, () => expect(told(files, more, rest)).toEqual(wanted));
  });

all('files that are taken in', [
  {
    it: 'TypeScript: one that is not there',
    files: { 'a/b.ts': "import { x } from './hul';\nexport * from '../c/d';", 'a/hull.ts': 'export const x = 1;' },
    told: [
      'missing-file: b names the file ../c/d; it does not exist',
      'missing-file: b names the file ./hul; it does not exist',
    ],
  },
  {
    it: 'TypeScript: in other capitals',
    files: { 'a/b.ts': "import { x } from './Hull';", 'a/hull.ts': 'export const x = 1;' },
    told: ['case-only: b names ./Hull; it is written a/hull.ts'],
  },
  {
    it: 'TypeScript: files of other kinds, folders, what becomes of files, what is passed over, and modules from outside',
    files: {
      'a/b.ts':
        "import './look.css';\nimport rows from './rows.json';\nimport { x } from './hull.js';\nimport { y } from './parts';\nimport { z } from './made/all';\nimport 'three';\nimport { w } from './look.css?raw';",
      'a/look.css': '',
      'a/rows.json': {},
      'a/hull.ts': 'export const x = 1;',
      'a/parts/index.ts': 'export const y = 1;',
    },
    rest: { ignore: ['a/made/**'] },
    told: [],
  },
  {
    it: 'by a beginning that the plan explains',
    files: {
      'src/boats/hull.ts': 'export const x = 1;',
      'src/a.ts': "import { x } from '@/boats/hull';\nimport { y } from '@/boats/keel';",
    },
    more: { imports: { schemes: { '@/': 'src' }, endings: ['.ts'] } },
    told: ['missing-file: a names the file @/boats/keel; it does not exist'],
  },
  {
    it: 'Lua: by dots, from the root, from beside, and from where nobody says',
    files: {
      'boats/hull.lua': 'return {}',
      'game/lib/rope.lua': 'return {}',
      'boats/a.lua':
        'local h = require("boats.hull")\nlocal k = require("boats.keel")\nlocal r = require("lib.rope")\nlocal s = require("socket.http")\nlocal e = require("engine.sound")',
    },
    told: ['missing-file: a names the file boats.keel; it does not exist'],
  },
  {
    it: 'Python: by dots, relative ones, and modules of folders',
    files: {
      'boats/__init__.py': '',
      'boats/hull.py': 'DEPTH = 1\n',
      'boats/a.py':
        'from .hull import DEPTH\nfrom . import hull\nfrom .keel import x\nimport boats.mast\nimport os.path\nfrom boats import hull\n',
    },
    told: [
      'missing-file: a names the file .keel; it does not exist',
      'missing-file: a names the file boats.mast; it does not exist',
    ],
  },
]);

all('names that may be meant otherwise', [
  {
    it: 'Python: a module from outside that a file far away is called like',
    files: {
      'a.py': 'from tools import sail\nfrom lib.knots import reef\n',
      'deep/tools.py': 'x = 1\n',
      'deep/lib/knots.py': 'x = 1\n',
    },
    told: [],
  },
  {
    it: 'Python: faults that the language brings, and types inside a type',
    files: {
      'b.py':
        'import sys\nfor side, sail in []:\n  sail(1)\nprint([tug(1) for tug in []])\nclass A:\n  if sys.x:\n    def moor(self):\n      pass\n  def go(self):\n    self.moor()\n',
      'a.py':
        'class Hull:\n  class Load:\n    pass\n  def begin(self):\n    self.load = self.Load()\n    raise EOFError("x")\n',
    },
    told: [],
  },
]);

all('names that are taken from a file', [
  {
    it: 'TypeScript: one that it does not give',
    files: {
      'a.ts': "import { hull, keel as k } from './b';\nimport mast from './b';",
      'b.ts': 'const keel = 1;\nexport const { hull, hold: [first] } = { hull: 1, hold: [2] };',
    },
    told: [
      'missing-member: a takes default from b, which gives nothing of that name',
      'missing-member: a takes keel from b, which gives nothing of that name',
    ],
  },
  {
    it: 'TypeScript: every way of giving one',
    files: {
      'a.ts':
        "import mast, { a, B, C, D, E, f, g, h, first, K, ns, moved } from './b';\nimport type { T } from './b';\nimport * as all from './b';",
      'b.ts':
        "export const a = 1;\nexport class B {}\nexport enum C { X }\nexport interface D {}\nexport namespace E { export const x = 1; }\nexport function f() {}\nexport async function* g() {}\nconst x = 1;\nexport { x as h };\nexport const [first] = [1];\nexport abstract class K {}\nexport type T = number;\nexport default class {}\nexport * as ns from './c';\nexport * from './c';",
      'c.ts': 'export let moved = 1;',
    },
    told: [],
  },
  {
    it: 'TypeScript: given on by name from a file that has it not',
    files: { 'b.ts': "export { hull } from './c';", 'c.ts': 'export const hulk = 1;' },
    told: ['missing-member: b takes hull from c, which gives nothing of that name; there is hulk'],
  },
  {
    it: 'JavaScript: files that give in another way are not judged',
    files: {
      'a.js': "import { hull } from './b';\nimport { keel } from './c';",
      'b.js': 'module.exports = { hull: 1 };',
      'c.js': 'var x = 1;',
    },
    told: [],
  },
  {
    it: 'TypeScript: what comes from outside may be given on',
    files: { 'a.ts': "import { hull } from './b';", 'b.ts': "export * from 'boats';\nexport const x = 1;" },
    told: [],
  },
  {
    it: 'Python: one that it does not have, and modules beside it',
    files: {
      'boats/__init__.py': 'from .hull import *\n',
      'boats/hull.py': 'class Hull:\n  pass\nif True:\n  DEPTH = 1\nfor side in "lr":\n  pass\n',
      'a.py': 'from boats import Hull, DEPTH, hull, side, keel\n',
    },
    told: ['missing-member: a takes keel from __init__, which gives nothing of that name'],
  },
]);

all('functions without a receiver', [
  {
    it: 'TypeScript: one of another file that is not taken in',
    files: { 'a.ts': 'export const x = 1;\nlower();', 'b.ts': 'export function lower() {}' },
    told: ['missing-call: a calls lower(), which only b.ts has'],
  },
  {
    it: 'TypeScript: taken in, the own one, declared for all, of a file that is no module, the engine’s',
    files: {
      'a.ts':
        "import { lower } from './b';\nlower(); raise(); tug(); moor(); haul(); print('x');\nfunction raise() { for (const one of load()) print(one); function* load() {} }\nexport {};",
      'b.ts': 'export function lower() {}',
      'types.d.ts': 'declare function tug(): void;',
      'more.d.ts': 'export {};\ndeclare global { function moor(): void; }',
      'plain.ts': 'function haul() {}',
    },
    told: [],
  },
  {
    it: 'Python: by all that a file gives, and not else',
    files: {
      'a.py': 'from b import *\nlower()\nhaul()\n',
      'b.py': 'def lower():\n  pass\n',
      'c.py': 'def haul():\n  pass\n',
    },
    told: ['missing-call: a calls haul(), which only c.py has'],
  },
  {
    it: 'Python: not where all of a module from outside is taken in',
    files: { 'a.py': 'from boats import *\nhaul()\n', 'c.py': 'def haul():\n  pass\n' },
    told: [],
  },
  {
    it: 'Lua: anywhere, unless the plan says otherwise',
    files: { 'a.lua': 'haul()', 'c.lua': 'function haul() end' },
    told: [],
  },
  {
    it: 'Lua: in what is taken in, and in turn',
    files: {
      'a.lua': 'include("b.lua")\nlower()\nhaul()',
      'b.lua': 'include("d.lua")',
      'd.lua': 'function lower() end',
      'c.lua': 'function haul() end',
    },
    more: { sees: 'imports' },
    told: ['missing-call: a calls haul(), which only c.lua has'],
  },
  {
    it: 'Lua: not where something from outside is taken in',
    files: {
      'a.lua': 'include("b.lua")\nlocal s = require("socket")\nhaul()',
      'b.lua': '',
      'c.lua': 'function haul() end',
    },
    more: { sees: 'imports' },
    told: [],
  },
  {
    it: 'Lua: in what is loaded together with it',
    files: {
      'main.lua': 'include("a.lua")\ninclude("b.lua")',
      'a.lua': 'lower()\nhaul()',
      'b.lua': 'function lower() end',
      'c.lua': 'function haul() end',
    },
    more: { sees: 'together' },
    told: ['missing-call: a calls haul(), which only c.lua has'],
  },
  {
    it: 'Lua: in the own package and those it needs',
    files: {
      'north/crew.json': { id: 'north', needs: ['base'] },
      'base/crew.json': { id: 'base' },
      'south/crew.json': { id: 'south' },
      'north/a.lua': 'lower()\nhaul()',
      'base/b.lua': 'function lower() end',
      'south/c.lua': 'function haul() end',
    },
    more: { sees: 'package' },
    told: ['missing-call: a calls haul(), which only south/c.lua has'],
  },
  {
    it: 'C#: of the own type and its parents, not of another',
    files: {
      'a.cs': 'class Hull : Behaviour { void Lower() {} }',
      'b.cs': 'class Barge : Hull { void Begin() { Lower(); Haul(); ToString(); body(); } }',
      'c.cs': 'class Crane : Behaviour { void Haul() {} }',
    },
    told: ['missing-call: Barge calls Haul(), which no script defines'],
  },
  {
    it: 'C#: not where a parent is not known',
    files: { 'b.cs': 'class Barge : Vessel { void Begin() { Haul(); } }', 'c.cs': 'class Crane { void Haul() {} }' },
    told: [],
  },
  {
    it: 'not where the plan names no functions of the engine',
    files: { 'a.ts': 'export const x = 1;\nlower();' },
    rest: { engine: {} },
    told: [],
  },
]);
