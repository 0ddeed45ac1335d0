/** What the statements of Python mean. */
import { childOf, childrenOf, type RawNode } from '../grammar.js';
import { alike, elseChain, fault, inner, type StatementTable } from '../reader.js';
import type { Statement } from '../syntax.js';
import { functionOf, importsOf, readType } from './declarations.js';
import type { PythonReader } from './nodes.js';

function bodyIn(reader: PythonReader, node: RawNode | undefined): Statement[] {
  return node?.children.flatMap(reader.statement) ?? [];
}

export const STATEMENTS: StatementTable<PythonReader> = {
  ...alike(['comment', 'pass_statement', 'global_statement', 'nonlocal_statement'], () => []),
  ...alike(['import_statement', 'import_from_statement'], (reader, node) => {
    reader.script.imports.push(...importsOf(reader, node));
    return [];
  }),
  expression_statement: (reader, node) => node.children.flatMap((child): Statement[] => assignment(reader, child)),
  if_statement: (reader, node, at) => {
    const alternatives = node.children.filter((child) => child.field === 'alternative');
    return [
      {
        is: 'if',
        test: inner(reader, node, 'condition'),
        then: bodyIn(reader, childOf(node, 'consequence')),
        otherwise: elseChain(reader, alternatives, ({ type }) => type === 'else_clause'),
        ...at,
      },
    ];
  },
  for_statement: (reader, node, at) => {
    const item = childOf(node, 'left');
    return [
      {
        is: 'loop',
        item: item?.type === 'identifier' ? reader.write(item) : undefined,
        over: inner(reader, node, 'right'),
        body: bodyIn(reader, childOf(node, 'body')),
        ...at,
      },
      ...node.children
        .filter((child) => child.field === 'alternative')
        .flatMap((child) => bodyIn(reader, childOf(child, 'body'))),
    ];
  },
  while_statement: (reader, node, at) => [
    { is: 'loop', test: inner(reader, node, 'condition'), body: bodyIn(reader, childOf(node, 'body')), ...at },
    ...node.children
      .filter((child) => child.field === 'alternative')
      .flatMap((child) => bodyIn(reader, childOf(child, 'body'))),
  ],
  return_statement: (reader, node, at) => [
    { is: 'return', value: node.children[0] && reader.expression(node.children[0]), ...at },
  ],
  raise_statement: (reader, node, at) => fault(reader, node.children, at),
  break_statement: (_reader, _node, at) => [{ is: 'leave', what: 'loop', ...at }],
  continue_statement: (_reader, _node, at) => [{ is: 'leave', what: 'pass', ...at }],
  try_statement: (reader, node, at) => {
    const inside = (clause: RawNode): Statement[] => childrenOf(clause, 'block').flatMap((one) => bodyIn(reader, one));
    return [
      {
        is: 'try',
        // What runs when no fault came belongs to the body.
        body: [...inside(node), ...childrenOf(node, 'else_clause').flatMap(inside)],
        handlers: childrenOf(node, 'except_clause', 'except_group_clause').map((handler) => ({
          body: inside(handler),
          start: handler.start,
          end: handler.end,
        })),
        lastly: childrenOf(node, 'finally_clause').flatMap(inside),
        ...at,
      },
    ];
  },
  match_statement: (reader, node, at) => {
    const value = childOf(node, 'subject');
    const branches = childrenOf(childOf(node, 'body') ?? node, 'case_clause');
    return [
      {
        is: 'choose',
        value: value && reader.expression(value),
        branches: branches.map((branch) => ({
          body: bodyIn(reader, childOf(branch, 'consequence')),
          start: branch.start,
          end: branch.end,
        })),
        isWhole: branches.some((branch) => /^case\s+_\s*:/.test(reader.write(branch))),
        ...at,
      },
    ];
  },
  with_statement: (reader, node, at) => {
    const items = childrenOf(node, 'with_clause').flatMap((clause) => clause.children);
    return [
      ...items.map((item): Statement => ({ is: 'expression', value: reader.expression(item), ...at })),
      ...bodyIn(reader, childOf(node, 'body')),
    ];
  },
  function_definition: (reader, node, at) => [{ is: 'function', function: functionOf(reader, node, [], false), ...at }],
  decorated_definition: (reader, node) => {
    const definition = childOf(node, 'definition');
    return definition ? reader.statement(definition) : [];
  },
  class_definition: (reader, node) => {
    readType(reader, node, []);
    return [];
  },
  ...alike(['block', 'ERROR'], (reader, node) => bodyIn(reader, node)),
};

function assignment(reader: PythonReader, node: RawNode): Statement[] {
  const at = { start: node.start, end: node.end };
  const name = childOf(node, 'left');
  const value = childOf(node, 'right');
  if (node.type === 'assignment' && name?.type === 'identifier') {
    const type = childOf(node, 'type');
    return [
      {
        is: 'local',
        name: reader.write(name),
        type: type ? reader.write(type) : '',
        value: value && reader.expression(value),
        ...at,
      },
    ];
  }
  return [{ is: 'expression', value: reader.expression(node), ...at }];
}
