/** Types without a keyword: functions with a prototype, tables with functions, what a call registers. */
import { familiesOf } from '../families/families.js';
import { plain } from '../model/finding.js';
import { scanWith, useGrammars, type Files } from '../testing/project.js';

const ENDINGS = { javascript: 'js', typescript: 'ts', lua: 'lua' };
const plan = (more: object = {}): object => ({
  files: {
    scenes: {
      match: 'scenes/*',
      as: 'scene',
      pieces: {
        objects: {
          at: '$.objects[*]',
          kind: 'object',
          parts: { at: '$.parts[*]', type: '$.type', script: { field: '$.script' } },
        },
      },
    },
  },
  scripts: Object.fromEntries(
    Object.entries(ENDINGS).map(([language, ending]) => [
      language,
      { match: `scripts/*.${ending}`, language, moments: { start: ['begin'] }, ...more },
    ]),
  ),
  calls: [{ call: 'find($name)', means: 'find' }],
  engine: { types: ['Behaviour'], members: ['body'] },
  house: { unattached: 'fine' },
});
/** Types with their parents and members, as `Barge(Hull): constructor moor depth`. */
const types = (file: string, text: string, more?: object): string[] =>
  scanWith({ [file]: text }, plan(more)).linked.facts.flatMap(({ script }) =>
    (script?.types ?? []).map(({ name, parents, fields }, at) => {
      const own = script?.functions.filter(({ type }) => type === at).map((code) => code.name) ?? [];
      const given =
        script?.fieldValues.filter(({ type, function: by }) => type === at && by >= 0).map((one) => one.field) ?? [];
      return `${name}(${parents.join()}): ${[...own, ...fields.map((one) => one.name), ...given].join(' ')}`;
    }),
  );

describe('types without a keyword', () => {
  beforeAll(useGrammars);

  const cases: { it: string; file: string; text: string; more?: object; types: string[] }[] = [
    {
      it: 'a function and its prototype',
      file: 'scripts/a.js',
      text: 'function Hull(depth) { this.depth = depth; }\nHull.prototype.moor = function () {};\nHull.prototype.most = 3;\nHull.of = function () {};',
      types: ['Hull(): constructor moor of most depth'],
    },
    {
      it: 'a prototype as a whole, and one that builds on another',
      file: 'scripts/a.js',
      text: 'var Hull = function () {};\nHull.prototype = { constructor: Hull, moor: function () {}, lift() {} };\nfunction Barge() { Hull.call(this); }\nBarge.prototype = Object.create(Hull.prototype);\nBarge.prototype.constructor = Barge;\nBarge.prototype.moor = function () {};',
      types: ['Hull(): moor lift constructor', 'Barge(Hull): constructor moor'],
    },
    {
      it: 'parents by new and by calls',
      file: 'scripts/a.js',
      text: 'function Barge() {}\nBarge.prototype = new Hull();\nfunction Punt() {}\nutil.inherits(Punt, Barge);\nfunction Raft() {}\nObject.setPrototypeOf(Raft.prototype, Punt.prototype);\nObject.assign(Raft.prototype, { moor() {} });',
      types: ['Barge(Hull): constructor', 'Punt(Barge): constructor', 'Raft(Punt): constructor moor'],
    },
    {
      it: 'a table with functions, and one made from it',
      file: 'scripts/a.ts',
      text: 'const Hull = { most: 3, moor() { this.lift(); }, lift: () => {} };\nconst Barge = Object.create(Hull);\nBarge.moor = function () {};',
      types: ['Hull(): moor lift most', 'Barge(Hull): moor'],
    },
    {
      it: 'no table of a plain name, and none without functions',
      file: 'scripts/a.ts',
      text: 'const helpers = { moor() {} };\nconst LIMITS = { most: 3 };\nfunction lower() {}\nlower.count = 3;',
      types: [],
    },
    {
      it: 'what a call registers, by its name or by what it is assigned to',
      file: 'scripts/a.js',
      text: "define('Hull', { begin: function () { this.most = 1; } });\nvar Barge = define(Hull, { moor: function () {} });\nother('Punt', { moor: function () {} });",
      more: { registers: 'define' },
      types: ['Hull(): begin most', 'Barge(Hull): moor'],
    },
    {
      it: 'tables of Lua in every style',
      file: 'scripts/a.lua',
      text: 'local Hull = { most = 3, moor = function(self) end }\nHull.lift = function(self) self.load = 1 end\nlocal tools = {}\ntools.lower = function() end\nfunction tools.raise() end\nLIMITS = { most = 3 }',
      types: ['Hull(): moor lift most load', 'tools(): raise lower'],
    },
    {
      it: 'what a call registers in Lua',
      file: 'scripts/a.lua',
      text: 'register("Hull", { moor = function(self) end })\nBarge = register(Hull, { lift = function(self) end })',
      more: { registers: ['register'] },
      types: ['Hull(): moor', 'Barge(Hull): lift'],
    },
  ];
  for (const { it: title, file, text, more, types: wanted } of cases)
    it(title, () => expect(types(file, text, more)).toEqual(wanted));

  it('run on objects, look up from there, and are families', () => {
    const files: Files = {
      'scripts/hull.js': 'function Hull() {}\nHull.prototype.begin = function () { find("Bell"); };',
      'scripts/barge.js':
        'function Barge() {}\nBarge.prototype = new Hull();\nBarge.prototype.moor = function () { this.morr(); };',
      'scenes/quay.json': { objects: [{ name: 'Tern', parts: [{ script: 'scripts/barge.js' }] }] },
    };
    const { findings, linked } = scanWith(files, plan());
    expect(findings.map(({ check, sentence }) => `${check}: ${plain(sentence)}`)).toEqual([
      'broken/missing-object: Hull on quay / Tern looks for an object named Bell; its scene has none',
      'broken/missing-call: Barge calls morr() on itself, and neither it nor its parents have it; there is moor()',
    ]);
    expect(familiesOf(linked).map(({ name, members }) => `${name} ${members}`)).toEqual(['Hull 1']);
  });
});
