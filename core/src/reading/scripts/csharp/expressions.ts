/** What the expressions of C# mean. */
import { itemAt, must } from '../../../helpers/at.js';
import { childOf, childrenOf, type RawNode } from '../grammar.js';
import { alike, inner, type ExpressionTable } from '../reader.js';
import { joinOf, type Argument, type Expression } from '../syntax.js';
import { functionOf } from './declarations.js';
import { isCode, type CSharpReader } from './nodes.js';

export const EXPRESSIONS: ExpressionTable<CSharpReader> = {
  ...alike(['string_literal', 'verbatim_string_literal', 'raw_string_literal'], (reader, node, at) => ({
    is: 'text',
    value: textOf(reader, node),
    ...at,
  })),
  interpolated_string_expression: (reader, node) => interpolated(reader, node),
  ...alike(['integer_literal', 'real_literal'], (reader, node, at) => ({
    is: 'number',
    value: parseFloat(reader.write(node).replace(/_/g, '')),
    ...at,
  })),
  boolean_literal: (reader, node, at) => ({ is: 'boolean', value: reader.write(node) === 'true', ...at }),
  null_literal: (_reader, _node, at) => ({ is: 'nothing', ...at }),
  ...alike(['this', 'this_expression'], (_reader, _node, at) => ({ is: 'self', ...at })),
  ...alike(['base', 'base_expression'], (_reader, _node, at) => ({ is: 'parent', ...at })),
  identifier: (reader, node, at) => nameOf(reader, reader.write(node), at),
  generic_name: (reader, node, at) => nameOf(reader, reader.write(node.children[0] ?? node), at),
  member_access_expression: (reader, node, at) => {
    const name = childOf(node, 'name');
    return {
      is: 'member',
      of: inner(reader, node, 'expression'),
      name: name ? plainName(reader, name) : '',
      safe: false,
      ...at,
    };
  },
  conditional_access_expression: (reader, node, at) => {
    const binding = childrenOf(node, 'member_binding_expression')[0];
    const name = binding && childOf(binding, 'name');
    if (!name) return { is: 'other', inner: node.children.filter(isCode).map(reader.expression), ...at };
    return { is: 'member', of: inner(reader, node, 'condition'), name: plainName(reader, name), safe: true, ...at };
  },
  element_access_expression: (reader, node, at) => {
    const [key] = childOf(node, 'subscript')?.children ?? [];
    return {
      is: 'item',
      of: inner(reader, node, 'expression'),
      at: key ? reader.expression(key.children[0] ?? key) : { is: 'other', inner: [], ...at },
      ...at,
    };
  },
  invocation_expression: (reader, node) => callOf(reader, node, 'function'),
  object_creation_expression: (reader, node, at) => {
    const made = callOf(reader, node, 'type');
    const given = childOf(node, 'initializer');
    return given ? { is: 'other', inner: [made, reader.expression(given)], ...at } : made;
  },
  ...alike(['lambda_expression', 'anonymous_method_expression'], (reader, node, at) => ({
    is: 'function',
    function: functionOf(reader, node),
    ...at,
  })),
  ...alike(
    [
      'array_creation_expression',
      'implicit_array_creation_expression',
      'initializer_expression',
      'collection_expression',
    ],
    (reader, node, at) => {
      // What is made is what stands between the braces, whatever of the type is written before.
      const filled = node.type.endsWith('creation_expression')
        ? (childrenOf(node, 'initializer_expression')[0] ?? node)
        : node;
      return { is: 'list', items: filled.children.filter(isCode).map(reader.expression), ...at };
    },
  ),
  assignment_expression: (reader, node, at) => {
    const operator = reader.text
      .slice(childOf(node, 'left')?.end ?? node.start, childOf(node, 'right')?.start ?? node.end)
      .trim();
    if (operator === '=')
      return { is: 'assign', target: inner(reader, node, 'left'), value: inner(reader, node, 'right'), ...at };
    if (operator === '??=') {
      const options = [inner(reader, node, 'left'), inner(reader, node, 'right')];
      return { is: 'assign', target: inner(reader, node, 'left'), value: { is: 'choice', options, ...at }, ...at };
    }
    // `event += handler` is read as a call of the member `+=`, so that the call table can name it.
    const of: Expression = { is: 'member', of: inner(reader, node, 'left'), name: operator, safe: false, ...at };
    return {
      is: 'call',
      of,
      arguments: [{ name: '', value: inner(reader, node, 'right') }],
      isNew: false,
      typeArguments: [],
      ...at,
    };
  },
  conditional_expression: (reader, node, at) => ({
    is: 'choice',
    test: inner(reader, node, 'condition'),
    options: [inner(reader, node, 'consequence'), inner(reader, node, 'alternative')],
    ...at,
  }),
  binary_expression: (reader, node) => binary(reader, node, inner(reader, node, 'left'), inner(reader, node, 'right')),
  ...alike(['is_pattern_expression', 'is_expression'], (reader, node, at) => ({
    is: 'test',
    operator: 'is',
    operands: [reader.expression(itemAt(node.children, 0))],
    ...at,
  })),
  prefix_unary_expression: (reader, node, at) => ({
    is: 'test',
    operator: itemAt(reader.write(node), 0),
    operands: node.children.filter(isCode).map(reader.expression),
    ...at,
  }),
  ...alike(['parenthesized_expression', 'await_expression', 'postfix_unary_expression'], (reader, node, at) =>
    node.children.length === 1
      ? reader.expression(itemAt(node.children, 0))
      : { is: 'other', inner: node.children.filter(isCode).map(reader.expression), ...at },
  ),
  as_expression: (reader, node) => inner(reader, node, 'left'),
  cast_expression: (reader, node) => inner(reader, node, 'value'),
  typeof_expression: (reader, node, at) => {
    const type = childOf(node, 'type') ?? node.children[0];
    return type ? { is: 'name', name: reader.write(type), ...at } : { is: 'other', inner: [], ...at };
  },
  argument: (reader, node, at) =>
    node.children.length > 0 ? reader.expression(must(node.children.at(-1))) : { is: 'other', inner: [], ...at },
};

