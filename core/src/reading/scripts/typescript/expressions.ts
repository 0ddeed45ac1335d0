/** What the expressions of TypeScript and JavaScript mean. */
import { childOf, childrenOf, type RawNode } from '../grammar.js';
import { alike, inner, type ExpressionTable } from '../reader.js';
import { joinOf, type Argument, type Expression, type TableEntry } from '../syntax.js';
import { functionOf } from './declarations.js';
import { isCode, unescape, unquote, type TypeScriptReader } from './nodes.js';

export const EXPRESSIONS: ExpressionTable<TypeScriptReader> = {
  string: (reader, node, at) => ({ is: 'text', value: unquote(reader, node), ...at }),
  template_string: (reader, node) => templateOf(reader, node),
  number: (reader, node, at) => ({ is: 'number', value: Number(reader.write(node).replace(/_/g, '')), ...at }),
  ...alike(['true', 'false'], (_reader, node, at) => ({ is: 'boolean', value: node.type === 'true', ...at })),
  ...alike(['null', 'undefined'], (_reader, _node, at) => ({ is: 'nothing', ...at })),
  this: (_reader, _node, at) => ({ is: 'self', ...at }),
  super: (_reader, _node, at) => ({ is: 'parent', ...at }),
  ...alike(['identifier', 'property_identifier', 'shorthand_property_identifier'], (reader, node, at) => ({
    is: 'name',
    name: reader.write(node),
    ...at,
  })),
  member_expression: (reader, node, at) => {
    const name = childOf(node, 'property');
    const safe = node.children.some((child) => child.type === 'optional_chain');
    return { is: 'member', of: inner(reader, node, 'object'), name: name ? reader.write(name) : '', safe, ...at };
  },
  subscript_expression: (reader, node, at) => ({
    is: 'item',
    of: inner(reader, node, 'object'),
    at: inner(reader, node, 'index'),
    ...at,
  }),
  ...alike(['call_expression', 'new_expression'], (reader, node, at) => ({
    is: 'call',
    of: inner(reader, node, node.type === 'call_expression' ? 'function' : 'constructor'),
    arguments: (childOf(node, 'arguments')?.children ?? []).filter(isCode).map((one) => argument(reader, one)),
    isNew: node.type === 'new_expression',
    typeArguments: (childOf(node, 'type_arguments')?.children ?? []).map(reader.write),
    ...at,
  })),
  ...alike(['arrow_function', 'function_expression', 'generator_function'], (reader, node, at) => ({
    is: 'function',
    function: functionOf(reader, node, []),
    ...at,
  })),
  array: (reader, node, at) => ({ is: 'list', items: node.children.filter(isCode).map(reader.expression), ...at }),
  object: (reader, node, at) => ({ is: 'table', entries: node.children.flatMap((one) => entry(reader, one)), ...at }),
  assignment_expression: (reader, node, at) => ({
    is: 'assign',
    target: inner(reader, node, 'left'),
    value: inner(reader, node, 'right'),
    ...at,
  }),
  augmented_assignment_expression: (reader, node, at) => {
    const sides = [inner(reader, node, 'left'), inner(reader, node, 'right')];
    const operator = reader.text
      .slice(childOf(node, 'left')?.end ?? node.start, childOf(node, 'right')?.start ?? node.end)
      .trim();
    // `a ??= b` gives `a` the value of `b` only if it has none.
    const value: Expression = ['||=', '??=', '&&='].includes(operator)
      ? { is: 'choice', options: sides, ...at }
      : { is: 'other', inner: sides, ...at };
    return { is: 'assign', target: inner(reader, node, 'left'), value, ...at };
  },
  ternary_expression: (reader, node, at) => ({
    is: 'choice',
    test: inner(reader, node, 'condition'),
    options: [inner(reader, node, 'consequence'), inner(reader, node, 'alternative')],
    ...at,
  }),
  binary_expression: (reader, node) => binary(reader, node, inner(reader, node, 'left'), inner(reader, node, 'right')),
  unary_expression: (reader, node, at) => ({
    is: 'test',
    operator: operatorOf(reader, node),
    operands: [inner(reader, node, 'argument')],
    ...at,
  }),
  ...alike(
    [
      'parenthesized_expression',
      'await_expression',
      'non_null_expression',
      'as_expression',
      'satisfies_expression',
      'type_assertion',
    ],
    (reader, node, at) => {
      const child = node.type === 'type_assertion' ? node.children.at(-1) : node.children.find(isCode);
      return child ? reader.expression(child) : { is: 'other', inner: [], ...at };
    },
  ),
};

function operatorOf(reader: TypeScriptReader, node: RawNode): string {
  const operator = childOf(node, 'operator');
  return operator ? reader.write(operator) : '';
}

function binary(reader: TypeScriptReader, node: RawNode, left: Expression, right: Expression): Expression {
  const at = { start: node.start, end: node.end };
  const operator = operatorOf(reader, node);
  if (operator === '+') return { is: 'join', parts: [left, right], ...at };
  if (operator === '||' || operator === '??') return { is: 'choice', options: [left, right], ...at };
  return { is: 'test', operator, operands: [left, right], ...at };
}

function argument(reader: TypeScriptReader, node: RawNode): Argument {
  return { name: '', value: reader.expression(node) };
}

function entry(reader: TypeScriptReader, node: RawNode): TableEntry[] {
  const placed = ({ start, end }: RawNode): Pick<TableEntry, 'nameAt'> => ({ nameAt: { start, end } });
  if (node.type === 'pair') {
    const key = childOf(node, 'key');
    const value = childOf(node, 'value');
    if (!key || !value) return [];
    const name =
      key.type === 'string' ? unquote(reader, key) : key.type === 'computed_property_name' ? '' : reader.write(key);
    return [{ name, ...placed(key), value: reader.expression(value) }];
  }
  if (node.type === 'shorthand_property_identifier')
    return [{ name: reader.write(node), ...placed(node), value: reader.expression(node) }];
  if (node.type === 'method_definition') {
    const method = functionOf(reader, node, []);
    return [
      {
        name: method.name,
        ...placed(childOf(node, 'name') ?? node),
        value: { is: 'function', function: method, start: node.start, end: node.end },
      },
    ];
  }
  return isCode(node) ? [{ name: '', value: reader.expression(node) }] : [];
}

function templateOf(reader: TypeScriptReader, node: RawNode): Expression {
  const parts: Expression[] = [];
  let from = node.start + 1;
  const addText = (to: number): void => {
    if (to > from) parts.push({ is: 'text', value: unescape(reader.text.slice(from, to)), start: from, end: to });
  };
  for (const child of childrenOf(node, 'template_substitution')) {
    addText(child.start);
    const value = child.children.find(isCode);
    if (value) parts.push(reader.expression(value));
    from = child.end;
  }
  addText(node.end - 1);
  return joinOf(parts, { start: node.start, end: node.end });
}
