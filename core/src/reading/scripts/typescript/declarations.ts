/** Types, functions and imports of TypeScript and JavaScript. */
import { childOf, childrenOf, type RawNode } from '../grammar.js';
import { enumMember } from '../reader.js';
import { declaredNames, readExport } from './exports.js';
import { noteDecorated } from '../reader.js';
import type {
  Expression,
  FieldSyntax,
  FunctionSyntax,
  GivenNames,
  ImportSyntax,
  ParameterSyntax,
  Statement,
  TypeSyntax,
} from '../syntax.js';
import { unquote, type TypeScriptReader } from './nodes.js';

export function topLevel(reader: TypeScriptReader, node: RawNode, decorators: string[]): void {
  switch (node.type) {
    case 'import_statement':
      givenBy(reader).isModule = true;
      return void reader.script.imports.push(importOf(reader, node));
    case 'ambient_declaration':
      givenBy(reader).everywhere.push(...declaredNames(reader, node));
      return;
    case 'export_statement': {
      readExport(reader, node, givenBy(reader));
      const outer = [...decorators, ...decoratorsOf(reader, node)];
      const value = childOf(node, 'value');
      if (value) {
        const { start, end } = node;
        reader.script.body.push({
          is: 'local',
          name: 'default',
          type: '',
          value: reader.expression(value),
          start,
          end,
        });
        return;
      }
      return node.children
        .filter((child) => child.type !== 'decorator')
        .forEach((child) => topLevel(reader, child, outer));
    }
    case 'class_declaration':
    case 'abstract_class_declaration':
    case 'class':
      return void reader.script.types.push(typeOf(reader, node, 'class', decorators));
    case 'interface_declaration':
      return void reader.script.types.push(typeOf(reader, node, 'interface', decorators));
    case 'enum_declaration':
      return void reader.script.types.push(enumOf(reader, node));
    case 'function_declaration':
    case 'generator_function_declaration':
      return void reader.script.functions.push(functionOf(reader, node, decorators));
    case 'lexical_declaration':
    case 'variable_declaration':
      return void reader.script.body.push(...locals(reader, node));
    case 'comment':
      return;
    default:
      return void reader.script.body.push(...reader.statement(node));
  }
}

function givenBy({ script }: TypeScriptReader): GivenNames {
  return (script.gives ??= { names: [], everywhere: [], from: [], isWhole: true, isModule: false });
}

function importOf(reader: TypeScriptReader, node: RawNode): ImportSyntax {
  const names: ImportSyntax['names'] = [];
  const visit = (inner: RawNode): void => {
    if (inner.type === 'import_specifier') {
      const name = childOf(inner, 'name');
      const alias = childOf(inner, 'alias');
      if (name) names.push({ name: reader.write(name), as: reader.write(alias ?? name) });
    } else if (inner.type === 'namespace_import') {
      for (const name of childrenOf(inner, 'identifier')) names.push({ name: '*', as: reader.write(name) });
    } else if (inner.type === 'identifier') names.push({ name: 'default', as: reader.write(inner) });
    else inner.children.forEach(visit);
  };
  childrenOf(node, 'import_clause').forEach((clause) => clause.children.forEach(visit));
  const source = childOf(node, 'source');
  return { from: source ? unquote(reader, source) : '', names, start: node.start, end: node.end };
}

function decoratorsOf(reader: TypeScriptReader, node: RawNode): string[] {
  return childrenOf(node, 'decorator').map((decorator) => {
    const [inner] = decorator.children;
    noteDecorated(reader, inner);
    const name = inner?.type === 'call_expression' ? childOf(inner, 'function') : inner;
    return name ? reader.write(name) : '';
  });
}

