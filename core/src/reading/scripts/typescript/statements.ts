/** What the statements of TypeScript and JavaScript mean. */
import { childOf, type RawNode } from '../grammar.js';
import { alike, fault, type StatementTable } from '../reader.js';
import type { Statement } from '../syntax.js';
import { functionOf, locals, typeOf } from './declarations.js';
import { isCode, type TypeScriptReader } from './nodes.js';

function statements(reader: TypeScriptReader, node: RawNode | undefined): Statement[] {
  return node ? reader.statement(node) : [];
}

export const STATEMENTS: StatementTable<TypeScriptReader> = {
  ...alike(['comment', 'empty_statement', 'interface_declaration', 'type_alias_declaration'], () => []),
  expression_statement: (reader, node, at) =>
    node.children.filter(isCode).map((child) => ({ is: 'expression', value: reader.expression(child), ...at })),
  ...alike(['lexical_declaration', 'variable_declaration'], (reader, node) => locals(reader, node)),
  ...alike(['statement_block', 'finally_clause', 'else_clause', 'program'], (reader, node) =>
    node.children.flatMap(reader.statement),
  ),
  if_statement: (reader, node, at) => {
    const test = childOf(node, 'condition');
    return [
      {
        is: 'if',
        test: test ? reader.expression(test) : { is: 'other', inner: [], ...at },
        then: statements(reader, childOf(node, 'consequence')),
        otherwise: statements(reader, childOf(node, 'alternative')),
        ...at,
      },
    ];
  },
  for_in_statement: (reader, node, at) => {
    const item = childOf(node, 'left');
    const over = childOf(node, 'right');
    return [
      {
        is: 'loop',
        item: item?.type === 'identifier' ? reader.write(item) : undefined,
        over: over && reader.expression(over),
        body: statements(reader, childOf(node, 'body')),
        ...at,
      },
    ];
  },
  ...alike(['for_statement', 'while_statement', 'do_statement'], (reader, node, at) => {
    const test = childOf(node, 'condition');
    const tested = test && (test.type === 'expression_statement' ? test.children[0] : test);
    return [
      ...statements(reader, childOf(node, 'initializer')),
      {
        is: 'loop',
        test: tested && isCode(tested) ? reader.expression(tested) : undefined,
        body: statements(reader, childOf(node, 'body')),
        runsOnce: node.type === 'do_statement',
        isEndless: node.type === 'for_statement' && !(tested && isCode(tested)),
        ...at,
      },
    ];
  }),
  return_statement: (reader, node, at) => {
    const value = node.children.find(isCode);
    return [{ is: 'return', value: value && reader.expression(value), ...at }];
  },
  throw_statement: (reader, node, at) => fault(reader, node.children.filter(isCode), at),
  break_statement: (_reader, node, at) => {
    // A label leads past more than this loop: what is left for sure is this pass of it.
    return [{ is: 'leave', what: childOf(node, 'label') ? 'pass' : 'loop', ...at }];
  },
  continue_statement: (_reader, _node, at) => [{ is: 'leave', what: 'pass', ...at }],
  try_statement: (reader, node, at) => [
    {
      is: 'try',
      body: statements(reader, childOf(node, 'body')),
      handlers: node.children
        .filter((child) => child.field === 'handler')
        .map(({ start, end, children }) => ({
          body: children.filter((child) => child.field === 'body').flatMap(reader.statement),
          start,
          end,
        })),
      lastly: statements(reader, childOf(node, 'finalizer')),
      ...at,
    },
  ],
  switch_statement: (reader, node, at) => {
    const value = childOf(node, 'value');
    const branches = (childOf(node, 'body')?.children ?? []).filter(({ type }) => type !== 'comment');
    return [
      {
        is: 'choose',
        value: value && reader.expression(value),
        branches: branches.map(({ start, end, children }) => ({
          body: children.filter((child) => child.field !== 'value').flatMap(reader.statement),
          start,
          end,
        })),
        isWhole: branches.some(({ type }) => type === 'switch_default'),
        ...at,
      },
    ];
  },
  labeled_statement: (reader, node) => statements(reader, childOf(node, 'body')),
  ...alike(['function_declaration', 'generator_function_declaration'], (reader, node, at) => [
    { is: 'function', function: functionOf(reader, node, []), ...at },
  ]),
  class_declaration: (reader, node) => {
    reader.script.types.push(typeOf(reader, node, 'class', []));
    return [];
  },
  ERROR: (reader, node) => node.children.flatMap(reader.statement),
};
