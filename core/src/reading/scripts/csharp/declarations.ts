/** Types, functions and imports of C#. */
import { childOf, childrenOf, type RawNode } from '../grammar.js';
import { enumMember } from '../reader.js';
import type { Argument, FieldSyntax, FunctionSyntax, ParameterSyntax, Statement, TypeSyntax } from '../syntax.js';
import type { CSharpReader } from './nodes.js';

export function declaration(reader: CSharpReader, node: RawNode): void {
  switch (node.type) {
    case 'using_directive': {
      const name = node.children.at(-1);
      if (name) reader.script.imports.push({ from: reader.write(name), names: [], start: node.start, end: node.end });
      return;
    }
    case 'class_declaration':
    case 'struct_declaration':
    case 'record_declaration':
      return readType(reader, node, 'class');
    case 'interface_declaration':
      return readType(reader, node, 'interface');
    case 'enum_declaration':
      return readEnum(reader, node);
    case 'global_statement':
      return void reader.script.body.push(...node.children.flatMap(reader.statement));
    case 'namespace_declaration':
    case 'file_scoped_namespace_declaration':
    case 'declaration_list':
    case 'ERROR':
      return node.children.forEach((one) => declaration(reader, one));
    default:
      return;
  }
}

function emptyType(reader: CSharpReader, node: RawNode, kind: TypeSyntax['kind']): TypeSyntax {
  const name = childOf(node, 'name');
  return {
    name: name ? reader.write(name) : '',
    nameStart: name?.start ?? node.start,
    nameEnd: name?.end ?? node.start,
    kind,
    parents: childrenOf(node, 'base_list').flatMap((list) =>
      list.children.filter((child) => child.type !== 'argument_list').map(reader.write),
    ),
    fields: [],
    functions: [],
    decorators: attributesOf(reader, node),
    start: node.start,
    end: node.end,
  };
}

function readType(reader: CSharpReader, node: RawNode, kind: 'class' | 'interface'): void {
  const type = emptyType(reader, node, kind);
  reader.script.types.push(type);
  const members = childOf(node, 'body')?.children ?? [];
  const outer = reader.around;
  reader.around = {
    members: new Set(members.flatMap((one) => namesOf(reader, one))),
    locals: new Set(),
    hasParents: type.parents.length > 0,
  };
  for (const member of members) readMember(reader, member, type);
  // What a record takes are its properties.
  const taken = childrenOf(node, 'parameter_list').flatMap((list) => childrenOf(list, 'parameter'));
  if (taken.length > 0) (type.others ??= []).push(...taken.flatMap((one) => namesOf(reader, one)));
  reader.around = outer;
}

function namesOf(reader: CSharpReader, member: RawNode): string[] {
  if (member.type === 'field_declaration' || member.type === 'event_field_declaration') {
    return declaratorsOf(member)
      .flatMap((declarator) => childOf(declarator, 'name') ?? [])
      .map(reader.write);
  }
  const name = childOf(member, 'name');
  return name ? [reader.write(name)] : [];
}

function declaratorsOf(node: RawNode): RawNode[] {
  return childrenOf(node, 'variable_declaration').flatMap((variable) => childrenOf(variable, 'variable_declarator'));
}

function readMember(reader: CSharpReader, member: RawNode, type: TypeSyntax): void {
  switch (member.type) {
    case 'field_declaration': {
      const declared = childrenOf(member, 'variable_declaration')[0];
      for (const declarator of declaratorsOf(member)) {
        type.fields.push(
          fieldOf(
            reader,
            member,
            declarator,
            declared && childOf(declared, 'type'),
            declarator.children.find((child) => child.field !== 'name'),
          ),
        );
      }
      return;
    }
    case 'property_declaration':
      return void type.fields.push(fieldOf(reader, member, member, childOf(member, 'type'), childOf(member, 'value')));
    case 'method_declaration':
    case 'constructor_declaration':
    case 'local_function_statement':
      return void type.functions.push(functionOf(reader, member));
    default:
      (type.others ??= []).push(...namesOf(reader, member));
      return declaration(reader, member);
  }
}

function fieldOf(
  reader: CSharpReader,
  member: RawNode,
  named: RawNode,
  declared: RawNode | undefined,
  value: RawNode | undefined,
): FieldSyntax {
  const name = childOf(named, 'name');
  const modifiers = childrenOf(member, 'modifier').map(reader.write);
  const found = value && reader.expression(value);
  return {
    name: name ? reader.write(name) : '',
    type: declared ? reader.write(declared).replace(/\?$/, '') : '',
    value: found && found.is !== 'nothing' ? found : undefined,
    optional: declared?.type === 'nullable_type' || found?.is === 'nothing',
    isStatic: modifiers.includes('static') || modifiers.includes('const'),
    decorators: [...attributesOf(reader, member), ...modifiers],
    start: name?.start ?? member.start,
    end: member.end,
  };
}