/** A bare name: a local, a member of the type around, or something from elsewhere. */
function nameOf(reader: CSharpReader, name: string, at: { start: number; end: number }): Expression {
  const { members, locals, hasParents } = reader.around;
  if (locals.has(name) || isTypeOfFile(reader, name)) return { is: 'name', name, ...at };
  if (members.has(name)) return { is: 'member', of: { is: 'self', ...at }, name, safe: false, ...at };
  return hasParents ? { is: 'name', name, mayBeOwn: true, ...at } : { is: 'name', name, ...at };
}

function isTypeOfFile(reader: CSharpReader, name: string): boolean {
  return reader.script.types.some((type) => type.name === name);
}

function plainName(reader: CSharpReader, node: RawNode): string {
  return reader.write(node.type === 'generic_name' ? itemAt(node.children, 0) : node);
}

function callOf(reader: CSharpReader, node: RawNode, field: string): Expression {
  const at = { start: node.start, end: node.end };
  const callee = childOf(node, field);
  const named = callee && (callee.type === 'member_access_expression' ? childOf(callee, 'name') : callee);
  const types =
    named?.type === 'generic_name'
      ? childrenOf(named, 'type_argument_list').flatMap((list) => list.children.map(reader.write))
      : [];
  const given = childOf(node, 'arguments');
  return {
    is: 'call',
    of: callee ? reader.expression(callee) : { is: 'other', inner: [], ...at },
    arguments: (given ? childrenOf(given, 'argument') : []).map((one) => argument(reader, one)),
    isNew: field === 'type',
    typeArguments: types,
    ...at,
  };
}

function argument(reader: CSharpReader, node: RawNode): Argument {
  const name = childOf(node, 'name');
  return {
    name: name ? reader.write(name) : '',
    ...(name && { nameAt: { start: name.start, end: name.end } }),
    value: reader.expression(node),
  };
}

function binary(reader: CSharpReader, node: RawNode, left: Expression, right: Expression): Expression {
  const at = { start: node.start, end: node.end };
  const operator = reader.text.slice(left.end, right.start).trim();
  if (operator === '+') return { is: 'join', parts: [left, right], ...at };
  if (operator === '??' || operator === '||') return { is: 'choice', options: [left, right], ...at };
  return { is: 'test', operator, operands: [left, right], ...at };
}

function interpolated(reader: CSharpReader, node: RawNode): Expression {
  const parts: Expression[] = [];
  for (const child of node.children) {
    if (child.type === 'string_content')
      parts.push({ is: 'text', value: reader.write(child), start: child.start, end: child.end });
    else if (child.type === 'interpolation') {
      const value = child.children.find((one) => one.type !== 'interpolation_brace');
      if (value) parts.push(reader.expression(value));
    }
  }
  return joinOf(parts, { start: node.start, end: node.end });
}

function textOf(reader: CSharpReader, node: RawNode): string {
  const written = reader.write(node);
  if (written.startsWith('@')) return written.slice(2, -1).replace(/""/g, '"');
  const marks = /^"+/.exec(written)?.[0].length ?? 1;
  const inner = written.slice(marks, -marks);
  return marks >= 3
    ? inner
    : inner.replace(
        /\\([nrt\\"'0])/g,
        (_whole, letter: string) => ({ n: '\n', r: '\r', t: '\t', '0': '\0' })[letter] ?? letter,
      );
}
