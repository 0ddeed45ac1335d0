/** Repairs written into texts of every kind, as a table: the text before, the change, the text after or why not. */
import { GlueError } from '../model/errors.js';
import type { Range } from '../model/piece.js';
import { linesOf } from '../reading/lines.js';
import { compileSelector } from '../reading/selector/select.js';
import { readTree, type Format } from '../reading/tree/read-tree.js';
import { useGrammars } from '../testing/project.js';
import type { Change } from './change.js';
import type { Writing } from './encode.js';
import { repairedText } from './repaired.js';

type Told = [says: string, text: string, writing: Writing, change: Change, after: string];
const file = 'f';

/** What a selector finds, or a part of the text as it is written. */
function at(text: string, writing: Writing, where: string): Range {
  const lines = linesOf(text);
  if (!where.startsWith('$')) return lines.range(text.indexOf(where), text.indexOf(where) + where.length);
  const [found] = readTree(text, writing as Format).documents.flatMap((one) => compileSelector(where)(one));
  return lines.range(found.start, found.end);
}

const replace = (text: string, writing: Writing, where: string, from: string, to: string): Change => {
  return { is: 'replace', file, range: at(text, writing, where), from, to };
};
const set = (text: string, writing: Writing, where: string, to = 'nine'): Change => {
  return { is: 'set', file, range: at(text, writing, where), to };
};
const remove = (text: string, writing: Writing, where: string): Change => {
  return { is: 'remove', file, range: at(text, writing, where) };
};
const rename = (text: string, writing: Writing, where: string): Change => {
  return { is: 'rename member', file, range: at(text, writing, where), to: 'gate' };
};
const member = (text: string, writing: Writing, near: string, into: string, to = 'nine'): Change => {
  return { is: 'add member', file, range: at(text, writing, near), into, key: 'gate', to };
};
const item = (list: string, to = 'nine'): Change => ({ is: 'add item', file, list, to });

/** A row whose change is made of the text itself. */
function row(
  says: string,
  text: string,
  writing: Writing,
  make: (text: string, writing: Writing) => Change,
  after: string,
): Told {
  return [says, text, writing, make(text, writing), after];
}
const refused = (why: string): string =>
  `The repair cannot be written by itself: f: ${why}. Scan again if the file was changed, or make the change by hand.`;