export function typeOf(
  reader: TypeScriptReader,
  node: RawNode,
  kind: 'class' | 'interface',
  outer: string[],
): TypeSyntax {
  const name = childOf(node, 'name');
  const type: TypeSyntax = {
    name: name ? reader.write(name) : '',
    nameStart: name?.start ?? node.start,
    nameEnd: name?.end ?? node.start,
    kind,
    parents: [],
    fields: [],
    functions: [],
    decorators: [...outer, ...decoratorsOf(reader, node)],
    start: node.start,
    end: node.end,
  };
  for (const heritage of childrenOf(node, 'class_heritage', 'extends_type_clause')) {
    const clauses = heritage.type === 'class_heritage' ? childrenOf(heritage, 'extends_clause') : [heritage];
    for (const clause of clauses) {
      type.parents.push(...clause.children.flatMap((one) => parentsIn(reader, one)));
    }
  }
  readMembers(reader, childOf(node, 'body')?.children ?? [], type);
  return type;
}

/** The parents that a clause names; `Swims(Vessel)` mixes one into the other, and is both. */
function parentsIn(reader: TypeScriptReader, node: RawNode): string[] {
  if (node.type === 'type_arguments' || node.type === 'comment') return [];
  if (node.type !== 'call_expression') return [reader.write(node)];
  const callee = childOf(node, 'function');
  const given = childOf(node, 'arguments')?.children ?? [];
  const named = given.filter((one) => ['identifier', 'member_expression', 'call_expression'].includes(one.type));
  return [...(callee ? [reader.write(callee)] : []), ...named.flatMap((one) => parentsIn(reader, one))];
}

function readMembers(reader: TypeScriptReader, members: RawNode[], type: TypeSyntax): void {
  let decorators: string[] = [];
  for (const member of members) {
    if (member.type === 'decorator') {
      decorators.push(...decoratorsOf(reader, { ...member, children: [member] }));
      continue;
    }
    const own = [
      ...decorators,
      ...decoratorsOf(reader, member),
      ...childrenOf(member, 'accessibility_modifier').map(reader.write),
    ];
    if (member.type === 'public_field_definition' || member.type === 'property_signature') {
      type.fields.push(fieldOf(reader, member, own));
    } else if (member.type === 'method_definition' || member.type === 'abstract_method_signature') {
      const method = functionOf(reader, member, own);
      type.functions.push(method);
      if (method.name === 'constructor') type.fields.push(...parameterFields(reader, member));
    }
    if (member.type === 'index_signature' || childOf(member, 'name')?.type === 'computed_property_name')
      type.isOpen = true;
    if (member.type !== 'comment') decorators = [];
  }
}

function fieldOf(reader: TypeScriptReader, node: RawNode, decorators: string[]): FieldSyntax {
  const name = childOf(node, 'name');
  const declared = typeText(reader, childOf(node, 'type'));
  const value = childOf(node, 'value');
  const head = reader.text.slice(name?.end ?? node.start, (name?.end ?? node.start) + 1);
  return {
    name: name ? reader.write(name) : '',
    type: declared.replace(/\s*\|\s*(null|undefined)\b/g, ''),
    value: value && reader.expression(value),
    optional: head === '?' || /\|\s*(null|undefined)\b/.test(declared),
    isStatic: /\bstatic\b/.test(reader.text.slice(node.start, name?.start ?? node.start)),
    decorators,
    start: name?.start ?? node.start,
    end: node.end,
  };
}

/** `constructor(private name: Type)` declares a field. */
function parameterFields(reader: TypeScriptReader, method: RawNode): FieldSyntax[] {
  return (childOf(method, 'parameters')?.children ?? [])
    .filter(
      (parameter) =>
        childrenOf(parameter, 'accessibility_modifier').length > 0 ||
        /^readonly\s/.test(reader.text.slice(parameter.start, parameter.start + 10)),
    )
    .map((parameter) => ({
      name: reader.write(childOf(parameter, 'pattern') ?? parameter),
      type: typeText(reader, childOf(parameter, 'type')),
      optional: true,
      isStatic: false,
      decorators: childrenOf(parameter, 'accessibility_modifier').map(reader.write),
      start: parameter.start,
      end: parameter.end,
    }));
}

