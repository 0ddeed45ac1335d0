/** What the statements of C# mean. */
import { childOf, childrenOf, type RawNode } from '../grammar.js';
import { alike, given, fault, type StatementTable } from '../reader.js';
import type { Statement } from '../syntax.js';
import { functionOf, locals } from './declarations.js';
import { isCode, type CSharpReader } from './nodes.js';

function block(reader: CSharpReader, node: RawNode | undefined): Statement[] {
  return node ? (node.type === 'block' ? node.children.flatMap(reader.statement) : reader.statement(node)) : [];
}

export const STATEMENTS: StatementTable<CSharpReader> = {
  ...alike(['comment', 'empty_statement'], () => []),
  ...alike(['block', 'checked_statement'], (reader, node) => node.children.flatMap(reader.statement)),
  expression_statement: (reader, node, at) =>
    node.children.filter(isCode).map((child) => ({ is: 'expression', value: reader.expression(child), ...at })),
  local_declaration_statement: (reader, node) =>
    childrenOf(node, 'variable_declaration').flatMap((one) => locals(reader, one)),
  if_statement: (reader, node, at) => [
    {
      is: 'if',
      test: given(reader, node, 'condition') ?? { is: 'other', inner: [], ...at },
      then: block(reader, childOf(node, 'consequence')),
      otherwise: block(reader, childOf(node, 'alternative')),
      ...at,
    },
  ],
  foreach_statement: (reader, node, at) => {
    const item = childOf(node, 'left');
    if (item) reader.around.locals.add(reader.write(item));
    return [
      {
        is: 'loop',
        item: item && reader.write(item),
        over: given(reader, node, 'right'),
        body: block(reader, childOf(node, 'body')),
        ...at,
      },
    ];
  },
  for_statement: (reader, node, at) => {
    const first = childOf(node, 'initializer');
    const before = first?.type === 'variable_declaration' ? locals(reader, first) : [];
    const test = given(reader, node, 'condition');
    return [...before, { is: 'loop', test, body: block(reader, childOf(node, 'body')), isEndless: !test, ...at }];
  },
  ...alike(['while_statement', 'do_statement'], (reader, node, at) => [
    {
      is: 'loop',
      test: given(reader, node, 'condition'),
      body: block(reader, childOf(node, 'body')),
      runsOnce: node.type === 'do_statement',
      ...at,
    },
  ]),
  ...alike(['return_statement', 'yield_statement'], (reader, node, at) => {
    const value = node.children.find(isCode);
    if (node.type === 'yield_statement')
      return value ? [{ is: 'expression', value: reader.expression(value), ...at }] : [{ is: 'return', ...at }];
    return [{ is: 'return', value: value && reader.expression(value), ...at }];
  }),
  throw_statement: (reader, node, at) => fault(reader, node.children.filter(isCode), at),
  ...alike(['break_statement', 'goto_statement'], (_reader, _node, at) => [{ is: 'leave', what: 'loop', ...at }]),
  continue_statement: (_reader, _node, at) => [{ is: 'leave', what: 'pass', ...at }],
  try_statement: (reader, node, at) => [
    {
      is: 'try',
      body: block(reader, childOf(node, 'body')),
      handlers: childrenOf(node, 'catch_clause').map((handler) => ({
        body: childrenOf(handler, 'block').flatMap((one) => block(reader, one)),
        start: handler.start,
        end: handler.end,
      })),
      lastly: childrenOf(node, 'finally_clause').flatMap((last) =>
        childrenOf(last, 'block').flatMap((one) => block(reader, one)),
      ),
      ...at,
    },
  ],
  switch_statement: (reader, node, at) => {
    const sections = childrenOf(childOf(node, 'body') ?? node, 'switch_section');
    return [
      {
        is: 'choose',
        value: given(reader, node, 'value'),
        branches: sections.map((section) => ({
          body: section.children.filter((child) => /statement$|^block$/.test(child.type)).flatMap(reader.statement),
          start: section.start,
          end: section.end,
        })),
        isWhole: sections.some((section) => /^\s*default\b/.test(reader.write(section))),
        ...at,
      },
    ];
  },
  ...alike(['using_statement', 'lock_statement', 'fixed_statement'], (reader, node) => [
    ...childrenOf(node, 'variable_declaration').flatMap((one) => locals(reader, one)),
    ...block(reader, childOf(node, 'body') ?? node.children.at(-1)),
  ]),
  local_function_statement: (reader, node, at) => [{ is: 'function', function: functionOf(reader, node), ...at }],
  ERROR: (reader, node) => node.children.flatMap(reader.statement),
};
