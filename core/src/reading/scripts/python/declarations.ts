/** Types, functions and imports of Python. */
import { itemAt } from '../../../helpers/at.js';
import { childOf, childrenOf, type RawNode } from '../grammar.js';
import { noteDecorated } from '../reader.js';
import type { FieldSyntax, FunctionSyntax, ImportSyntax, ParameterSyntax, TypeSyntax } from '../syntax.js';
import type { PythonReader } from './nodes.js';

export function topLevel(reader: PythonReader, node: RawNode, decorators: string[]): void {
  switch (node.type) {
    case 'import_statement':
    case 'import_from_statement':
      return void reader.script.imports.push(...importsOf(reader, node));
    case 'decorated_definition': {
      const definition = childOf(node, 'definition');
      return definition && topLevel(reader, definition, decoratorsOf(reader, node));
    }
    case 'class_definition':
      return readType(reader, node, decorators);
    case 'function_definition':
      return void reader.script.functions.push(functionOf(reader, node, decorators, false));
    default:
      return void reader.script.body.push(...reader.statement(node));
  }
}

export function importsOf(reader: PythonReader, node: RawNode): ImportSyntax[] {
  const at = { start: node.start, end: node.end };
  const named = (child: RawNode): { name: string; as: string } => {
    const name = reader.write(childOf(child, 'name') ?? child);
    return { name, as: reader.write(childOf(child, 'alias') ?? childOf(child, 'name') ?? child) };
  };
  if (node.type === 'import_from_statement') {
    const module = childOf(node, 'module_name');
    const isAll = childrenOf(node, 'wildcard_import').length > 0;
    const names = isAll ? [{ name: '*', as: '*' }] : node.children.filter((child) => child.field === 'name').map(named);
    return [{ from: module ? reader.write(module) : '', names, ...at }];
  }
  return node.children
    .filter((child) => child.field === 'name')
    .map((child) => ({ from: named(child).name, names: [{ name: '*', as: named(child).as }], ...at }));
}

function decoratorsOf(reader: PythonReader, node: RawNode): string[] {
  return childrenOf(node, 'decorator').map((decorator) => {
    const [inner] = decorator.children;
    noteDecorated(reader, inner);
    const name = inner?.type === 'call' ? childOf(inner, 'function') : inner;
    return name ? reader.write(name) : '';
  });
}

export function readType(reader: PythonReader, node: RawNode, decorators: string[]): void {
  const name = childOf(node, 'name');
  const type: TypeSyntax = {
    name: name ? reader.write(name) : '',
    nameStart: name?.start ?? node.start,
    nameEnd: name?.end ?? node.start,
    kind: 'class',
    parents: (childOf(node, 'superclasses')?.children ?? [])
      .filter((parent) => parent.type === 'identifier' || parent.type === 'attribute')
      .map(reader.write),
    fields: [],
    functions: [],
    decorators,
    start: node.start,
    end: node.end,
  };
  reader.script.types.push(type);
  for (const child of childOf(node, 'body')?.children ?? []) readMember(reader, child, type, []);
}

/** Statements and blocks in a class that may hold members. */
const IN_BLOCKS = new Set([
  'if_statement',
  'elif_clause',
  'else_clause',
  'try_statement',
  'except_clause',
  'finally_clause',
  'with_statement',
  'block',
]);

function readMember(reader: PythonReader, node: RawNode, type: TypeSyntax, decorators: string[]): void {
  if (node.type === 'decorated_definition') {
    const definition = childOf(node, 'definition');
    if (definition) readMember(reader, definition, type, decoratorsOf(reader, node));
  } else if (node.type === 'function_definition') {
    type.functions.push(functionOf(reader, node, decorators, !decorators.includes('staticmethod')));
  } else if (node.type === 'class_definition') {
    const name = childOf(node, 'name');
    if (name) (type.others ??= []).push(reader.write(name));
    readType(reader, node, decorators);
  } else if (IN_BLOCKS.has(node.type)) {
    // What stands in a condition may be there.
    for (const child of node.children) readMember(reader, child, type, []);
  } else if (node.type === 'expression_statement') {
    for (const assignment of childrenOf(node, 'assignment')) type.fields.push(...fieldsOf(reader, assignment));
  }
}

function fieldsOf(reader: PythonReader, node: RawNode): FieldSyntax[] {
  const name = childOf(node, 'left');
  if (name?.type !== 'identifier') return [];
  const declared = childOf(node, 'type');
  const value = childOf(node, 'right');
  const type = declared ? reader.write(declared) : '';
  const fields: FieldSyntax[] = [
    {
      name: reader.write(name),
      type,
      value: value && value.type !== 'assignment' ? reader.expression(value) : undefined,
      optional: /\bOptional\b|\bNone\b/.test(type),
      isStatic: !declared,
      decorators: [],
      start: node.start,
      end: node.end,
    },
  ];
  return value?.type === 'assignment' ? [...fields, ...fieldsOf(reader, value)] : fields;
}

export function functionOf(
  reader: PythonReader,
  node: RawNode,
  decorators: string[],
  isMethod: boolean,
): FunctionSyntax {
  const name = childOf(node, 'name');
  const parameters = (childOf(node, 'parameters')?.children ?? []).flatMap((one) => parameterOf(reader, one));
  const body = childOf(node, 'body');
  if (isMethod && parameters.length > 0) reader.selves.push(itemAt(parameters, 0).name);
  const code = !body
    ? []
    : node.type === 'lambda'
      ? [{ is: 'return' as const, value: reader.expression(body), start: body.start, end: body.end }]
      : body.children.flatMap(reader.statement);
  if (isMethod && parameters.length > 0) reader.selves.pop();
  return {
    name: name ? reader.write(name) : '',
    parameters: isMethod ? parameters.slice(1) : parameters,
    body: code,
    decorators,
    isStatic: decorators.includes('staticmethod') || decorators.includes('classmethod'),
    start: node.start,
    end: node.end,
  };
}

function parameterOf(reader: PythonReader, node: RawNode): ParameterSyntax[] {
  switch (node.type) {
    case 'identifier':
      return [{ name: reader.write(node), type: '', optional: false }];
    case 'typed_parameter': {
      const type = childOf(node, 'type');
      return [{ name: reader.write(itemAt(node.children, 0)), type: type ? reader.write(type) : '', optional: false }];
    }
    case 'default_parameter':
    case 'typed_default_parameter': {
      const name = childOf(node, 'name');
      const type = childOf(node, 'type');
      return [{ name: name ? reader.write(name) : '', type: type ? reader.write(type) : '', optional: true }];
    }
    case 'list_splat_pattern':
    case 'dictionary_splat_pattern':
      return [{ name: reader.write(node), type: '', optional: true }];
    default:
      return [];
  }
}
