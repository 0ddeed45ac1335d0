/** Types, functions and imports of Lua. */
import { must } from '../../../helpers/at.js';
import { childOf, childrenOf, type RawNode } from '../grammar.js';
import type { FunctionSyntax, TypeSyntax } from '../syntax.js';
import { textOf, type LuaReader } from './nodes.js';

function typeNamed(reader: LuaReader, name: RawNode): TypeSyntax {
  let type = reader.types.get(reader.write(name));
  if (!type) {
    type = {
      name: reader.write(name),
      nameStart: name.start,
      nameEnd: name.end,
      kind: 'class',
      parents: [],
      fields: [],
      functions: [],
      decorators: [],
      start: name.start,
      end: name.end,
    };
    reader.types.set(type.name, type);
  }
  return type;
}

/** Tables of the file that are types: those that functions hang on, or that are made from another. */
export function findTypes(reader: LuaReader): void {
  for (const node of reader.root.children) {
    if (node.type === 'function_declaration') {
      const name = childOf(node, 'name');
      const owner = name && childOf(name, 'table');
      if (owner?.type === 'identifier') typeNamed(reader, owner);
    }
    for (const { name, value } of pairsOf(node)) {
      const parent = value && name.type === 'identifier' ? parentIn(reader, value) : undefined;
      if (parent) addParent(typeNamed(reader, name), parent);
    }
    if (node.type === 'function_call') {
      readMetatable(reader, node);
      readMixIn(reader, node);
    }
  }
}

function addParent(type: TypeSyntax, parent: string): void {
  if (parent !== type.name && !type.parents.includes(parent)) type.parents.push(parent);
}

/** `Vessel:extend()`, `class(Vessel)`, `setmetatable({}, { __index = Vessel })`. */
function parentIn(reader: LuaReader, value: RawNode): string | undefined {
  if (value.type !== 'function_call') return undefined;
  const callee = childOf(value, 'name');
  const given = childOf(value, 'arguments')?.children ?? [];
  const word = callee ? reader.write(childOf(callee, 'method') ?? childOf(callee, 'field') ?? callee) : '';
  if (word === 'setmetatable') return given[1] && indexOf(reader, given[1]);
  if (callee && /^(extend|derive|subclass|inherit)$/i.test(word)) {
    const table = childOf(callee, 'table');
    return table && reader.write(table);
  }
  // A name as text may stand first: `class("Boat", Vessel)`.
  const parent = given.find((one) => one.type === 'identifier');
  return /^(class|extends|inherit)$/i.test(word) && parent ? reader.write(parent) : undefined;
}

/** `Boat:include(Swims)` gives a type that this file makes what another one has. */
function readMixIn(reader: LuaReader, node: RawNode): void {
  const callee = childOf(node, 'name');
  const table = callee && childOf(callee, 'table');
  const method = callee && childOf(callee, 'method');
  if (
    !table ||
    !method ||
    !/^(include|mixin|mix|implement)$/i.test(reader.write(method)) ||
    !reader.types.has(reader.write(table))
  )
    return;
  for (const given of childOf(node, 'arguments')?.children ?? [])
    if (given.type === 'identifier') addParent(typeNamed(reader, table), reader.write(given));
}

function indexOf(reader: LuaReader, table: RawNode): string | undefined {
  if (table.type === 'identifier') return reader.write(table);
  const entry = table.children.find(
    (field) => childOf(field, 'name') && reader.write(must(childOf(field, 'name'))) === '__index',
  );
  const value = entry && childOf(entry, 'value');
  return value?.type === 'identifier' ? reader.write(value) : undefined;
}

/** `setmetatable(Boat, { __index = Vessel })` as a statement. */
function readMetatable(reader: LuaReader, node: RawNode): void {
  const callee = childOf(node, 'name');
  const [table, meta] = childOf(node, 'arguments')?.children ?? [];
  if (!callee || reader.write(callee) !== 'setmetatable' || table?.type !== 'identifier' || !meta) return;
  const parent = indexOf(reader, meta);
  if (parent) addParent(typeNamed(reader, table), parent);
}

