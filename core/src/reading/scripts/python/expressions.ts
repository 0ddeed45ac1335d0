/** What the expressions of Python mean. */
import { itemAt } from '../../../helpers/at.js';
import { childOf, childrenOf, type RawNode } from '../grammar.js';
import { alike, inner, type ExpressionTable } from '../reader.js';
import { joinOf, type Argument, type Expression, type TableEntry } from '../syntax.js';
import { functionOf } from './declarations.js';
import { isCode, unescape, type PythonReader } from './nodes.js';

export const EXPRESSIONS: ExpressionTable<PythonReader> = {
  string: (reader, node) => stringOf(reader, node),
  concatenated_string: (reader, node, at) => ({ is: 'join', parts: all(reader, node), ...at }),
  ...alike(['integer', 'float'], (reader, node, at) => ({
    is: 'number',
    value: Number(reader.write(node).replace(/_/g, '')),
    ...at,
  })),
  ...alike(['true', 'false'], (_reader, node, at) => ({ is: 'boolean', value: node.type === 'true', ...at })),
  none: (_reader, _node, at) => ({ is: 'nothing', ...at }),
  identifier: (reader, node, at) => {
    const name = reader.write(node);
    return name === reader.selves.at(-1) ? { is: 'self', ...at } : { is: 'name', name, ...at };
  },
  attribute: (reader, node, at) => {
    const name = childOf(node, 'attribute');
    return {
      is: 'member',
      of: inner(reader, node, 'object'),
      name: name ? reader.write(name) : '',
      safe: false,
      ...at,
    };
  },
  subscript: (reader, node, at) => ({
    is: 'item',
    of: inner(reader, node, 'value'),
    at: inner(reader, node, 'subscript'),
    ...at,
  }),
  call: (reader, node, at) => {
    const called = childOf(node, 'function');
    if (called?.type === 'identifier' && reader.write(called) === 'super') return { is: 'parent', ...at };
    const given = childOf(node, 'arguments');
    const list = given?.type === 'argument_list' ? given.children : given ? [given] : [];
    return {
      is: 'call',
      of: inner(reader, node, 'function'),
      arguments: list.filter(isCode).map((one) => argument(reader, one)),
      isNew: false,
      typeArguments: [],
      ...at,
    };
  },
  lambda: (reader, node, at) => ({ is: 'function', function: functionOf(reader, node, [], false), ...at }),
  ...alike(['list', 'tuple', 'set', 'expression_list'], (reader, node, at) => ({
    is: 'list',
    items: all(reader, node),
    ...at,
  })),
  dictionary: (reader, node, at) => ({
    is: 'table',
    entries: childrenOf(node, 'pair').map((one) => entry(reader, one)),
    ...at,
  }),
  assignment: (reader, node, at) => ({
    is: 'assign',
    target: inner(reader, node, 'left'),
    value: inner(reader, node, 'right'),
    ...at,
  }),
  augmented_assignment: (reader, node, at) => ({
    is: 'assign',
    target: inner(reader, node, 'left'),
    value: { is: 'other', inner: [inner(reader, node, 'left'), inner(reader, node, 'right')], ...at },
    ...at,
  }),
  conditional_expression: (reader, node, at) => {
    const [then, test, otherwise] = all(reader, node);
    return { is: 'choice', test, options: [then, otherwise].filter((option) => option !== undefined), ...at };
  },
  binary_operator: (reader, node, at) => {
    const operator = operatorOf(reader, node);
    if (operator === '+')
      return { is: 'join', parts: [inner(reader, node, 'left'), inner(reader, node, 'right')], ...at };
    return { is: 'other', inner: [inner(reader, node, 'left'), inner(reader, node, 'right')], ...at };
  },
  boolean_operator: (reader, node, at) => {
    const operands = [inner(reader, node, 'left'), inner(reader, node, 'right')];
    if (operatorOf(reader, node) === 'or') return { is: 'choice', options: operands, ...at };
    return { is: 'test', operator: '&&', operands, ...at };
  },
  not_operator: (reader, node, at) => ({
    is: 'test',
    operator: '!',
    operands: [inner(reader, node, 'argument')],
    ...at,
  }),
  comparison_operator: (reader, node, at) => ({
    is: 'test',
    operator: operatorOf(reader, node) || '==',
    operands: node.children.filter((child) => child.field !== 'operators').map(reader.expression),
    ...at,
  }),
  ...alike(['parenthesized_expression', 'await'], (reader, node, at) =>
    node.children.length === 1
      ? reader.expression(itemAt(node.children, 0))
      : { is: 'other', inner: all(reader, node), ...at },
  ),
};

function operatorOf(reader: PythonReader, node: RawNode): string {
  const operator = node.children.find((child) => child.field === 'operator' || child.field === 'operators');
  return operator ? reader.write(operator) : '';
}

function argument(reader: PythonReader, node: RawNode): Argument {
  if (node.type !== 'keyword_argument') return { name: '', value: reader.expression(node) };
  const name = childOf(node, 'name');
  const value = childOf(node, 'value');
  return {
    name: name ? reader.write(name) : '',
    ...(name && { nameAt: { start: name.start, end: name.end } }),
    value: value ? reader.expression(value) : { is: 'other', inner: [], start: node.start, end: node.end },
  };
}

function entry(reader: PythonReader, node: RawNode): TableEntry {
  const key = childOf(node, 'key');
  const value = childOf(node, 'value');
  const name = key ? reader.expression(key) : undefined;
  return {
    name: name?.is === 'text' ? name.value : name?.is === 'number' ? String(name.value) : '',
    ...(key && { nameAt: { start: key.start, end: key.end } }),
    value: value ? reader.expression(value) : { is: 'other', inner: [], start: node.start, end: node.end },
  };
}

function stringOf(reader: PythonReader, node: RawNode): Expression {
  const at = { start: node.start, end: node.end };
  const opening = /^([A-Za-z]*)("""|'''|"|')/.exec(reader.write(node));
  const isRaw = /r/i.test(opening?.[1] ?? '');
  const parts: Expression[] = [];
  for (const child of node.children) {
    if (child.type === 'string_content') {
      const value = reader.text.slice(child.start, child.end);
      parts.push({ is: 'text', value: isRaw ? value : unescape(value), start: child.start, end: child.end });
    } else if (child.type === 'interpolation') {
      const value = childOf(child, 'expression') ?? child.children[0];
      if (value) parts.push(reader.expression(value));
    }
  }
  return joinOf(parts, at);
}

/** All that is inside, but comments and operators. */
function all(reader: PythonReader, node: RawNode): Expression[] {
  return node.children.filter(isCode).map(reader.expression);
}
