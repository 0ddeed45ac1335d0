/**
 * What the readers of all languages have in common. A language is a table of what its kinds of nodes mean as
 * statements and as expressions, and its own way of finding types, functions and imports at the top of a file.
 */
import type { Language } from '../plan/plan.js';
import { childOf, parseScript, type RawNode } from './grammar.js';
import type { Expression, FieldSyntax, ScriptSyntax, Statement } from './syntax.js';

interface Stretch {
  start: number;
  end: number;
}

export interface Reader {
  readonly text: string;
  readonly root: RawNode;
  /** Filled while the file is read. */
  readonly script: ScriptSyntax;
  /** A node as written. */
  readonly write: (node: RawNode) => string;
  readonly statement: (node: RawNode) => Statement[];
  readonly expression: (node: RawNode) => Expression;
}

/** What a kind of node means; `at` is where the node stands. */
type Reads<R extends Reader, Result> = (reader: R, node: RawNode, at: Stretch) => Result;
export type StatementTable<R extends Reader> = Record<string, Reads<R, Statement[]>>;
export type ExpressionTable<R extends Reader> = Record<string, Reads<R, Expression>>;

export interface LanguageTables<R extends Reader> {
  statements: StatementTable<R>;
  expressions: ExpressionTable<R>;
  /** Whether a node says something of what the code does: no comment, no operator, no type. */
  isCode: (node: RawNode) => boolean;
}

/**
 * Parses a script and makes its tables ready for reading it. A kind of node that the table of statements does not
 * name is an expression; of one that the table of expressions does not name, what is inside counts.
 * @param more what only this language keeps while it reads
 */
export function createReader<R extends Reader>(
  text: string,
  language: Language,
  { statements, expressions, isCode }: LanguageTables<R>,
  more: Omit<R, keyof Reader>,
): R {
  const { root, problems, comments } = parseScript(text, language);
  const statementsOf = new Map(Object.entries(statements));
  const expressionsOf = new Map(Object.entries(expressions));
  const basic: Reader = {
    text,
    root,
    script: { types: [], functions: [], body: [], imports: [], problems, comments, decorated: [], taken: [] },
    write: (node) => text.slice(node.start, node.end),
    statement(node) {
      const at = { start: node.start, end: node.end };
      const read = statementsOf.get(node.type);
      if (read) return read(reader, node, at);
      return isCode(node) ? [{ is: 'expression', value: basic.expression(node), ...at }] : [];
    },
    expression(node) {
      const at = { start: node.start, end: node.end };
      const read = expressionsOf.get(node.type);
      return read ? read(reader, node, at) : inside(reader, node.children.filter(isCode), at);
    },
  };
  const reader = Object.assign(basic, more) as R;
  return reader;
}

/** The same reading for several kinds of nodes. */
export function alike<Read>(kinds: readonly string[], read: Read): Record<string, Read> {
  return Object.fromEntries(kinds.map((kind) => [kind, read]));
}

/** An expression of which only what is inside counts. */
function inside(reader: Reader, nodes: readonly RawNode[], at: Stretch): Expression {
  return { is: 'other', inner: nodes.map(reader.expression), start: at.start, end: at.end };
}

/** The expression of the child with a field; nothing is inside where there is none. */
export function inner(reader: Reader, node: RawNode, field: string): Expression {
  const child = childOf(node, field);
  return child ? reader.expression(child) : inside(reader, [], node);
}

/** The expression of the child with a field, where there is one. */
export function given(reader: Reader, node: RawNode, field: string): Expression | undefined {
  const child = childOf(node, field);
  return child && reader.expression(child);
}

/** A member of an enumeration; `name` and `value` are the nodes they are written in. */
export function enumMember(reader: Reader, { start, end }: RawNode, name?: RawNode, value?: RawNode): FieldSyntax {
  return {
    name: name ? reader.write(name) : '',
    type: '',
    value: value && reader.expression(value),
    optional: false,
    isStatic: true,
    decorators: [],
    start,
    end,
  };
}

/** Keeps a decorator that is given something. */
export function noteDecorated(reader: Reader, decorator: RawNode | undefined): void {
  const code = decorator && reader.expression(decorator);
  if (code?.is === 'call') reader.script.decorated.push(code);
}

/** The children of the child with a field, as statements. */
export function body(reader: Reader, node: RawNode, field: string): Statement[] {
  return (childOf(node, field)?.children ?? []).flatMap(reader.statement);
}

/** A fault that is thrown: what is given with it is evaluated. */
export function fault(reader: Reader, nodes: readonly RawNode[], at: Stretch): Statement[] {
  return [
    ...nodes.map((node): Statement => ({ is: 'expression', value: reader.expression(node), ...at })),
    { is: 'leave', what: 'try', ...at },
  ];
}

/**
 * Further conditions and what is done otherwise, as they stand in one row, as nested ifs.
 * @param isLast whether a node is the one without a condition
 */
export function elseChain(
  reader: Reader,
  alternatives: readonly RawNode[],
  isLast: (node: RawNode) => boolean,
): Statement[] {
  return alternatives.reduceRight<Statement[]>(
    (otherwise, one) =>
      isLast(one)
        ? body(reader, one, 'body')
        : [
            {
              is: 'if',
              test: inner(reader, one, 'condition'),
              then: body(reader, one, 'consequence'),
              otherwise,
              start: one.start,
              end: one.end,
            },
          ],
    [],
  );
}
