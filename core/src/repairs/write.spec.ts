import fc from 'fast-check';
import { GlueError } from '../model/errors.js';
import type { Range } from '../model/piece.js';
import { linesOf } from '../reading/lines.js';
import { compileSelector } from '../reading/selector/select.js';
import { readTree, type Format } from '../reading/tree/read-tree.js';
import { textOf } from '../reading/tree/node.js';
import { useGrammars } from '../testing/project.js';
import { applyEdits, type Change } from './change.js';
import type { Writing } from './encode.js';
import { toPatch } from './patch.js';
import { uncut } from './fillings.js';
import { repairedText } from './repaired.js';

type WithoutFile<C> = C extends Change ? Omit<C, 'file'> : never;

function after(text: string, writing: Writing, ...changes: WithoutFile<Change>[]): string {
  const whole = changes.map((change) => ({ ...change, file: 'f' }));
  return repairedText('f', text, writing, whole);
}

/** The range of what a selector finds in a text. */
function at(text: string, format: Format, selector: string): Range {
  const [found] = readTree(text, format).documents.flatMap((document) => compileSelector(selector)(document));
  return linesOf(text).range(found.start, found.end);
}

/** The range of a piece of the text. */
function of(text: string, part: string): Range {
  const start = text.indexOf(part);
  return linesOf(text).range(start, start + part.length);
}

beforeAll(useGrammars);

describe('replacing a text', () => {
  it('keeps quotes and whatever the reference stands in', () => {
    const json = '{ "gate": "#uf-gate-9" } // by hand\r\n';
    expect(
      after(json, 'json', { is: 'replace', range: at(json, 'json', '$.gate'), from: 'uf-gate-9', to: 'uf "7"' }),
    ).toBe('{ "gate": "#uf \\"7\\"" } // by hand\r\n');
    const yaml = "gate: '#nine' # by hand\nnext: 1\n";
    expect(after(yaml, 'yaml', { is: 'replace', range: at(yaml, 'yaml', '$.gate'), from: 'nine', to: "o'clock" })).toBe(
      "gate: '#o''clock' # by hand\nnext: 1\n",
    );
    const xml = '<gate is="nine"/>';
    expect(after(xml, 'xml', { is: 'replace', range: at(xml, 'xml', '$.gate[0].is'), from: 'nine', to: 'a&b' })).toBe(
      '<gate is="a&amp;b"/>',
    );
    const toml = "gate = 'nine' # by hand\n";
    expect(after(toml, 'toml', { is: 'replace', range: at(toml, 'toml', '$.gate'), from: 'nine', to: 'ten' })).toBe(
      "gate = 'ten' # by hand\n",
    );
    const ini = '; gates\r\n[all]\r\ngate = nine\r\n';
    expect(after(ini, 'ini', { is: 'replace', range: at(ini, 'ini', '$.all.gate'), from: 'nine', to: 'ten' })).toBe(
      '; gates\r\n[all]\r\ngate = ten\r\n',
    );
    const csv = 'code,gate\na,nine\n';
    expect(
      after(csv, 'csv', { is: 'replace', range: at(csv, 'csv', '$[0].gate'), from: 'nine', to: 'ten, eleven' }),
    ).toBe('code,gate\na,"ten, eleven"\n');
  });
  it('puts quotes around a plain YAML text that needs them', () => {
    expect(after('a: nine', 'yaml', { is: 'replace', range: of('a: nine', 'nine'), from: 'nine', to: 'no' })).toBe(
      'a: "no"',
    );
    expect(after('a: nine', 'yaml', { is: 'replace', range: of('a: nine', 'nine'), from: 'nine', to: 'x: y' })).toBe(
      'a: "x: y"',
    );
    expect(after('a: nine', 'yaml', { is: 'replace', range: of('a: nine', 'nine'), from: 'nine', to: '.4' })).toBe(
      'a: ".4"',
    );
  });
  it('in code prefers the quoted text, and takes whole words of names', () => {
    const code = "child.child('child').show();";
    expect(after(code, 'typescript', { is: 'replace', range: of(code, code), from: 'child', to: "o'ne" })).toBe(
      "child.child('o\\'ne').show();",
    );
    expect(
      after('this.taken + untaken', 'typescript', {
        is: 'replace',
        range: of('this.taken + untaken', 'this.taken + untaken'),
        from: 'taken',
        to: 'tolls',
      }),
    ).toBe('this.tolls + untaken');
  });
  it('is refused when the text is not there, or more than once', () => {
    for (const code of ["find('other')", "both('nine', 'nine')"]) {
      expect(() =>
        after(code, 'typescript', { is: 'replace', range: of(code, code), from: 'nine', to: 'ten' }),
      ).toThrowMatching((error) => error instanceof GlueError && error.code === 'repair/impossible');
    }
  });
  it('of a whole value fills what was empty', () => {
    const set = (text: string, format: Format, selector: string): string =>
      after(text, format, { is: 'set', range: at(text, format, selector), to: 'nine' });
    expect(set('{ "a": null, "b": 1 }', 'json', '$.a')).toBe('{ "a": "nine", "b": 1 }');
    expect(set('a:\nb: 1\n', 'yaml', '$.a')).toBe('a: nine\nb: 1\n');
    expect(set('a = ""\n', 'toml', '$.a')).toBe('a = "nine"\n');
    expect(set('<x a=""/>', 'xml', '$.x[0].a')).toBe('<x a="nine"/>');
    expect(set('a,b\n,2\n', 'csv', '$[0].a')).toBe('a,b\nnine,2\n');
  });
});