const ROWS: Told[] = [
  row(
    'quotes of its own line count in code',
    'find(\'a\');\nsay("it is nine")',
    'typescript',
    (t, w) => replace(t, w, t, 'nine', 'ten "x"'),
    'find(\'a\');\nsay("it is ten \\"x\\"")',
  ),
  row(
    'a plain TOML text is put in its quotes',
    'a = "nine"\n',
    'toml',
    (t, w) => replace(t, w, '$.a', 'nine', 'a"b'),
    'a = "a\\"b"\n',
  ),
  row(
    'a literal TOML text stays literal',
    "a = 'nine'\n",
    'toml',
    (t, w) => replace(t, w, '$.a', 'nine', 'a\\b'),
    "a = 'a\\b'\n",
  ),
  row(
    'of two the quoted one is meant',
    "nine.find('nine')",
    'typescript',
    (t, w) => replace(t, w, t, 'nine', 'ten'),
    "nine.find('ten')",
  ),
  row(
    'twice is once too often',
    "f('nine', 'nine')",
    'typescript',
    (t, w) => replace(t, w, t, 'nine', 'ten'),
    refused('“nine” stands there more than once'),
  ),
  row(
    'what was there is gone',
    "f('ten')",
    'typescript',
    (t, w) => replace(t, w, t, 'nine', 'x'),
    refused('“nine” is not written there as it was'),
  ),
  row('a text in a name is no whole word', 'ninety', 'typescript', (t, w) => replace(t, w, t, 'nine', 'ten'), 'tenty'),
  row(
    'code is not set',
    'f(a)',
    'typescript',
    (t, w) => set(t, w, 'a'),
    refused('a value in code is not replaced as a whole'),
  ),
  row(
    'a member of YAML without a value is filled',
    'b: 1\na:\nc: 2\n',
    'yaml',
    (t, w) => set(t, w, '$.a'),
    'b: 1\na: nine\nc: 2\n',
  ),
  row('a quoted cell stays quoted', 'a,b\n"x",2\n', 'csv', (t, w) => set(t, w, '$[0].a', 'y"z'), 'a,b\n"y""z",2\n'),
  row(
    'a cell is no member',
    'a,b\n1,2\n',
    'csv',
    (t, w) => rename(t, w, '$[0].a'),
    refused('the name is no longer there'),
  ),
  row('an item has no name', '["x"]', 'json', (t, w) => rename(t, w, '$[0]'), refused('the name is no longer there')),
  row('a member of TOML is renamed', 'wheel = 1\n', 'toml', (t, w) => rename(t, w, '$.wheel'), 'gate = 1\n'),
  row(
    'code is not taken out',
    'f(a)',
    'typescript',
    (t, w) => remove(t, w, 'a'),
    refused('code is not taken out by itself'),
  ),
  row(
    'what moved is not taken out',
    '{ "a": 1 }',
    'json',
    () => ({ is: 'remove', file, range: { line: 1, column: 1, endLine: 1, endColumn: 3 } }),
    refused('what is to be taken out is no longer there'),
  ),
  row('an item alone leaves brackets', 'a: [x]\nb: 1\n', 'yaml', (t, w) => remove(t, w, '$.a[0]'), 'a: []\nb: 1\n'),
  row(
    'an item of YAML between brackets goes with its comma',
    'a: [x, y]\n',
    'yaml',
    (t, w) => remove(t, w, '$.a[0]'),
    'a: [y]\n',
  ),
  row(
    'a member of TOML between brackets goes with its comma',
    'a = { x = 1, y = 2 }\n',
    'toml',
    (t, w) => remove(t, w, '$.a.x'),
    'a = { y = 2 }\n',
  ),
  row(
    'an item of TOML goes with its comma',
    'a = [1, 2]\nb = 1\n',
    'toml',
    (t, w) => remove(t, w, '$.a[1]'),
    'a = [1]\nb = 1\n',
  ),
  row('a comment in brackets stays', '{ /* none */ "a": 1 }', 'json', (t, w) => remove(t, w, '$.a'), '{ /* none */ }'),
  row(
    'a last item on its own line goes with the comma before',
    '[\n  1,\n  2\n]',
    'json',
    (t, w) => remove(t, w, '$[1]'),
    '[\n  1\n]',
  ),
  row('a comma farther off is not its own', '[1, 2 , 3]', 'json', (t, w) => remove(t, w, '$[1]'), '[1, 3]'),
  row('the last line of a file goes whole', 'a: 1\nb: 2', 'yaml', (t, w) => remove(t, w, '$.b'), 'a: 1\n'),
  row('an attribute alone goes with its blanks', '<x  a="1"/>', 'xml', (t, w) => remove(t, w, '$.x[0].a'), '<x/>'),
  row(
    'an element amid text goes alone',
    '<x><z/> <y/><z/></x>',
    'xml',
    (t, w) => remove(t, w, '$.x[0].y[0]'),
    '<x><z/> <z/></x>',
  ),
  row(
    'a member goes into the object itself',
    '{ "a": 1 }',
    'json',
    (t, w) => member(t, w, '$.a', '$'),
    '{ "a": 1, "gate": "nine" }',
  ),
  row(
    'a member goes into an object without members',
    '{ "a": 1, "slots": {} }',
    'json',
    (t, w) => member(t, w, '$.a', '$.slots'),
    '{ "a": 1, "slots": { "gate": "nine" } }',
  ),
  row(
    'an object for it is made',
    '{ "a": 1 }',
    'json',
    (t, w) => member(t, w, '$.a', '$.slots'),
    '{ "a": 1, "slots": { "gate": "nine" } }',
  ),
  row(
    'no object is made in TOML',
    'a = 1\n',
    'toml',
    (t, w) => member(t, w, '$.a', '$.slots'),
    refused('there is no place for “gate”'),
  ),
  row(
    'what is no object takes no member',
    '{ "a": 1, "slots": [] }',
    'json',
    (t, w) => member(t, w, '$.a', '$.slots'),
    refused('there is no place for “gate”'),
  ),
  row(
    'a member of INI is written like the one before',
    '[s]\na: 1\n[t]\nb = 2\n',
    'ini',
    (t, w) => member(t, w, '$.s.a', '$'),
    '[s]\na: 1\ngate: nine\n[t]\nb = 2\n',
  ),
  row(
    'a section without members takes one',
    '[s]\r\n',
    'ini',
    () => ({ is: 'add item', file, list: '$.s', to: 'nine' }),
    '[s]\r\nnine =\r\n',
  ),
  row(
    'a member of TOML is written like the one before',
    'a=1\n',
    'toml',
    (t, w) => member(t, w, '$.a', '$'),
    'a=1\ngate="nine"\n',
  ),
  row(
    'between brackets of TOML with an equals sign',
    'x = { a = 1 }\n',
    'toml',
    (t, w) => member(t, w, '$.x.a', '$'),
    'x = { a = 1, gate = "nine" }\n',
  ),
  row(
    'an empty one of TOML as well',
    'a = 1\nx = {}\n',
    'toml',
    (t, w) => member(t, w, '$.a', '$.x'),
    'a = 1\nx = { gate = "nine" }\n',
  ),
  row(
    'a member of YAML goes below the last, whatever that holds',
    's:\n  a:\n    - 1\n    - 2\nt: 1\n',
    'yaml',
    (t, w) => member(t, w, '$.s.a', '$'),
    's:\n  a:\n    - 1\n    - 2\n  gate: nine\nt: 1\n',
  ),
  row(
    'a quoted name does not lend its quotes',
    '{ "a" : 1 }',
    'json',
    (t, w) => member(t, w, '$.a', '$'),
    '{ "a" : 1, "gate" : "nine" }',
  ),
  row('a table gets no column', 'a,b\n1,2\n', 'csv', () => item('$[0]'), refused('there is no place for “nine”')),
  row(
    'an attribute goes behind the last',
    '<x a="1" b=\'2\'><y/></x>',
    'xml',
    (t, w) => member(t, w, '$.x[0].a', '$'),
    '<x a="1" b=\'2\' gate="nine"><y/></x>',
  ),
  row(
    'an attribute is laid out as the last',
    '<x\n  a="1"/>',
    'xml',
    (t, w) => member(t, w, '$.x[0].a', '$'),
    '<x\n  a="1"\n  gate="nine"/>',
  ),
  row(
    'a first attribute goes behind the name',
    '<x><y z="1"/></x>',
    'xml',
    (t, w) => member(t, w, '$.x[0].y[0].z', '$'),
    '<x><y z="1" gate="nine"/></x>',
  ),
  row('an item goes into an empty list', '{ "l": [] }', 'json', () => item('$.l'), '{ "l": ["nine"] }'),
  row(
    'an item is laid out as the last',
    '[\n    1,\n    2\n]',
    'json',
    () => item('$'),
    '[\n    1,\n    2,\n    "nine"\n]',
  ),
  row(
    'an item behind a comma ends with one',
    'l = [\n  1,\n]\n',
    'toml',
    () => item('$.l'),
    'l = [\n  1,\n  "nine",\n]\n',
  ),
  row(
    'a comment behind the last item stays on its line',
    'l = [\n  1 # one\n]\n',
    'toml',
    () => item('$.l'),
    'l = [\n  1, # one\n  "nine"\n]\n',
  ),
  row('on one line a comment is passed over', '[1 /* one */]', 'json', () => item('$'), '[1, "nine" /* one */]'),
  row(
    'an item of YAML stands on a line of its own',
    'l:\n  - a # one\nb: 1\n',
    'yaml',
    () => item('$.l'),
    'l:\n  - a # one\n  - nine\nb: 1\n',
  ),
  row('no list, no item', '{ "l": 1 }', 'json', () => item('$.l'), refused('there is no list at $.l')),
  row(
    'rows of a table are not made up',
    'a,b\n1,2\n',
    'csv',
    () => item('$'),
    refused('an entry for “nine” cannot be made up by itself'),
  ),
];

describe('a repair written', () => {
  beforeAll(useGrammars);

  for (const [says, text, writing, change, after] of ROWS)
    it(`${writing}: ${says}`, () => {
      let result: string;
      try {
        result = repairedText(file, text, writing, [change]);
      } catch (error) {
        if (!(error instanceof GlueError)) throw error;
        expect(error.code).toBe('repair/impossible');
        result = error.message;
      }
      expect(result).toBe(after);
    });
});
