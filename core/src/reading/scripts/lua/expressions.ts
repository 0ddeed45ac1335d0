/** What the expressions of Lua mean. */
import { itemAt } from '../../../helpers/at.js';
import { childOf, childrenOf, type RawNode } from '../grammar.js';
import { alike, inner, type ExpressionTable } from '../reader.js';
import type { Argument, Expression, TableEntry } from '../syntax.js';
import { functionOf } from './declarations.js';
import { textOf, type LuaReader } from './nodes.js';

export const EXPRESSIONS: ExpressionTable<LuaReader> = {
  identifier: (reader, node, at) => {
    const name = reader.write(node);
    return name === 'self' && reader.hasSelf ? { is: 'self', ...at } : { is: 'name', name, ...at };
  },
  string: (reader, node, at) => ({ is: 'text', value: textOf(reader, node), ...at }),
  number: (reader, node, at) => ({ is: 'number', value: Number(reader.write(node)), ...at }),
  ...alike(['true', 'false'], (_reader, node, at) => ({ is: 'boolean', value: node.type === 'true', ...at })),
  nil: (_reader, _node, at) => ({ is: 'nothing', ...at }),
  dot_index_expression: (reader, node) => member(reader, node, 'table', 'field'),
  method_index_expression: (reader, node) => member(reader, node, 'table', 'method'),
  bracket_index_expression: (reader, node, at) => ({
    is: 'item',
    of: inner(reader, node, 'table'),
    at: inner(reader, node, 'field'),
    ...at,
  }),
  function_call: (reader, node) => callOf(reader, node),
  function_definition: (reader, node, at) => ({ is: 'function', function: functionOf(reader, node, undefined), ...at }),
  table_constructor: (reader, node, at) => ({
    is: 'table',
    entries: childrenOf(node, 'field').flatMap((entry) => {
      const name = childOf(entry, 'name');
      const value = childOf(entry, 'value');
      return value ? [{ ...entryName(reader, entry, name), value: reader.expression(value) }] : [];
    }),
    ...at,
  }),
  binary_expression: (reader, node) => binary(reader, node, inner(reader, node, 'left'), inner(reader, node, 'right')),
  unary_expression: (reader, node, at) => ({
    is: 'test',
    operator: reader.write(node).startsWith('not') ? '!' : itemAt(reader.write(node), 0),
    operands: [inner(reader, node, 'operand')],
    ...at,
  }),
  parenthesized_expression: (reader, node, at) =>
    node.children.length === 1 ? reader.expression(itemAt(node.children, 0)) : { is: 'other', inner: [], ...at },
};

/** `name = …`, `["name"] = …`, or a key that is put together; numbers count by what is written. */
function entryName(reader: LuaReader, entry: RawNode, name: RawNode | undefined): Omit<TableEntry, 'value'> {
  if (!name) return { name: '' };
  const nameAt = { start: name.start, end: name.end };
  if (name.type === 'string') return { name: textOf(reader, name), nameAt };
  const isBare = !reader.text.startsWith('[', entry.start) || name.type === 'number';
  return { name: isBare ? reader.write(name) : '', nameAt };
}

/** `Vessel.begin(self)` calls the parent's function, as `super` does elsewhere. */
function callOf(reader: LuaReader, node: RawNode): Expression {
  const callee = childOf(node, 'name');
  const at = { start: node.start, end: node.end };
  const given = (childOf(node, 'arguments')?.children ?? []).filter((child) => child.type !== 'comment');
  return {
    is: 'call',
    of: callee ? reader.expression(callee) : { is: 'other', inner: [], ...at },
    arguments: given.map((value): Argument => ({ name: '', value: reader.expression(value) })),
    isNew: false,
    typeArguments: [],
    ...at,
  };
}

function binary(reader: LuaReader, node: RawNode, left: Expression, right: Expression): Expression {
  const at = { start: node.start, end: node.end };
  const operator = reader.text.slice(left.end, right.start).trim();
  if (operator === '..') return { is: 'join', parts: [left, right], ...at };
  if (operator === 'or') return { is: 'choice', options: [left, right], ...at };
  if (operator === 'and') return { is: 'test', operator: '&&', operands: [left, right], ...at };
  return { is: 'test', operator: operator === '~=' ? '!=' : operator, operands: [left, right], ...at };
}

function member(reader: LuaReader, node: RawNode, table: string, name: string): Expression {
  const last = childOf(node, name);
  return {
    is: 'member',
    of: inner(reader, node, table),
    name: last ? reader.write(last) : '',
    safe: false,
    start: node.start,
    end: node.end,
  };
}
