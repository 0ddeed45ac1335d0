import { entryOf, itemAt, must } from '../../helpers/at.js';
import { GlueError } from '../../model/errors.js';
import {
  FUNCTIONS,
  isSingular,
  type Call,
  type Comparison,
  type FunctionName,
  type Operand,
  type Query,
  type Segment,
  type Selector,
  type Test,
} from './syntax.js';

/** Integers of a selector must be exact in a JavaScript number (RFC 9535, section 2.1). */
const LARGEST = Number.MAX_SAFE_INTEGER;
/** Parentheses and filters inside filters beyond this are refused, so that no text can exhaust the stack. */
const DEEPEST = 100;

const NAME_FIRST = /[A-Za-z_\u0080-\uD7FF\uD800-\uDFFF\uE000-\uFFFF]/;
const ESCAPES: Record<string, string> = { b: '\b', f: '\f', n: '\n', r: '\r', t: '\t', '/': '/', '\\': '\\' };

/**
 * Parses a JSONPath query (RFC 9535 in full, by recursive descent over its grammar in appendix A). One closure: each
 * rule of the grammar is a function in it, and all of them move on in the same text.
 * @throws GlueError `selector/invalid`, saying where and what was expected
 */
export function parseSelector(text: string): Query {
  let at = 0;
  let depth = 0;

  const fail = (expected: string): never => {
    const found = at < text.length ? `found “${text.slice(at, at + 12)}”` : 'the text ends';
    throw new GlueError('selector/invalid', `“${text}”, character ${at + 1}: expected ${expected}, ${found}.`);
  };
  const blank = (): void => {
    while (at < text.length && ' \t\n\r'.includes(itemAt(text, at))) at++;
  };
  const eat = (token: string): boolean => {
    if (!text.startsWith(token, at)) return false;
    at += token.length;
    return true;
  };
  const need = (token: string): void => {
    if (!eat(token)) fail(`“${token}”`);
  };
  const deeper = <T>(read: () => T): T => {
    if (++depth > DEEPEST) fail('fewer nested parentheses');
    const result = read();
    depth--;
    return result;
  };

  const segments = (): Segment[] => {
    const found: Segment[] = [];
    for (;;) {
      const before = at;
      blank();
      if (eat('..')) {
        if (text[at] === '[') found.push({ descendant: true, selectors: bracketed() });
        else found.push({ descendant: true, selectors: [shorthand()] });
      } else if (eat('.')) found.push({ descendant: false, selectors: [shorthand()] });
      else if (text[at] === '[') found.push({ descendant: false, selectors: bracketed() });
      else {
        at = before;
        return found;
      }
    }
  };

  const shorthand = (): Selector => {
    if (eat('*')) return { is: 'wildcard' };
    if (!NAME_FIRST.test(text[at] ?? '')) fail('a name or “*”');
    const start = at;
    while (
      at < text.length &&
      (NAME_FIRST.test(itemAt(text, at)) || (itemAt(text, at) >= '0' && itemAt(text, at) <= '9'))
    )
      at++;
    return { is: 'name', name: text.slice(start, at) };
  };

  const bracketed = (): Selector[] => {
    need('[');
    const found: Selector[] = [];
    do {
      blank();
      found.push(selector());
      blank();
    } while (eat(','));
    need(']');
    return found;
  };

  const selector = (): Selector => {
    if (text[at] === '"' || text[at] === "'") return { is: 'name', name: quoted() };
    if (eat('*')) return { is: 'wildcard' };
    if (eat('?')) {
      blank();
      return { is: 'filter', test: deeper(anyOf) };
    }
    return indexOrSlice();
  };

  const indexOrSlice = (): Selector => {
    const start = integer();
    const afterStart = at;
    blank();
    if (!eat(':')) {
      at = afterStart;
      if (start === undefined) fail('a name in quotes, a number, “*”, “:” or “?”');
      return { is: 'index', index: must(start) };
    }
    blank();
    const end = integer();
    if (end !== undefined) blank();
    let step: number | undefined;
    if (eat(':')) {
      blank();
      step = integer();
    }
    return { is: 'slice', start, end, step: step ?? 1 };
  };

  const integer = (): number | undefined => {
    const found = /^(?:0|-?[1-9][0-9]*)/.exec(text.slice(at, at + 20));
    if (!found) return undefined;
    at += found[0].length;
    if (/[0-9]/.test(text[at] ?? '')) fail('a number without leading zeros');
    const value = Number(found[0]);
    if (Math.abs(value) > LARGEST) fail('a smaller number');
    return value;
  };

  const quoted = (): string => {
    const mark = itemAt(text, at++);
    let value = '';
    while (at < text.length && text[at] !== mark) {
      if (text.charCodeAt(at) < 0x20) fail('no control characters in quotes');
      if (text[at] === '\\') value += escaped(mark);
      else value += text[at++];
    }
    need(mark);
    return value;
  };

  const escaped = (mark: string): string => {
    at++;
    const letter = itemAt(text, at);
    if (letter === mark) {
      at++;
      return mark;
    }
    if (letter in ESCAPES) {
      at++;
      return entryOf(ESCAPES, letter);
    }
    if (letter !== 'u') fail('a known escape');
    const unit = hex();
    if (unit >= 0xdc00 && unit <= 0xdfff) fail('a whole surrogate pair');
    if (unit < 0xd800 || unit > 0xdbff) return String.fromCharCode(unit);
    if (text[at] !== '\\' || text[at + 1] !== 'u') fail('the second half of a surrogate pair');
    at++;
    const second = hex();
    if (second < 0xdc00 || second > 0xdfff) fail('the second half of a surrogate pair');
    return String.fromCharCode(unit, second);
  };

  const hex = (): number => {
    const digits = text.slice(at + 1, at + 5);
    if (!/^[0-9A-Fa-f]{4}$/.test(digits)) fail('four hexadecimal digits');
    at += 5;
    return parseInt(digits, 16);
  };

  const anyOf = (): Test => joined('or', '||', allOf);
  const allOf = (): Test => joined('and', '&&', basic);

  const joined = (is: 'or' | 'and', token: string, next: () => Test): Test => {
    const tests = [next()];
    for (;;) {
      const before = at;
      blank();
      if (!eat(token)) {
        at = before;
        return tests.length === 1 ? itemAt(tests, 0) : { is, tests };
      }
      blank();
      tests.push(next());
    }
  };

  const basic = (): Test => {
    if (eat('!')) {
      blank();
      if (text[at] === '(') return { is: 'not', test: parenthesised() };
      const operand = comparable();
      if (comparison(true)) fail('parentheses around a negated comparison');
      return { is: 'not', test: asTest(operand) };
    }
    if (text[at] === '(') return parenthesised();
    const left = comparable();
    const before = at;
    blank();
    const operator = comparison();
    if (!operator) {
      at = before;
      return asTest(left);
    }
    blank();
    const right = comparable();
    mustBeValue(left);
    mustBeValue(right);
    return { is: 'compare', left, operator, right };
  };

  const parenthesised = (): Test => {
    need('(');
    blank();
    const test = deeper(anyOf);
    blank();
    need(')');
    return test;
  };

  const comparison = (peek = false): Comparison | undefined => {
    const before = at;
    if (peek) blank();
    const found = (['==', '!=', '<=', '>=', '<', '>'] as const).find((token) => text.startsWith(token, at));
    if (peek) at = before;
    else if (found) at += found.length;
    return found;
  };

  const asTest = (operand: Operand): Test => {
    if (operand.is === 'query') return { is: 'exists', query: operand.query };
    if (operand.is === 'call' && FUNCTIONS[operand.call.name].gives === 'logical')
      return { is: 'call', call: operand.call };
    return fail('a comparison');
  };

  const mustBeValue = (operand: Operand): void => {
    if (operand.is === 'query' && !isSingular(operand.query)) fail('a query for a single node in a comparison');
    if (operand.is === 'call' && FUNCTIONS[operand.call.name].gives !== 'value')
      fail('a function that gives a value in a comparison');
  };

  const comparable = (): Operand => {
    const next = text[at];
    if (next === '"' || next === "'") return { is: 'literal', value: quoted() };
    if (next === '$' || next === '@') {
      at++;
      return { is: 'query', query: { from: next === '$' ? 'document' : 'current', segments: segments() } };
    }
    const number = /^-?(?:0|[1-9][0-9]*)(?:\.[0-9]+)?(?:[eE][+-]?[0-9]+)?/.exec(text.slice(at, at + 400));
    if (number) {
      at += number[0].length;
      return { is: 'literal', value: Number(number[0]) };
    }
    const word = /^[a-z][a-z_0-9]*/.exec(text.slice(at, at + 40))?.[0] ?? '';
    if (word && text[at + word.length] === '(') return { is: 'call', call: call(word) };
    if (word === 'true' || word === 'false' || word === 'null') {
      at += word.length;
      return { is: 'literal', value: word === 'null' ? null : word === 'true' };
    }
    return fail('a query, a value or a function');
  };

  const call = (word: string): Call => {
    if (!Object.hasOwn(FUNCTIONS, word)) fail('one of the functions length, count, match, search, value');
    const name = word as FunctionName;
    at += word.length;
    need('(');
    const found: Operand[] = [];
    FUNCTIONS[name].takes.forEach((takes, position) => {
      blank();
      if (position > 0) {
        need(',');
        blank();
      }
      const argument = comparable();
      if (takes === 'nodes' && argument.is !== 'query') fail('a query as argument');
      if (takes === 'value') mustBeValue(argument);
      found.push(argument);
    });
    blank();
    need(')');
    return { name, arguments: found };
  };

  if (!eat('$')) fail('“$”');
  const query: Query = { from: 'document', segments: segments() };
  if (at < text.length) fail('the end of the query');
  return query;
}
