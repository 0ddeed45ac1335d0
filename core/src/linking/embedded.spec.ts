/** Documents inside others: in texts, in comments; and text of the team's own that is odd but read. */
import { plain } from '../model/finding.js';
import { scanWith, useGrammars, type Files } from '../testing/project.js';

const content = {
  pieces: { goods: { at: '$.goods[*]', kind: 'record', id: '$.id', named: '$.id' } },
  references: { needs: { at: '$.goods[*].needs', by: 'id', kinds: ['record'] } },
};
const told = (files: Files, rules: object): string[] =>
  scanWith(files, { house: { unattached: 'fine' }, ...rules }).findings.map(
    ({ check, sentence, evidence: [{ range }] }) => `${check}: ${plain(sentence)} @ ${range.line}:${range.column}`,
  );

describe('documents inside others', () => {
  beforeAll(useGrammars);

  it('in a text, with their places', () => {
    const rules = {
      files: {
        all: { match: '*.json', as: 'data asset', embedded: { goods: { at: '$.store', format: 'json', ...content } } },
      },
    };
    const store = '{ "goods": [{ "id": "coal" }, { "id": "salt", "needs": "cole" }] }';
    const text = `{ "store": ${JSON.stringify(store)} }`;
    const [finding] = told({ 'a.json': text }, rules);
    expect(finding).toContain('salt refers to cole in needs');
    expect(finding).toContain(`@ 1:${text.indexOf('\\"cole') + 1}`);
    expect(told({ 'a.json': text.replace('cole', 'coal') }, rules)).toEqual([]);
  });

  it('in part of a text, of another format', () => {
    const embedded = { goods: { at: '$.note', pattern: '<<([^>]*)>>', format: 'yaml', ...content } };
    const rules = { files: { all: { match: '*.yaml', as: 'data asset', embedded } } };
    const text =
      'note: |\n  Some words. <<\n  goods:\n    - { id: coal }\n    - { id: salt, needs: cole }\n  >> and more.\n';
    expect(told({ 'a.yaml': text }, rules)).toEqual([
      'broken/missing-object: a / salt refers to cole in needs; the project has nothing of that name or identity @ 5:26',
    ]);
  });

  it('in comments of scripts, in every language', () => {
    const code: Record<string, [string, string]> = {
      typescript: ['a.ts', '/* goods:\n{ "goods": [{ "id": "coal" }, { "id": "salt", "needs": "cole" }] }\n*/'],
      lua: ['a.lua', '--[[ goods:\n{ "goods": [{ "id": "coal" }, { "id": "salt", "needs": "cole" }] }\n]]'],
      csharp: ['a.cs', '/* goods:\n{ "goods": [{ "id": "coal" }, { "id": "salt", "needs": "cole" }] }\n*/'],
      python: ['a.py', '# goods: { "goods": [{ "id": "coal" }, { "id": "salt", "needs": "cole" }] }\n'],
    };
    for (const [language, [file, text]] of Object.entries(code)) {
      const embedded = { goods: { pattern: 'goods:\\s*(\\{.*\\})', format: 'json', ...content } };
      const found = told({ [file]: text }, { scripts: { all: { match: file, language, embedded } } });
      expect(found.length).withContext(language).toBe(1);
      expect(found[0]).withContext(language).toContain('salt refers to cole');
      const line = text.split('\n').findIndex((one) => one.includes('cole'));
      expect(found[0])
        .withContext(language)
        .toContain(`@ ${line + 1}:${text.split('\n')[line].indexOf('"cole') + 1}`);
    }
  });

  it('that cannot be read are told, where they stand', () => {
    const rules = {
      files: {
        all: { match: '*.json', as: 'data asset', embedded: { goods: { at: '$.store', format: 'json', ...content } } },
      },
    };
    expect(told({ 'a.json': '{ "store": "{ oh }" }' }, rules)[0]).toMatch(
      /^broken\/unreadable: a\.json cannot be read to its end: .*\(in “goods”\).* @ 1:1\d/,
    );
  });

  it('of the team’s own must say how their lines are read', () => {
    const rules = { files: { all: { match: '*.json', as: 'data asset', embedded: { goods: { format: 'lines' } } } } };
    expect(() => told({}, rules)).toThrowError(/embedded\.goods\.format/);
  });
});

