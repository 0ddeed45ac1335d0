/** What the statements of Lua mean. */
import { must } from '../../../helpers/at.js';
import { childOf, childrenOf } from '../grammar.js';
import { alike, body, elseChain, inner, type StatementTable } from '../reader.js';
import type { Statement } from '../syntax.js';
import { functionOf, pairsOf } from './declarations.js';
import type { LuaReader } from './nodes.js';

export const STATEMENTS: StatementTable<LuaReader> = {
  comment: () => [],
  variable_declaration: (reader, node, at) =>
    pairsOf(node).map(({ name, value }) => ({
      is: 'local',
      name: reader.write(name),
      type: '',
      value: value && reader.expression(value),
      ...at,
    })),
  assignment_statement: (reader, node, at) =>
    pairsOf(node).map(({ name, value }) => ({
      is: 'expression',
      value: {
        is: 'assign',
        target: reader.expression(name),
        value: value ? reader.expression(value) : { is: 'nothing', ...at },
        ...at,
      },
      ...at,
    })),
  function_declaration: (reader, node, at) => [
    { is: 'function', function: functionOf(reader, node, childOf(node, 'name')), ...at },
  ],
  if_statement: (reader, node, at) => [
    {
      is: 'if',
      test: inner(reader, node, 'condition'),
      then: body(reader, node, 'consequence'),
      otherwise: elseChain(
        reader,
        node.children.filter((child) => child.field === 'alternative'),
        ({ type }) => type === 'else_statement',
      ),
      ...at,
    },
  ],
  for_statement: (reader, node, at) => {
    const clause = childOf(node, 'clause');
    const names = clause ? childrenOf(clause, 'variable_list').flatMap((list) => list.children) : [];
    const over = clause ? childrenOf(clause, 'expression_list')[0]?.children[0] : undefined;
    return [
      {
        is: 'loop',
        item: names.at(-1) && reader.write(must(names.at(-1))),
        over: over && reader.expression(over),
        body: body(reader, node, 'body'),
        ...at,
      },
    ];
  },
  ...alike(['while_statement', 'repeat_statement'], (reader, node, at) => [
    {
      is: 'loop',
      test: inner(reader, node, 'condition'),
      body: body(reader, node, 'body'),
      runsOnce: node.type === 'repeat_statement',
      ...at,
    },
  ]),
  do_statement: (reader, node, at) => [{ is: 'block', body: body(reader, node, 'body'), ...at }],
  return_statement: (reader, node, at) => {
    const value = childrenOf(node, 'expression_list')[0]?.children[0];
    return [{ is: 'return', value: value && reader.expression(value), ...at }];
  },
  break_statement: (_reader, _node, at) => [{ is: 'leave', what: 'loop', ...at }],
  goto_statement: (_reader, _node, at) => {
    // Almost always to the end of the loop's body: the language has no other way to go on with the next pass.
    return [{ is: 'leave', what: 'pass', ...at }];
  },
  function_call: (reader, node, at) => {
    const callee = childOf(node, 'name');
    const isFault = callee?.type === 'identifier' && reader.write(callee) === 'error';
    const call: Statement = { is: 'expression', value: reader.expression(node), ...at };
    return isFault ? [call, { is: 'leave', what: 'try', ...at }] : [call];
  },
  ERROR: (reader, node) => node.children.flatMap(reader.statement),
};