function typeText(reader: TypeScriptReader, node: RawNode | undefined): string {
  return node ? reader.write(node).replace(/^:\s*/, '') : '';
}

function enumOf(reader: TypeScriptReader, node: RawNode): TypeSyntax {
  const type = typeOf(reader, node, 'class', []);
  type.kind = 'enum';
  for (const member of childOf(node, 'body')?.children ?? []) {
    const name = member.type === 'enum_assignment' ? childOf(member, 'name') : member;
    const value = member.type === 'enum_assignment' ? childOf(member, 'value') : undefined;
    if (!name || name.type === 'comment') continue;
    type.fields.push(enumMember(reader, member, name, value));
  }
  return type;
}

export function functionOf(reader: TypeScriptReader, node: RawNode, decorators: string[]): FunctionSyntax {
  const name = childOf(node, 'name');
  const single = childOf(node, 'parameter');
  const body = childOf(node, 'body');
  return {
    name: name ? reader.write(name) : '',
    parameters: single
      ? [{ name: reader.write(single), type: '', optional: false }]
      : (childOf(node, 'parameters')?.children ?? []).flatMap((one) => parameterOf(reader, one)),
    body: !body
      ? []
      : body.type === 'statement_block'
        ? body.children.flatMap(reader.statement)
        : [{ is: 'return', value: reader.expression(body), start: body.start, end: body.end }],
    decorators,
    isStatic: /\bstatic\b/.test(reader.text.slice(node.start, name?.start ?? node.start)),
    start: node.start,
    end: node.end,
  };
}

function parameterOf(reader: TypeScriptReader, node: RawNode): ParameterSyntax[] {
  if (node.type !== 'required_parameter' && node.type !== 'optional_parameter') return [];
  const pattern = childOf(node, 'pattern');
  return [
    {
      name: pattern ? reader.write(pattern) : '',
      type: typeText(reader, childOf(node, 'type')),
      optional: node.type === 'optional_parameter' || childOf(node, 'value') !== undefined,
    },
  ];
}

export function locals(reader: TypeScriptReader, node: RawNode): Statement[] {
  return childrenOf(node, 'variable_declarator').flatMap((declarator): Statement[] => {
    const name = childOf(declarator, 'name');
    const value = childOf(declarator, 'value');
    const at = { start: declarator.start, end: declarator.end };
    if (name?.type === 'identifier') {
      return [
        {
          is: 'local',
          name: reader.write(name),
          type: typeText(reader, childOf(declarator, 'type')),
          value: value && reader.expression(value),
          ...at,
        },
      ];
    }
    if (name?.type === 'object_pattern' && value) return takenApart(reader, name, reader.expression(value), at);
    return value ? [{ is: 'expression', value: reader.expression(value), ...at }] : [];
  });
}

/** `const { load, crew: people } = boat` reads two members of the boat. */
function takenApart(
  reader: TypeScriptReader,
  pattern: RawNode,
  value: Expression,
  at: { start: number; end: number },
): Statement[] {
  // What is taken apart is evaluated once.
  const whole = `{${at.start}}`;
  const isPlain = value.is === 'name' || value.is === 'self';
  const of: Expression = isPlain ? value : { is: 'name', name: whole, ...at };
  const names = pattern.children.map((entry): Statement => {
    const place = { start: entry.start, end: entry.end };
    const own = childOf(entry, 'value') ?? childOf(entry, 'left') ?? entry.children[0] ?? entry;
    const key = childOf(entry, 'key') ?? own;
    const isMember = entry.type !== 'rest_pattern' && key.children.length === 0 && own.children.length === 0;
    const member: Expression = isMember
      ? { is: 'member', of, name: reader.write(key), safe: false, ...place }
      : { is: 'other', inner: [], ...place };
    return { is: 'local', name: reader.write(own), type: '', value: member, ...place };
  });
  return isPlain ? names : [{ is: 'local', name: whole, type: '', value, ...at }, ...names];
}