/** Names and values of an assignment or local declaration. */
export function pairsOf(node: RawNode): { name: RawNode; value: RawNode | undefined }[] {
  const assignment =
    node.type === 'variable_declaration' ? (childrenOf(node, 'assignment_statement')[0] ?? node) : node;
  if (assignment.type !== 'assignment_statement' && node.type !== 'variable_declaration') return [];
  const names = childrenOf(assignment, 'variable_list').flatMap((list) => list.children);
  const values = childrenOf(assignment, 'expression_list').flatMap((list) => list.children);
  return names.map((name, at) => ({ name, value: values[at] }));
}

export function topLevel(reader: LuaReader, node: RawNode): void {
  if (node.type === 'function_declaration') {
    const name = childOf(node, 'name');
    const owner = name && reader.types.get(reader.write(childOf(name, 'table') ?? name));
    const code = functionOf(reader, node, name);
    if (owner && name?.type !== 'identifier') owner.functions.push(code);
    else reader.script.functions.push(code);
    return;
  }
  if (node.type === 'function_call') readImport(reader, undefined, node);
  for (const { name, value } of pairsOf(node)) readImport(reader, name, value);
  const isField = pairsOf(node).filter(({ name, value }) => value && readField(reader, name, value));
  if (isField.length === 0) reader.script.body.push(...reader.statement(node));
}

/** `local boats = require('boats')`, or `require('boats')` alone. */
function readImport(reader: LuaReader, name: RawNode | undefined, value: RawNode | undefined): void {
  const callee = value?.type === 'function_call' ? childOf(value, 'name') : undefined;
  if (!value || !callee || reader.write(callee) !== 'require') return;
  const [path] = childOf(value, 'arguments')?.children ?? [];
  if (path?.type !== 'string') return;
  reader.script.imports.push({
    from: textOf(reader, path),
    names: name ? [{ name: '*', as: reader.write(name) }] : [],
    start: value.start,
    end: value.end,
  });
}

/** `Boat.length = 10` and `local Boat = { length = 10 }` declare fields. */
function readField(reader: LuaReader, name: RawNode, value: RawNode): boolean {
  if (name.type === 'dot_index_expression') {
    const type = reader.types.get(reader.write(must(childOf(name, 'table'))));
    const field = childOf(name, 'field');
    if (!type || !field || value.type === 'function_definition') return false;
    if (reader.write(field) === '__index') return true;
    addField(reader, type, field, value, name.start, value.end);
    return true;
  }
  const type = reader.types.get(reader.write(name));
  if (!type || value.type !== 'table_constructor') return false;
  reader.script.taken.push({ name: type.name, value: reader.expression(value) });
  for (const entry of childrenOf(value, 'field')) {
    const field = childOf(entry, 'name');
    const inner = childOf(entry, 'value');
    if (field && inner) addField(reader, type, field, inner, entry.start, entry.end);
  }
  return true;
}

function addField(
  reader: LuaReader,
  type: TypeSyntax,
  field: RawNode,
  value: RawNode,
  start: number,
  end: number,
): void {
  const found = reader.expression(value);
  type.fields.push({
    name: reader.write(field),
    type: '',
    value: found.is === 'nothing' ? undefined : found,
    optional: false,
    isStatic: found.is === 'text',
    decorators: [],
    start,
    end,
  });
}

export function functionOf(reader: LuaReader, node: RawNode, name: RawNode | undefined): FunctionSyntax {
  const isMethod = name?.type === 'method_index_expression';
  const parameters = (childOf(node, 'parameters')?.children ?? []).map(reader.write);
  const takesSelf = parameters[0] === 'self';
  const outer = reader.hasSelf;
  reader.hasSelf = isMethod || takesSelf || outer;
  const code = (childOf(node, 'body')?.children ?? []).flatMap(reader.statement);
  reader.hasSelf = outer;
  const last = name && (childOf(name, 'method') ?? childOf(name, 'field') ?? name);
  return {
    name: last ? reader.write(last) : '',
    parameters: (takesSelf ? parameters.slice(1) : parameters).map((one) => ({
      name: one,
      type: '',
      optional: false,
    })),
    body: code,
    decorators: [],
    isStatic: !isMethod && !takesSelf,
    start: node.start,
    end: node.end,
  };
}
