/** Rows of the call table: several for one call, what is no reference, and lists of texts. */
import { plain } from '../model/finding.js';
import { PLAN, carrier, scanWith, scene, script, useGrammars, type Files } from '../testing/project.js';

const told = (calls: object[], files: Files): string[] =>
  scanWith(files, {
    ...PLAN,
    calls,
    files: { ...PLAN.files, data: { match: 'data/*', as: 'data asset', pieces: { rows: ROWS } } },
    scripts: { ...PLAN.scripts, lua: { match: 'scripts/*.lua', language: 'lua' } },
  })
    .findings.filter(({ check }) => check.startsWith('broken/'))
    .map(({ sentence }) => plain(sentence));

const ROWS = { at: '$.rows[*]', kind: 'record', id: '$.id' };
const DATA: Files = { 'data/cargo.json': { rows: [{ id: 'coal' }, { id: 'salt' }] }, 'data/barge.json': {} };
const PATH = { by: 'path', roots: ['data'], endings: ['.json'] };

describe('a row of the call table', () => {
  beforeAll(useGrammars);

  it('adds its reference to what another row says, when it is marked so', () => {
    const load = { call: 'load($path, _)', means: 'use file', target: PATH };
    const cargo = { call: 'load(_, $id)', means: 'refer', target: { by: 'id' } };
    const code = (path: string, id: string): Files => ({
      ...DATA,
      'scripts/a.ts': script('A', `load('${path}', '${id}');`),
    });
    const both = [load, { ...cargo, also: true }];
    expect(told(both, code('barge', 'coal'))).toEqual([]);
    expect(told(both, code('brage', 'caol')).length).toBe(2);
    expect(told([{ ...cargo, also: true }, load], code('brage', 'caol')).length).toBe(2);
    expect(told([load, cargo], code('barge', 'caol'))).toEqual([]);
  });

  it('takes a number as an identity, but not as a path', () => {
    const rows = [
      { call: 'go($id)', means: 'refer', target: { by: 'id' } },
      { call: 'load($path)', means: 'refer' },
    ];
    const files = {
      'data/x.json': { rows: [{ id: 7 }, { id: 'dock3' }] },
      'scripts/a.lua': 'go(7) go(8) go("dock" .. 3) go("dock" .. 4) load(9)',
    };
    expect(told(rows, files).map((one) => one.replace(/;.*/, ''))).toEqual(['a refers to 8', 'a refers to dock4']);
  });

  it('takes every argument that follows, one by one', () => {
    const row = { call: 'hide($id...)', means: 'refer', target: { by: 'id' } };
    const lost = (code: string): string[] =>
      told([row], { ...DATA, 'scripts/a.lua': code }).map((one) => one.replace(/;.*/, ''));
    expect(lost('hide("coal", "salt")')).toEqual([]);
    expect(lost('hide("caol", what, "slat", { "peat" })')).toEqual([
      'a refers to caol',
      'a refers to slat',
      'a refers to peat',
    ]);
    expect(lost('hide()')).toEqual([]);
  });

  it('that is marked so counts alone as well, and twice where two match', () => {
    const row = { call: 'load($id)', means: 'refer', target: { by: 'id' }, also: true };
    const files = { ...DATA, 'scripts/a.lua': 'load("caol")' };
    expect(told([row], files).length).toBe(1);
    const other = { ...row, target: PATH, call: 'load($path)' };
    expect(told([row, other], files).length).toBe(2);
  });

  it('leaves what is said by the first row to it', () => {
    const calls = [
      { call: '*.child($name)', means: 'child' },
      { call: '*.child($label)', means: 'refer', target: { by: 'label' }, also: true },
    ];
    const files = (name: string): Files => ({
      'scripts/a.ts': script('A', `this.child('Mast').child('${name}').go();`),
      'scenes/a.json': scene({
        ...carrier('A', 'a.ts'),
        objects: [{ name: 'Mast', labels: ['Mast', 'Top'], objects: [{ name: 'Top' }] }],
      }),
    });
    expect(told(calls, files('Top'))).toEqual([]);
    expect(told(calls, files('Flag')).length).toBe(2);
  });

  it('takes no text for a reference that its pattern does not match, or that is empty by it', () => {
    const row = (target: object): object => ({
      call: 'load($path)',
      means: 'use file',
      target: { ...PATH, ...target },
    });
    const files = (text: string): Files => ({ ...DATA, 'scripts/a.ts': script('A', `load('${text}');`) });
    expect(told([row({})], files('file:brage')).length).toBe(1);
    expect(told([row({ pattern: '^file:(.+)$' })], files('file:brage'))).toEqual([
      'A names the file brage; it does not exist',
    ]);
    expect(told([row({ pattern: '^file:(.+)$' })], files('file:barge'))).toEqual([]);
    expect(told([row({ pattern: '^file:(.+)$' })], files('whatever'))).toEqual([]);
    expect(told([row({ empty: ['none'] })], files('none'))).toEqual([]);
  });

  for (const { language, file, list } of [
    {
      language: 'TypeScript',
      file: 'scripts/a.ts',
      list: (a: string, b: string) => script('A', `load(['${a}', '${b}']);`),
    },
    { language: 'Lua', file: 'scripts/a.lua', list: (a: string, b: string) => `load({"${a}", "${b}"})` },
    { language: 'Python', file: 'scripts/a.py', list: (a: string, b: string) => `load(["${a}", "${b}"])` },
  ])
    it(`takes each text of a list for a reference in ${language}`, () => {
      const row = { call: 'load($id)', means: 'refer', target: { by: 'id' } };
      expect(told([row], { ...DATA, [file]: list('coal', 'salt') })).toEqual([]);
      expect(told([row], { ...DATA, [file]: list('coal', 'slat') }).length).toBe(1);
      expect(told([row], { ...DATA, [file]: list('caol', 'slat') }).length).toBe(2);
    });
});
