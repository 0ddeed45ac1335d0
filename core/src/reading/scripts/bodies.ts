/**
 * What functions are made of, in a form in which copies are alike: each statement as a line of tokens, of which the
 * names and values can be left out. Copies are looked for on these, not on the lines of the text.
 */
import { itemAt } from '../../helpers/at.js';
import { once } from '../../helpers/once.js';
import { BETWEEN, type BodyFact } from '../facts.js';
import type { Lines } from '../lines.js';
import type { Language } from '../plan/plan.js';
import { LANGUAGE } from './languages.js';
import type { LanguageTraits } from './traits.js';
import type { Branch, Expression, FunctionSyntax, Statement } from './syntax.js';

/** Functions with fewer statements are too short to say that one is a copy of another. */
const FEWEST = 2;
/** Of longer functions only the beginning counts. */
const MOST = 400;

const QUOTED = /"(?:[^"\\\n]|\\.)*"|'(?:[^'\\\n]|\\.)*'|`(?:[^`\\]|\\.)*`/.source;
/** Comments, texts, numbers, names, and marks, in this order. */
const tokensOf = once(
  ({ comments }: LanguageTraits) =>
    new RegExp(`(${comments.source})|(${QUOTED})|(\\d[\\w.]*)|([A-Za-z_$][\\w$]*)|\\S`, 'g'),
);
/** What a statement counts that only takes a value over: everybody writes rows of them. */
const PLAIN_WEIGHT = 2;
/** Statements are cut after so many tokens: a function written in place stands for itself. */
const MOST_TOKENS = 80;
/** Words that hold code together: they are the shape, not names. */
const KEPT = new Set(
  'if else elif elseif then end for in of do while repeat until return break continue not and or new await null nil None undefined true false True False this self super base throw raise try catch except finally const let var local'.split(
    ' ',
  ),
);
/** Words that languages and habits add without changing what the code does. */
const PASSED_OVER = new Set(['const', 'let', 'var', 'local', 'then', 'end', 'do', ';', '(', ')', '{', '}', ',']);

/** The statements of a function, outermost first, in the order of the text. */
export function bodyOf(code: FunctionSyntax, text: string, lines: Lines, language: Language): BodyFact | undefined {
  const body: BodyFact = { shapes: [], exacts: [], weights: [], lines: [], words: [] };
  const tokens = tokensOf(LANGUAGE[language]);
  const add = (kind: string, start: number, end: number, isPlain = false): void => {
    if (body.shapes.length >= MOST) return;
    let shape = hashed(kind);
    let exact = shape;
    let weight = 0;
    const words: string[] = [];
    for (const [token, comment, quoted, number, name] of text.slice(start, end).matchAll(tokens)) {
      if (comment !== undefined || PASSED_OVER.has(token)) continue;
      if (weight === MOST_TOKENS) break;
      const isValue = quoted !== undefined || number !== undefined;
      const isWord = isValue || (name !== undefined && !KEPT.has(token));
      shape = hashed(isWord ? (isValue ? 'v' : 'n') : token, shape);
      exact = hashed(token, exact);
      weight++;
      if (isWord) words.push(token);
    }
    if (weight === 0 && kind === 'do') return;
    if (isPlain) weight = Math.min(weight, PLAIN_WEIGHT);
    body.shapes.push(shape);
    body.exacts.push(exact);
    body.weights.push(weight);
    const { line, endLine } = lines.range(start, end);
    body.lines.push(line, endLine);
    body.words.push(words.join(BETWEEN));
  };
  const visitBranch = ({ body: inner, start }: Branch): void => {
    add('loop', start, start);
    visit(inner);
  };
  const visit = (statements: Statement[]): void => {
    for (const statement of statements) {
      switch (statement.is) {
        case 'if':
          add('if', statement.test.start, statement.test.end);
          visit(statement.then);
          if (statement.otherwise.length > 0) {
            if (itemAt(statement.otherwise, 0).is !== 'if')
              add('else', itemAt(statement.otherwise, 0).start, itemAt(statement.otherwise, 0).start);
            visit(statement.otherwise);
          }
          break;
        case 'loop': {
          const head = statement.test ?? statement.over;
          add('loop', head?.start ?? statement.start, head?.end ?? statement.start);
          visit(statement.body);
          break;
        }
        case 'choose':
          if (statement.value) add('do', statement.value.start, statement.value.end);
          statement.branches.forEach(visitBranch);
          break;
        case 'try':
          visitBranch(statement);
          statement.handlers.forEach(visitBranch);
          visit(statement.lastly);
          break;
        case 'block':
          visit(statement.body);
          break;
        case 'function':
          break;
        default:
          add(
            statement.is === 'return' || statement.is === 'leave' ? statement.is : 'do',
            statement.start,
            statement.end,
            takesOver(statement),
          );
      }
    }
  };
  visit(code.body);
  return body.shapes.length < FEWEST ? undefined : body;
}

/** Whether a statement only takes a value over: `this.depth = depth`, `const boat = this.boat`. */
function takesOver(statement: Statement): boolean {
  const value =
    statement.is === 'local'
      ? statement.value
      : statement.is === 'expression' && statement.value.is === 'assign'
        ? statement.value.value
        : undefined;
  return value !== undefined && isPlainValue(value);
}

function isPlainValue(value: Expression): boolean {
  if (value.is === 'member') return isPlainValue(value.of);
  if (value.is === 'list' || value.is === 'table')
    return (value.is === 'list' ? value.items : value.entries).length === 0;
  return ['name', 'self', 'text', 'number', 'boolean', 'nothing'].includes(value.is);
}

/** 32 bits of FNV-1a (Fowler, Noll, Vo), carried on from token to token. */
function hashed(token: string, from = 0x811c9dc5): number {
  let hash = from;
  for (let at = 0; at < token.length; at++) hash = Math.imul(hash ^ token.charCodeAt(at), 0x01000193);
  return Math.imul(hash ^ 0x20, 0x01000193) | 0;
}
