import fc from 'fast-check';
import { linesOf } from '../lines.js';
import { member, textOf, type TreeNode } from './node.js';
import { formatOf, readTree } from './read-tree.js';

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

  it('says that a file is nested too deeply instead of failing', () => {
    const { documents, problems } = readTree('['.repeat(200_000), 'json');
    expect(documents.length + problems.length).toBeGreaterThan(0);
  });

  it('knows formats by their ending, whatever its capitals', () => {
    expect([formatOf('a/b.scene.JSON'), formatOf('x.yml'), formatOf('x.png'), formatOf('none')]).toEqual([
      'json',
      'yaml',
      undefined,
      undefined,
    ]);
  });

  it('never fails and never points outside of the text', () => {
    const texts = fc.oneof(
      fc.string(),
      fc.json(),
      fc
        .array(fc.constantFrom('{', '}', '[', ']', ':', ',', '"', '- ', '\n', '  ', '&a ', '*a', 'x', '!t ', '|'))
        .map((parts) => parts.join('')),
    );
    fc.assert(
      fc.property(texts, fc.constantFrom('json' as const, 'yaml' as const), (text, format) => {
        const { documents, problems } = readTree(text, format);
        const places = [
          ...documents.flatMap(placesOf),
          ...problems.map(({ start, end }): [number, number] => [start, end]),
        ];
        return places.every(([start, end]) => start >= 0 && start <= end && end <= text.length + 1);
      }),
      { numRuns: 500 },
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