describe('taking an entry out', () => {
  const out = (text: string, format: Format, selector: string): string =>
    after(text, format, { is: 'remove', range: at(text, format, selector) });

  it('takes one comma with it and leaves comments where they are', () => {
    expect(out('{ "a": 1, "b": 2, "c": 3 }', 'json', '$.a')).toBe('{ "b": 2, "c": 3 }');
    expect(out('{ "a": 1, "b": 2, "c": 3 }', 'json', '$.c')).toBe('{ "a": 1, "b": 2 }');
    expect(out('{ "a": { "b": 2 } }', 'json', '$.a.b')).toBe('{ "a": {} }');
    expect(out('{\n  "a": 1, // first\n  "b": 2 // second\n}\n', 'json', '$.b')).toBe(
      '{\n  "a": 1 // first\n  // second\n}\n',
    );
    expect(out('{\r\n  "a": 1,\r\n  "b": 2,\r\n  "c": 3\r\n}', 'json', '$.b')).toBe('{\r\n  "a": 1,\r\n  "c": 3\r\n}');
    expect(out('["x",\n "y",\n "z"]', 'json', '$[2]')).toBe('["x",\n "y"]');
  });
  it('takes whole lines out of YAML, TOML and INI', () => {
    expect(out('a: 1\nb:\n  - x\n  - y\nc: 3\n', 'yaml', '$.b')).toBe('a: 1\nc: 3\n');
    expect(out('list:\n  - x\n  - y # two\n  - z\n', 'yaml', '$.list[1]')).toBe('list:\n  - x\n  - z\n');
    expect(out('a: { x: 1, y: 2 }\n', 'yaml', '$.a.y')).toBe('a: { x: 1 }\n');
    expect(out('a = 1\nb = "x" # two\nc = 3\n', 'toml', '$.b')).toBe('a = 1\nc = 3\n');
    expect(out('[s]\r\na = 1\r\nb = 2\r\n', 'ini', '$.s.a')).toBe('[s]\r\nb = 2\r\n');
  });
  it('takes out attributes and elements of XML, and empties cells', () => {
    expect(out('<x a="1" b="2"/>', 'xml', '$.x[0].a')).toBe('<x b="2"/>');
    expect(out('<x>\n  <y/>\n  <z/>\n</x>', 'xml', '$.x[0].y[0]')).toBe('<x>\n  <z/>\n</x>');
    expect(out('a,b\n1,2\n', 'csv', '$[0].b')).toBe('a,b\n1,\n');
  });
});

