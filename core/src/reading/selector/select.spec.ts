import { GlueError } from '../../model/errors.js';
import { readJson } from '../tree/json.js';
import type { TreeNode } from '../tree/node.js';
import { compileSelector } from './select.js';

function value(node: TreeNode): unknown {
  if (node.kind === 'list') return node.children.map(value);
  if (node.kind === 'object') return Object.fromEntries(node.children.map((child) => [child.key, value(child)]));
  return node.value;
}

function select(selector: string, document: unknown): unknown[] {
  return compileSelector(selector)(readJson(JSON.stringify(document)).documents[0]).map(value);
}

/** Selector, document, what it selects: the behaviour that RFC 9535 describes, section by section. */
const CASES: [string, unknown, unknown[]][] = [
  ['$', { k: 'v' }, [{ k: 'v' }]],
  // 2.3.1 names
  ["$.o['j j']", { o: { 'j j': { 'k.k': 3 } } }, [{ 'k.k': 3 }]],
  ["$.o['j j']['k.k']", { o: { 'j j': { 'k.k': 3 } } }, [3]],
  ['$["\'"]["@"]', { "'": { '@': 2 } }, [2]],
  ['$.missing', { a: 1 }, []],
  ['$.a', [1], []],
  ['$["\\u00e9\\n"]', { 'é\n': 1 }, [1]],
  ['$["\\uD83D\\uDE00"]', { '😀': 1 }, [1]],
  // 2.3.2 wildcards
  ['$[*]', { o: { j: 1, k: 2 }, a: [5, 3] }, [{ j: 1, k: 2 }, [5, 3]]],
  ['$.o[*, *]', { o: { j: 1, k: 2 } }, [1, 2, 1, 2]],
  // 2.3.3 indexes
  ['$[1]', ['a', 'b'], ['b']],
  ['$[-2]', ['a', 'b'], ['a']],
  ['$[2]', ['a', 'b'], []],
  ['$[0]', { '0': 'a' }, []],
  // 2.3.4 slices
  ['$[1:3]', ['a', 'b', 'c', 'd', 'e', 'f', 'g'], ['b', 'c']],
  ['$[5:]', ['a', 'b', 'c', 'd', 'e', 'f', 'g'], ['f', 'g']],
  ['$[1:5:2]', ['a', 'b', 'c', 'd', 'e', 'f', 'g'], ['b', 'd']],
  ['$[5:1:-2]', ['a', 'b', 'c', 'd', 'e', 'f', 'g'], ['f', 'd']],
  ['$[::-1]', ['a', 'b', 'c'], ['c', 'b', 'a']],
  ['$[:2:0]', ['a', 'b', 'c'], []],
  ['$[-2:]', ['a', 'b', 'c'], ['b', 'c']],
  // 2.3.5 filters
  ['$.a[?@.b == "kilo"]', { a: [3, { b: 'j' }, { b: 'kilo' }] }, [{ b: 'kilo' }]],
  ['$.a[?(@.b == "kilo")]', { a: [{ b: 'kilo' }] }, [{ b: 'kilo' }]],
  ['$.a[?@ > 3.5]', { a: [3, 5, 1, 4] }, [5, 4]],
  ['$.a[?@.b]', { a: [{ b: null }, { c: 1 }] }, [{ b: null }]],
  ['$[?@.*]', { a: [1], b: [], c: 1 }, [[1]]],
  ['$[?@[?@.b]]', { a: [{ b: 1 }], d: [{ c: 1 }] }, [[{ b: 1 }]]],
  ['$.o[?@ < 3, ?@ < 2]', { o: { p: 1, q: 2, r: 3 } }, [1, 2, 1]],
  ['$.a[?@ < 2 || @.b == "k"]', { a: [1, 3, { b: 'k' }] }, [1, { b: 'k' }]],
  ['$.o[?@ > 1 && @ < 4]', { o: { p: 1, q: 2, r: 3, s: 5 } }, [2, 3]],
  ['$.a[?!@.b]', { a: [{ b: 1 }, { c: 1 }] }, [{ c: 1 }]],
  ['$.a[?!(@.b == 1)]', { a: [{ b: 1 }, { b: 2 }] }, [{ b: 2 }]],
  ['$.a[?@.b == $.x]', { a: [{ b: 3 }, { b: 4 }], x: 4 }, [{ b: 4 }]],
  ['$.a[?@ == @]', { a: [1, {}, [2]] }, [1, {}, [2]]],
  [
    '$[?@.x == @.y]',
    [{ x: [1, { a: 2 }], y: [1, { a: 2 }] }, { x: [1], y: [2] }, {}],
    [{ x: [1, { a: 2 }], y: [1, { a: 2 }] }, {}],
  ],
  ['$[?@.a == null]', [{ a: null }, {}], [{ a: null }]],
  ['$[?@.a <= "b"]', [{ a: 'a' }, { a: 'b' }, { a: 'c' }, { a: 1 }], [{ a: 'a' }, { a: 'b' }]],
  ['$[?@.a >= 2]', [{ a: 1 }, { a: 2 }, { a: '3' }], [{ a: 2 }]],
  ['$[?@.a != 1]', [{ a: 1 }, { a: 2 }, {}], [{ a: 2 }, {}]],
  // 2.4 functions
  ['$[?length(@) == 2]', ['ab', [1, 2], { a: 1, b: 2 }, '😀x', 12], ['ab', [1, 2], { a: 1, b: 2 }, '😀x']],
  ['$[?count(@.*) == 2]', [[1, 2], { a: 1 }, 5], [[1, 2]]],
  ['$[?match(@.d, "19..")]', [{ d: '1974' }, { d: '11974' }], [{ d: '1974' }]],
  ['$[?search(@.d, "b+")]', [{ d: 'abbc' }, { d: 'ac' }], [{ d: 'abbc' }]],
  ['$[?match(@, "a.c")]', ['a\nc', 'abc', 'a\u2028c'], ['abc', 'a\u2028c']],
  ['$[?match(@, "[")]', ['['], []],
  ['$[?value(@..c) == 1]', [{ a: { c: 1 } }, { a: { c: 1 }, c: 1 }], [{ a: { c: 1 } }]],
  // 2.5 segments
  ["$['a', 'c']", { a: 1, b: 2, c: 3 }, [1, 3]],
  ['$..j', { o: { j: 1, k: 2 }, a: [5, 3, [{ j: 4 }, { k: 6 }]] }, [1, 4]],
  ['$..[0]', { a: [5, [6]] }, [5, 6]],
  ['$..*', { a: [1] }, [[1], 1]],
  ['$.a..[0, 1]', { a: [[1, 2], 3] }, [[1, 2], 3, 1, 2]],
  ['$ .a [ 0 ]', { a: [1] }, [1]],
];

