import fc from 'fast-check';
import { compileSelector } from '../selector/select.js';
import { linesOf } from '../lines.js';
import { member, textOf, type TreeNode } from './node.js';
import { FORMATS, formatOf, readTree } from './read-tree.js';

const placesOf = (node: TreeNode): [number, number][] => [[node.start, node.end], ...node.children.flatMap(placesOf)];

describe('trees of structured files', () => {
  it('keeps where keys and values stand in JSON with comments', () => {
    const text = '{\n  // the bell\n  "code": "3-1",\n}';
    const [root] = readTree(text, 'json').documents;
    const code = member(root, 'code')!;
    expect(text.slice(code.start, code.end)).toBe('"3-1"');
    expect(text.slice(code.keyStart, code.keyEnd)).toBe('"code"');
    expect(linesOf(text).range(code.start, code.end)).toEqual({ line: 3, column: 11, endLine: 3, endColumn: 16 });
  });

  it('reads what it can of broken JSON and says where it is broken', () => {
    const { documents, problems } = readTree('{"a": 1, "b": }', 'json');
    expect(textOf(member(documents[0], 'a'))).toBe('1');
    expect(problems.length).toBeGreaterThan(0);
    expect(problems[0].start).toBe(14);
  });

  it('reads YAML documents, anchors, merges and tags', () => {
    const text = 'base: &b {x: 1}\nrope:\n  <<: *b\n  y: !Hemp 2\n---\nsecond: true\n';
    const { documents } = readTree(text, 'yaml');
    expect(documents.length).toBe(2);
    const rope = member(documents[0], 'rope')!;
    expect(textOf(member(rope, 'x'))).toBe('1');
    expect(member(rope, 'y')!.tag).toBe('Hemp');
  });

  it('gives every YAML value its own place', () => {
    const text = 'rows:\n  - name: "Ebb"\n    low: 0.4\n';
    const [root] = readTree(text, 'yaml').documents;
    const row = member(root, 'rows')!.children[0];
    expect(text.slice(member(row, 'name')!.start, member(row, 'name')!.end)).toBe('"Ebb"');
  });

  it('reads XML: attributes as members, elements as lists under their tags', () => {
    const text =
      '<?xml version="1.0"?>\n<Scene>\n  <Gate name="Upper"  Gate="x"><Gate name=\'Leaf\'/>open &amp; wide</Gate>\n</Scene>';
    const [root] = readTree(text, 'xml').documents;
    const [upper] = compileSelector('$.Scene[0].Gate[*]')(root);
    expect(textOf(member(upper, 'name'))).toBe('Upper');
    expect(textOf(member(upper, '@Gate'))).toBe('x');
    expect([textOf(member(upper, '#tag')), textOf(member(upper, '#text'))]).toEqual(['Gate', 'open & wide']);
    const names = compileSelector('$..Gate[*].name')(root);
    expect(names.map((node) => text.slice(node.start, node.end))).toEqual(['Upper', 'Leaf']);
    expect(text.slice(names[0].keyStart, names[0].keyEnd)).toBe('name');
    expect(text.slice(upper.start, upper.end)).toMatch(/^<Gate name="Upper".*<\/Gate>$/);
  });

  it('knows where values, names and texts of XML stand, whatever is written in them', () => {
    const text =
      '<?xml version="1.0"?>\n<!-- <a mode="x"/> -->\n<gate mode="modest" script = \'scripts/gate.ts\' e="&lt;e=&quot;">\r\n  open &amp; wide<!-- - -->\n <mode><![CDATA[ <b> ]]></mode></gate>';
    const [root] = readTree(text, 'xml').documents;
    const placed = (selector: string): string[] => {
      const [node] = compileSelector(selector)(root);
      return [node.keyStart < 0 ? '' : text.slice(node.keyStart, node.keyEnd), text.slice(node.start, node.end)];
    };
    expect(placed('$.gate[0]["@mode"]')).toEqual(['mode', 'modest']);
    expect(placed('$.gate[0].script')).toEqual(['script', 'scripts/gate.ts']);
    expect(placed('$.gate[0].e')).toEqual(['e', '&lt;e=&quot;']);
    expect(placed("$.gate[0]['#text']")).toEqual(['', 'open &amp; wide']);
    expect(placed("$.gate[0].mode[0]['#text']")).toEqual(['', '<b>']);
    expect(placed('$.gate[0].mode[0]')).toEqual(['', '<mode><![CDATA[ <b> ]]></mode>']);
    expect(placed("$.gate[0]['#tag']")).toEqual(['', 'gate']);
  });

  it('expands no entities that a document declares, and loads nothing', () => {
    const bomb =
      '<!DOCTYPE x [<!ENTITY a "ha"><!ENTITY b "&a;&a;"><!ENTITY f SYSTEM "file:///etc/passwd">]><x>&b;&f;</x>';
    const { documents, problems } = readTree(bomb, 'xml');
    expect(textOf(compileSelector("$.x[0]['#text']")(documents[0])[0])).not.toContain('haha');
    expect(problems.length).toBe(2);
  });

  it('reads what it can of broken XML and says where it is broken', () => {
    const { documents, problems } = readTree('<a><b c="1"/><d', 'xml');
    expect(compileSelector('$.a[0].b[0].c')(documents[0]).map(textOf)).toEqual(['1']);
    expect(problems.length).toBeGreaterThan(0);
  });

  it('reads TOML: tables, lists of tables, dotted keys, inline tables, dates', () => {
    const text =
      'title = "Tides"\n[sea.lock]\ndepth = 4.5\nsill.height = 1\n[[row]]\nname = "Ebb"\n[[row]]\nname = "Neap"\nday = 1979-05-27\nat = { x = 1, y = [true] }\n[row.more]\nz = 2\n';
    const [root] = readTree(text, 'toml').documents;
    const find = (selector: string): string[] => compileSelector(selector)(root).map(textOf);
    expect(find('$.sea.lock.depth')).toEqual(['4.5']);
    expect(find('$.sea.lock.sill.height')).toEqual(['1']);
    expect(find('$.row[*].name')).toEqual(['Ebb', 'Neap']);
    expect(find('$.row[1].at.y[0]')).toEqual(['true']);
    expect(find('$.row[1].more.z')).toEqual(['2']);
    expect(find('$.row[1].day')).toEqual(['1979-05-27']);
    const [ebb] = compileSelector('$.row[0].name')(root);
    expect(text.slice(ebb.start, ebb.end)).toBe('"Ebb"');
  });

  it('reads TOML up to a fault', () => {
    const { documents, problems } = readTree('a = 1\nb = \nc = 3\n', 'toml');
    expect(textOf(member(documents[0], 'a'))).toBe('1');
    expect([problems.length, linesOf('a = 1\nb = \nc = 3\n').lineOf(problems[0].start)]).toEqual([1, 2]);
  });

  it('reads INI: sections, both marks, comments, quotes', () => {
    const text = 'top = 1\n; a comment\n[bells]\ncode : 3-1\nname = "Fog bell"\nnonsense\n[bells]\ncode=2-1\n';
    const { documents, problems } = readTree(text, 'ini');
    expect(compileSelector('$.bells.code')(documents[0]).map(textOf)).toEqual(['2-1']);
    const [name] = compileSelector('$.bells.name')(documents[0]);
    expect([textOf(name), text.slice(name.start, name.end)]).toEqual(['Fog bell', 'Fog bell']);
    expect(problems.map((problem) => text.slice(problem.start, problem.end))).toEqual(['nonsense']);
  });

  it('reads CSV: quotes, line breaks in cells, other separators', () => {
    const text = 'code,name\r\nebb,"Ebb, the ""low"" one\nof two"\nneap,Neap\n\n';
    const [root] = readTree(text, 'csv').documents;
    expect(compileSelector('$[*].name')(root).map(textOf)).toEqual(['Ebb, the "low" one\nof two', 'Neap']);
    const [neap] = compileSelector('$[1].name')(root);
    expect(text.slice(neap.start, neap.end)).toBe('Neap');
    expect(compileSelector('$[0].b')(readTree('a;b\n1;2,5', 'csv').documents[0]).map(textOf)).toEqual(['2,5']);
  });

  it('says what is odd in CSV and reads on', () => {
    const { documents, problems, notes } = readTree('a,b\n1,2,3\n"x"y,2\n"open', 'csv');
    expect(problems.map((problem) => problem.message)).toEqual(['text after a closing quote', 'a quote is not closed']);
    expect(notes?.map(({ message }) => message)).toEqual([
      '3 cells where 2 columns are named',
      '1 cell where 2 columns are named',
    ]);
    expect(documents[0].children.length).toBe(3);
  });

  it('stops aliases that stand for more than can be read', () => {
    const names = 'abcdefghij'.split('');
    const lines = names.map(
      (name, at) =>
        `${name}: &${name} [${
          at === 0
            ? 'x'
            : Array(10)
                .fill(`*${names[at - 1]}`)
                .join(', ')
        }]`,
    );
    const { problems } = readTree(lines.join('\n'), 'yaml');
    expect(problems.map((problem) => problem.message)).toContain('aliases stand for more than can be read');
  });

  it('leaves out of JSON what is not closed, and nothing else beside a fault', () => {
    const texts = (text: string): string[] => readTree(text, 'json').documents[0].children.map(textOf);
    expect(texts('["a" "b", "c"]')).toEqual(['a', 'b', 'c']);
    expect(texts('["a", "b\n, "c"]')).not.toContain('b');
    expect(texts('["a", "b')).toEqual(['a']);
  });

  it('takes an alias for what stood under its name before it, and a name within itself for nothing', () => {
    const { documents, problems } = readTree('a: &x 1\nb: *x\nc: &x 2\nd: *x\ne: &y [*y, 3]\n', 'yaml');
    expect(problems).toEqual([]);
    const values = documents[0].children.map((child) => textOf(child) || child.children.map(textOf).join());
    expect(values).toEqual(['1', '1', '2', '2', ',3']);
  });

  it('notes a key that stands twice in an object, and merges as often as one likes', () => {
    const text = 'a: &a {x: 1}\nb: {<<: *a, x: 2}\na: 3\n<<: *a\n<<: *a\n';
    const { problems } = readTree(text, 'yaml');
    expect(problems.map(({ message, start }) => `${message} ${start}`)).toEqual([
      `Map keys must be unique ${text.lastIndexOf('a: 3')}`,
    ]);
  });

  it('says that a file is nested too deeply instead of failing', () => {
    const nested = (depth: number): [number, string[]] => {
      const { documents, problems } = readTree(`${'['.repeat(depth)}${']'.repeat(depth)}`, 'json');
      return [documents.length, problems.map(({ message }) => message)];
    };
    expect(nested(500)).toEqual([1, []]);
    for (const depth of [502, 5_000, 200_000]) expect(nested(depth)).toEqual([0, ['nested too deeply to be read']]);
  });

  it('knows formats by their ending, whatever its capitals', () => {
    expect([formatOf('a/b.scene.JSON'), formatOf('x.yml'), formatOf('x.png'), formatOf('none')]).toEqual([
      'json',
      'yaml',
      undefined,
      undefined,
    ]);
  });

  it('ends faulty YAML where the text ends', () => {
    const text = '- [}|{&a <a ';
    const { documents, problems } = readTree(text, 'yaml');
    expect(documents[0].end).toBe(text.length);
    expect(problems.length).toBeGreaterThan(0);
  });
  it('never fails and never points outside of the text', () => {
    const texts = fc.oneof(
      fc.string(),
      fc.json(),
      fc
        .array(
          fc.constantFrom(
            '{',
            '}',
            '[',
            ']',
            ':',
            ',',
            '"',
            '- ',
            '\n',
            '  ',
            '&a ',
            '*a',
            'x',
            '!t ',
            '|',
            '<a ',
            '/>',
            '</a>',
            '=',
            '[[',
            ';',
          ),
        )
        .map((parts) => parts.join('')),
    );
    fc.assert(
      fc.property(texts, fc.constantFrom(...FORMATS), (text, format) => {
        const { documents, problems } = readTree(text, format);
        const places = [
          ...documents.flatMap(placesOf),
          ...problems.map(({ start, end }): [number, number] => [start, end]),
        ];
        return places.every(([start, end]) => start >= 0 && start <= end && end <= text.length + 1);
      }),
      { numRuns: 2000 },
    );
  });
});

describe('lines', () => {
  it('counts LF, CR LF and CR as line ends, from one', () => {
    const lines = linesOf('a\nb\r\nc\rd');
    expect([lines.lineOf(0), lines.lineOf(2), lines.lineOf(5), lines.lineOf(7)]).toEqual([1, 2, 3, 4]);
    expect(lines.columnOf(5)).toBe(1);
  });
});