describe('adding', () => {
  const add = (text: string, format: Format, near: string, into = '$.slots'): string =>
    after(text, format, { is: 'add member', range: at(text, format, near), into, key: 'gate', to: '#nine' });

  it('a member goes behind the last one, laid out as that one is', () => {
    expect(add('{ "script": "a", "slots": { "x": 1 } }', 'json', '$.script')).toBe(
      '{ "script": "a", "slots": { "x": 1, "gate": "#nine" } }',
    );
    expect(add('{ "script": "a",\n  "slots": {\n    "x":1\n  } }', 'json', '$.script')).toBe(
      '{ "script": "a",\n  "slots": {\n    "x":1,\n    "gate":"#nine"\n  } }',
    );
    expect(add('{ "script": "a", "slots": {} }', 'json', '$.script')).toBe(
      '{ "script": "a", "slots": { "gate": "#nine" } }',
    );
    expect(add('{ "script": "a" }', 'json', '$.script')).toBe('{ "script": "a", "slots": { "gate": "#nine" } }');
    expect(add('script: a\nslots:\n  x: 1 # one\nnext: 2\n', 'yaml', '$.script')).toBe(
      'script: a\nslots:\n  x: 1 # one\n  gate: "#nine"\nnext: 2\n',
    );
    expect(add('script: a\nslots: { x: 1 }\n', 'yaml', '$.script')).toBe('script: a\nslots: { x: 1, gate: "#nine" }\n');
    expect(add('<p script="a" x="1"/>', 'xml', '$.p[0].script', '$')).toBe('<p script="a" x="1" gate="#nine"/>');
    expect(add('script = "a"\n[slots]\nx = 1\n', 'toml', '$.script')).toBe(
      'script = "a"\n[slots]\nx = 1\ngate = "#nine"\n',
    );
  });
  it('an item goes to the end of a list, a name to the end of a table of names', () => {
    const item = (text: string, format: Format, list = '$.all'): string =>
      after(text, format, { is: 'add item', list, to: 'nine' });
    expect(item('{ "all": ["a", "b"] }', 'json')).toBe('{ "all": ["a", "b", "nine"] }');
    expect(item('{ "all": [\n  "a"\n] }', 'json')).toBe('{ "all": [\n  "a",\n  "nine"\n] }');
    expect(item('{ "all": [] }', 'json')).toBe('{ "all": ["nine"] }');
    expect(item('all:\n  - a\n  - b # two\nnext: 1\n', 'yaml')).toBe('all:\n  - a\n  - b # two\n  - nine\nnext: 1\n');
    expect(item('all = ["a"]\n', 'toml')).toBe('all = ["a", "nine"]\n');
    expect(item('all = [\n  "a", # first\n]\n', 'toml')).toBe('all = [\n  "a", # first\n  "nine",\n]\n');
    expect(item('{ "all": [\n  "a" // first\n] }', 'json')).toBe('{ "all": [\n  "a", // first\n  "nine"\n] }');
    expect(item('[all]\r\na = one\r\n', 'ini')).toBe('[all]\r\na = one\r\nnine =\r\n');
    expect(() => item('<all><a/></all>', 'xml', '$.all')).toThrowError(GlueError);
  });
  it('a member can get another name', () => {
    const json = '{ "lenght": 3 }';
    expect(after(json, 'json', { is: 'rename member', range: at(json, 'json', '$.lenght'), to: 'length' })).toBe(
      '{ "length": 3 }',
    );
    expect(after('lenght: 3\n', 'yaml', { is: 'rename member', range: of('lenght: 3\n', '3'), to: 'length' })).toBe(
      'length: 3\n',
    );
  });
});