const BOOKS = {
  store: {
    book: [
      { category: 'reference', author: 'Nigel Rees', title: 'Sayings of the Century', price: 8.95 },
      { category: 'fiction', author: 'Evelyn Waugh', title: 'Sword of Honour', price: 12.99 },
      { category: 'fiction', author: 'Herman Melville', title: 'Moby Dick', isbn: '0-553-21311-3', price: 8.99 },
      {
        category: 'fiction',
        author: 'J. R. R. Tolkien',
        title: 'The Lord of the Rings',
        isbn: '0-395-19395-8',
        price: 22.99,
      },
    ],
    bicycle: { color: 'red', price: 399 },
  },
};
/** The standard's own introduction, section 1.5: selector, and the titles, authors or values it gives. */
const INTRODUCTION: [string, unknown[]][] = [
  ['$.store.book[*].author', ['Nigel Rees', 'Evelyn Waugh', 'Herman Melville', 'J. R. R. Tolkien']],
  ['$..author', ['Nigel Rees', 'Evelyn Waugh', 'Herman Melville', 'J. R. R. Tolkien']],
  ['$.store.*', [BOOKS.store.book, BOOKS.store.bicycle]],
  ['$.store..price', [8.95, 12.99, 8.99, 22.99, 399]],
  ['$..book[2]', [BOOKS.store.book[2]]],
  ['$..book[2].author', ['Herman Melville']],
  ['$..book[2].publisher', []],
  ['$..book[-1]', [BOOKS.store.book[3]]],
  ['$..book[0,1]', BOOKS.store.book.slice(0, 2)],
  ['$..book[:2]', BOOKS.store.book.slice(0, 2)],
  ['$..book[?@.isbn]', BOOKS.store.book.slice(2)],
  ['$..book[?@.price<10]', [BOOKS.store.book[0], BOOKS.store.book[2]]],
];

/** Texts that RFC 9535 does not allow. */
const NOT_ALLOWED = [
  '',
  'a',
  '$.',
  '$..',
  '$[',
  '$[]',
  '$[01]',
  '$[-0]',
  '$[1',
  '$["a]',
  "$['\\x']",
  '$[?]',
  '$[?@.a = 1]',
  '$[?@.* == 1]',
  '$[?1]',
  '$[?length(@.a)]',
  '$[?count(1) == 1]',
  '$[?nope(@)]',
  '$[?@.a == 1 &&]',
  '$ ',
  '$.1a',
  '$[9007199254740992]',
  '$[?match(@.a)]',
  '$["\\uD800"]',
  '$[?!@.a == 1]',
  '$[?true]',
];

describe('selectors', () => {
  for (const [selector, document, wanted] of CASES) {
    it(`${selector} selects as the standard says`, () => expect(select(selector, document)).toEqual(wanted));
  }

  for (const [selector, wanted] of INTRODUCTION) {
    it(`${selector} selects as the standard's introduction says`, () =>
      expect(select(selector, BOOKS)).toEqual(jasmine.arrayWithExactContents(wanted)));
  }

  it('visits everything once: a file twice as long takes no more than twice the steps', () => {
    const visited = (count: number): number => {
      const { documents } = readJson(
        JSON.stringify({ list: Array.from({ length: count }, (_, at) => ({ at, in: { at } })) }),
      );
      let steps = 0;
      const open = [documents[0]];
      for (let node = open.pop(); node; node = open.pop()) {
        const { children } = node;
        Object.defineProperty(node, 'children', { get: () => (steps++, children) });
        open.push(...children);
      }
      compileSelector('$..in.at')(documents[0]);
      compileSelector('$.list[?@.at > 3].in')(documents[0]);
      return steps;
    };
    expect(visited(400) / visited(200)).toBeLessThan(2.1);
  });

  for (const selector of NOT_ALLOWED) {
    it(`refuses “${selector}” and says where`, () => {
      expect(() => compileSelector(selector)).toThrowMatching(
        (error) => error instanceof GlueError && /character \d+: expected/.test(error.detail),
      );
    });
  }

  it('refuses endless parentheses instead of running out of stack', () => {
    expect(() => compileSelector(`$[?${'('.repeat(5000)}@.a${')'.repeat(5000)}]`)).toThrowError(/nested/);
  });

  it('walks trees of any depth', () => {
    const deep: unknown = JSON.parse(`${'{"a":'.repeat(800)}1${'}'.repeat(800)}`);
    expect(compileSelector('$..a')(readJson(JSON.stringify(deep)).documents[0]).length).toBe(800);
  });
});