describe('code inside other files', () => {
  beforeAll(useGrammars);
  const CALLS = [
    { call: 'ring($event)', means: 'send' },
    { call: 'hear($event, $handler)', means: 'listen' },
    { call: 'need($id)', means: 'refer', target: { by: 'id' } },
  ];
  const rules = (file: object, language = 'lua'): object => ({
    files: { all: { match: 'data/*', as: 'data asset', ...file } },
    scripts: { code: { match: 'scripts/*', language } },
    calls: CALLS,
  });
  const lost = (path: string, text: string, file: object, language?: string): string[] =>
    told({ [path]: text }, rules(file, language)).filter((one) => one.startsWith('broken/missing-object'));

  it('in blocks of a text of the team’s own, whatever each returns', () => {
    const lines = { kinds: { code: { pattern: '^<code>(?<code>.*)$' }, name: { pattern: '^name=(?<name>.*)$' } } };
    const text =
      'name=a\n<code> if done then return end need("coal") -- so</code>\nname=b\n<code> need("salt") </code>\n';
    const embedded = { code: { pattern: '<code>(.*)</code>', script: 'code' } };
    expect(
      lost('data/a.triggers', text, { format: 'lines', lines, embedded }).map((one) => one.replace(/.*refers to/, '')),
    ).toEqual([
      ' coal; the project has nothing of that name or identity @ 2:32',
      ' salt; the project has nothing of that name or identity @ 4:8',
    ]);
  });

  it('in texts with escapes, and in elements', () => {
    const json = JSON.stringify({ run: 'if (a) {\n  need("coal");\n}', also: 'need("salt")' });
    const embedded = { code: { at: '$.run', script: 'code' } };
    expect(lost('data/a.json', json, { embedded }, 'typescript')).toEqual([
      `broken/missing-object: a refers to coal; the project has nothing of that name or identity @ 1:${json.indexOf('need') + 1}`,
    ]);
    const xml = '<a>\n<run><![CDATA[\nneed("coal")\n]]></run>\n<run>need(&quot;salt&quot;)</run>\n</a>';
    expect(
      lost('data/a.xml', xml, {
        embedded: { code: { at: '$.a[0].run[*].#text'.replace('.#text', "['#text']"), script: 'code' } },
      }).length,
    ).toBe(2);
  });

  it('stands where it is written, with comments of the file in between', () => {
    const xml = '<a><run>need("coal") <!-- need("ash") -->\n need("salt")<![CDATA[ need("tar") ]]></run></a>';
    const embedded = { code: { at: "$.a[0].run[*]['#text']", script: 'code' } };
    expect(lost('data/a.xml', xml, { embedded }).map((one) => one.replace(/.*refers to (\w+).* @/, '$1'))).toEqual([
      'coal 1:9',
      'salt 2:2',
      'tar 2:24',
    ]);
  });

  it('sends and hears like any other', () => {
    const files = {
      'data/a.json': { run: "ring('noon')" },
      'scripts/b.lua': "hear('noon', f)\nhear('dusk', f)\nfunction f() end",
    };
    const { findings } = scanWith(files, {
      ...rules({ embedded: { code: { at: '$.run', script: 'code' } } }),
      house: { unattached: 'fine' },
    });
    expect(findings.map(({ check, sentence }) => `${check}: ${plain(sentence)}`)).toEqual([
      jasmine.stringMatching(/^fragile\/never-sent: dusk/),
    ]);
  });

  it('is read by a rule that must be there', () => {
    expect(() => told({}, rules({ embedded: { code: { at: '$.run', script: 'toString' } } }))).toThrowError(
      /no rule under scripts/,
    );
    expect(() => told({}, rules({ embedded: { code: { at: '$.run', script: 'cod' } } }))).toThrowError(
      /“cod” is no rule under scripts/,
    );
    expect(() => told({}, rules({ embedded: { code: { at: '$.run' } } }))).toThrowError(/format/);
  });
});

it('rows of another length than the head are a note, and are read', () => {
  const rules = {
    files: {
      all: {
        match: '*.csv',
        as: 'data asset',
        pieces: { goods: { at: '$[*]', kind: 'record', id: '$.id', named: '$.id' } },
        references: { needs: { at: '$[*].needs', by: 'id', kinds: ['record'] } },
      },
    },
  };
  expect(told({ 'a.csv': 'id,needs\ncoal\nsalt,coal,3\nslate,cole\n' }, rules).sort()).toEqual([
    'broken/missing-object: a / slate refers to cole in needs; the project has nothing of that name or identity @ 4:7',
    'broken/unreadable: a.csv has 1 cell where 2 columns are named in line 2 (and 1 more) @ 2:1',
  ]);
});