describe('what cannot be done', () => {
  const isImpossible = (error: unknown): boolean =>
    error instanceof GlueError && error.code === 'repair/impossible' && /\w: .{10,}/.test(error.message);
  const whole = (text: string): Range => linesOf(text).range(0, text.length);
  const impossible: [string, string, Writing, WithoutFile<Change>][] = [
    ['a value of code', 'a = 1', 'python', { is: 'set', range: of('a = 1', '1'), to: 'x' }],
    ['code taken out', 'a = 1', 'python', { is: 'remove', range: of('a = 1', '1') }],
    ['the name of a cell', 'a,b\n1,2\n', 'csv', { is: 'rename member', range: of('a,b\n1,2\n', '2'), to: 'c' }],
    [
      'the name of an entry that has none',
      '["a"]',
      'json',
      { is: 'rename member', range: of('["a"]', '"a"'), to: 'c' },
    ],
    ['a name that is gone', '', 'json', { is: 'rename member', range: whole(''), to: 'c' }],
    ['an entry that is gone', '', 'json', { is: 'remove', range: whole('') }],
    ['an object that is gone', '', 'json', { is: 'add member', range: whole(''), into: '$', key: 'a', to: 'b' }],
    ['a value that stands nowhere', '- \n', 'yaml', { is: 'set', range: of('- \n', '\n'), to: 'x' }],
    [
      'a member of a list',
      '{ "script": "a", "slots": [] }',
      'json',
      { is: 'add member', range: of('{ "script": "a", "slots": [] }', '"a"'), into: '$.slots', key: 'a', to: 'b' },
    ],
    [
      'a member of a table that is not there',
      'script = "a"\n',
      'toml',
      { is: 'add member', range: of('script = "a"\n', '"a"'), into: '$.slots', key: 'a', to: 'b' },
    ],
    [
      'a member of what no simple way leads to',
      '{ "script": "a" }',
      'json',
      { is: 'add member', range: of('{ "script": "a" }', '"a"'), into: '$.more.slots', key: 'a', to: 'b' },
    ],
    ['a column', 'a,b\n1,2\n', 'csv', { is: 'add member', range: of('a,b\n1,2\n', '1'), into: '$', key: 'c', to: 'b' }],
    ['an item of no list', '{ "all": 1 }', 'json', { is: 'add item', list: '$.all', to: 'b' }],
    ['a row', 'a,b\n1,2\n', 'csv', { is: 'add item', list: '$', to: 'b' }],
  ];
  for (const [what, text, writing, change] of impossible)
    it(`is refused, with the reason: ${what}`, () => {
      expect(() => after(text, writing, change)).toThrowMatching(isImpossible);
    });
});

describe('layout', () => {
  const out = (text: string, format: Format, selector: string): string =>
    after(text, format, { is: 'remove', range: at(text, format, selector) });

  const taken: [string, Format, string, string][] = [
    ['{ "a": 1, /* one */ "b": 2 }', 'json', '$.b', '{ "a": 1 /* one */ }'],
    ['["x", /* only */]', 'json', '$[0]', '[/* only */]'],
    ['["x", ]', 'json', '$[0]', '[]'],
    ['"x"\n', 'json', '$', '"x"\n'],
    ['a: [x, y] # two\n', 'yaml', '$.a[1]', 'a: [x] # two\n'],
    ['a:\n  - {b: 1}\n', 'yaml', '$.a[0].b', 'a:\n  - {}\n'],
    ['a = { x = 1, y = 2 }\n', 'toml', '$.a.x', 'a = { y = 2 }\n'],
    ['a = 1\rb = 2\rc = 3\r', 'ini', '$.b', 'a = 1\rc = 3\r'],
    ['<x><y/></x>', 'xml', '$.x[0].y[0]', '<x></x>'],
    ['<x>\n\t<y/> text\n</x>', 'xml', '$.x[0].y[0]', '<x>\n\ttext\n</x>'],
  ];
  for (const [text, format, selector, left] of taken)
    it(`stays when ${selector} goes out of ${JSON.stringify(text)}`, () => {
      if (text === left) expect(() => out(text, format, selector)).toThrowError(GlueError);
      else expect(out(text, format, selector)).toBe(left);
    });
});