function attributesOf(reader: CSharpReader, node: RawNode): string[] {
  return childrenOf(node, 'attribute_list')
    .flatMap((list) => childrenOf(list, 'attribute'))
    .flatMap((one) => {
      const name = childOf(one, 'name');
      if (!name) return [];
      noteAttribute(reader, one, name);
      return [reader.write(name)];
    });
}

/** Keeps an attribute with what it is given: `[Berth("north", Depth = 3)]`. */
function noteAttribute(reader: CSharpReader, { start, end, children }: RawNode, name: RawNode): void {
  const given = children.flatMap((list) => childrenOf(list, 'attribute_argument'));
  if (given.length === 0) return;
  reader.script.decorated.push({
    is: 'call',
    of: { is: 'name', name: reader.write(name), start: name.start, end: name.end },
    arguments: given.flatMap(({ children: parts }): Argument[] => {
      const value = parts.at(-1);
      if (!value) return [];
      const code = reader.expression(value);
      const title = parts.length > 1 ? parts[0] : undefined;
      if (title) return [{ name: nameOf(reader, title), nameAt: { start: title.start, end: title.end }, value: code }];
      if (code.is !== 'assign' || code.target.is !== 'name') return [{ name: '', value: code }];
      return [{ name: code.target.name, nameAt: code.target, value: code.value }];
    }),
    isNew: false,
    typeArguments: [],
    start,
    end,
  });
}

/** `Depth` of `Depth =` and of `Depth:`. */
function nameOf(reader: CSharpReader, title: RawNode): string {
  return reader.write(title.children[0] ?? title).replace(/\s*[=:]$/, '');
}

function readEnum(reader: CSharpReader, node: RawNode): void {
  const type = emptyType(reader, node, 'enum');
  for (const member of childrenOf(childOf(node, 'body') ?? node, 'enum_member_declaration'))
    type.fields.push(enumMember(reader, member, childOf(member, 'name'), childOf(member, 'value')));
  reader.script.types.push(type);
}

export function functionOf(reader: CSharpReader, node: RawNode): FunctionSyntax {
  const name = childOf(node, 'name');
  const list = childOf(node, 'parameters');
  const parameters =
    list?.type === 'implicit_parameter'
      ? [plainParameter(reader, list)]
      : (list?.children ?? []).flatMap((one) => parameterOf(reader, one));
  const outer = reader.around;
  reader.around = {
    ...outer,
    locals: new Set([...outer.locals, ...parameters.map((parameter) => parameter.name)]),
  };
  const body = childOf(node, 'body') ?? childrenOf(node, 'arrow_expression_clause')[0];
  const code = !body
    ? []
    : body.type === 'block'
      ? body.children.flatMap(reader.statement)
      : returned(reader, body.type === 'arrow_expression_clause' ? body.children[0] : body);
  reader.around = outer;
  return {
    name: node.type === 'constructor_declaration' ? 'constructor' : name ? reader.write(name) : '',
    parameters,
    body: code,
    decorators: [...attributesOf(reader, node), ...childrenOf(node, 'modifier').map(reader.write)],
    isStatic: childrenOf(node, 'modifier').some((modifier) => reader.write(modifier) === 'static'),
    start: node.start,
    end: node.end,
  };
}

function returned(reader: CSharpReader, node: RawNode | undefined): Statement[] {
  return node ? [{ is: 'return', value: reader.expression(node), start: node.start, end: node.end }] : [];
}

function plainParameter(reader: CSharpReader, node: RawNode): ParameterSyntax {
  return { name: reader.write(node), type: '', optional: false };
}

function parameterOf(reader: CSharpReader, node: RawNode): ParameterSyntax[] {
  if (node.type === 'identifier' || node.type === 'implicit_parameter') return [plainParameter(reader, node)];
  if (node.type === 'params' || node.type === 'parameter_array') return [{ name: '...', type: '', optional: true }];
  if (node.type !== 'parameter') return [];
  const name = childOf(node, 'name');
  const type = childOf(node, 'type');
  const isOptional = node.children.some(
    (child) => child.field === '' && child.type !== 'modifier' && child.type !== 'attribute_list',
  );
  return [{ name: name ? reader.write(name) : '', type: type ? reader.write(type) : '', optional: isOptional }];
}

export function locals(reader: CSharpReader, node: RawNode): Statement[] {
  const type = childOf(node, 'type');
  return childrenOf(node, 'variable_declarator').map((declarator): Statement => {
    const name = childOf(declarator, 'name');
    const value = declarator.children.find((child) => child.field !== 'name');
    const found = value && reader.expression(value);
    const word = name ? reader.write(name) : '';
    reader.around.locals.add(word);
    return {
      is: 'local',
      name: word,
      type: type && type.type !== 'implicit_type' ? reader.write(type) : '',
      value: found,
      start: declarator.start,
      end: declarator.end,
    };
  });
}