describe('edits of one text', () => {
  it('that are the same count once, and those that overlap are refused', () => {
    const edit = { start: 1, end: 2, text: 'x' };
    expect(applyEdits('abc', [edit, { ...edit }])).toBe('axc');
    expect(() => applyEdits('abc', [edit, { start: 0, end: 2, text: 'y' }])).toThrowError(RangeError, /one place/);
    for (const other of [{ end: 3 }, { start: 0 }, { text: 'y' }])
      expect(() => applyEdits('abcd', [edit, { ...edit, ...other }]))
        .withContext(JSON.stringify(other))
        .toThrowError(RangeError);
  });

  it('count by their places, whatever order they come in', () => {
    const edits = [
      { start: 4, end: 5, text: 'E' },
      { start: 0, end: 1, text: 'A' },
      { start: 2, end: 2, text: '+' },
      { start: 2, end: 3, text: 'C' },
      { start: 5, end: 5, text: '!' },
    ];
    expect(applyEdits('abcde', edits)).toBe('Ab+CdE!');
    expect(applyEdits('abcde', [...edits].reverse())).toBe('Ab+CdE!');
  });

  it('set to any text, read back as that text, in every format', () => {
    const whole: [Format, string, string][] = [
      ['json', '{ "a": "x", "b": 1 }', '$.a'],
      ['yaml', 'a: x\nb: 1\n', '$.a'],
      ['xml', '<r a="x" b="1"/>', '$.r[0].a'],
      ['toml', 'a = "x"\nb = 1\n', '$.a'],
      ['csv', 'a,b\nx,1\n', '$[0].a'],
    ];
    fc.assert(
      fc.property(
        fc.constantFrom(...whole),
        fc.string({ minLength: 1, maxLength: 12 }),
        ([format, text, selector], to) => {
          const written = after(text, format, { is: 'set', range: at(text, format, selector), to });
          const [found] = compileSelector(selector)(readTree(written, format).documents[0]);
          // Line ends in attributes are read as spaces, as the standard has it.
          expect(textOf(found))
            .withContext(`${format} ${written}`)
            .toBe(format === 'xml' ? to.replace(/[\t\n\r]/g, ' ') : to);
        },
      ),
      { numRuns: 300 },
    );
  });
});

describe('a patch', () => {
  it('is a unified diff with names that need it in quotes', () => {
    const patch = toPatch([
      { file: 'a.txt', before: 'one\ntwo\n', after: 'one\nthree\n' },
      { file: 'same.txt', before: 'x', after: 'x' },
      { file: 'größe.txt', before: 'x', after: 'y' },
    ]);
    expect(patch).toBe(
      [
        'diff --git a/a.txt b/a.txt',
        '--- a/a.txt',
        '+++ b/a.txt',
        '@@ -1,2 +1,2 @@',
        ' one',
        '-two',
        '+three',
        'diff --git "a/gr\\303\\266\\303\\237e.txt" "b/gr\\303\\266\\303\\237e.txt"',
        '--- "a/gr\\303\\266\\303\\237e.txt"',
        '+++ "b/gr\\303\\266\\303\\237e.txt"',
        '@@ -1,1 +1,1 @@',
        '-x',
        '\\ No newline at end of file',
        '+y',
        '\\ No newline at end of file',
        '',
      ].join('\n'),
    );
  });
});

describe('a text from which a pattern cuts another one', () => {
  it('is made where the pattern says it plainly, and not otherwise', () => {
    expect(uncut('^#(.+)$', 'nine')).toBe('#nine');
    expect(uncut('^ref:([\\w-]+);$', 'nine')).toBe('ref:nine;');
    expect(uncut(undefined, 'nine')).toBe('nine');
    expect(uncut('^(?:a|b)/(.+)$', 'nine')).toBeUndefined();
    expect(uncut('^#([a-z]+)$', 'NINE')).toBeUndefined();
  });
});
