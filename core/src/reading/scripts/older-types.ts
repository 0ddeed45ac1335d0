/**
 * Types that no keyword declares: functions with a prototype, tables that hold functions, what a call registers under a
 * name. What is found is moved out of the code at the top of the file, into types like all others.
 */
import type { Language, ScriptRule } from '../plan/plan.js';
import { nameOf } from './tables.js';
import type {
  Expression,
  FieldSyntax,
  FunctionSyntax,
  ScriptSyntax,
  Statement,
  TableEntry,
  TypeSyntax,
} from './syntax.js';

/** Languages in which any table with functions is a type, and those with prototypes. */
const WITH_TABLES = new Set<Language>(['lua', 'javascript', 'typescript']);
const WITH_PROTOTYPES = new Set<Language>(['javascript', 'typescript']);

interface Found {
  types: Map<string, TypeSyntax>;
  /** Names that the file gives a table or a function. */
  known: Map<string, { start: number; end: number }>;
  registered: readonly string[];
  language: Language;
}

/** The same script, with all its types. */
export function withOlderTypes(
  script: ScriptSyntax,
  { language, registers }: Pick<ScriptRule, 'language' | 'registers'>,
): ScriptSyntax {
  if (!WITH_TABLES.has(language)) return script;
  const found: Found = {
    types: new Map(script.types.map((type) => [type.name, type])),
    known: namesIn(script),
    registered: registers,
    language,
  };
  const before = found.types.size;
  const body = script.body.filter((statement) => !isTaken(found, statement));
  if (body.length === script.body.length && found.types.size === before) return script;
  const functions = script.functions.filter((code) => !isConstructor(found, code));
  return { ...script, types: [...found.types.values()].sort((a, b) => a.start - b.start), functions, body };
}

/** What stands at the top of the file under a name, and may be a type. */
function namesIn({ body, functions }: ScriptSyntax): Found['known'] {
  const known: Found['known'] = new Map();
  for (const { name, start } of functions) if (name) known.set(name, { start, end: start });
  for (const [name, value, at] of assignments(body))
    if (!name.includes('.') && value && (value.is === 'table' || value.is === 'function' || value.is === 'call'))
      known.set(name, at);
  return known;
}

/** What statements give names: `Hull = …`, `Hull.prototype.moor = …`. */
function* assignments(
  body: readonly Statement[],
): Generator<[string, Expression | undefined, { start: number; end: number }]> {
  for (const statement of body) {
    if (statement.is === 'local') yield [statement.name, statement.value, statement];
    const assigned = statement.is === 'expression' && statement.value.is === 'assign' ? statement.value : undefined;
    const name = assigned && nameOf(assigned.target);
    if (assigned && name) yield [name, assigned.value, assigned.target];
  }
}

/** Whether a statement only says something of a type, which was noted. */
function isTaken(found: Found, statement: Statement): boolean {
  for (const [name, value, at] of assignments([statement]))
    return value !== undefined && takeAssignment(found, name, value, at);
  return statement.is === 'expression' && statement.value.is === 'call' && takeCall(found, statement.value);
}

function takeAssignment(found: Found, name: string, value: Expression, at: { start: number; end: number }): boolean {
  const [owner = '', ...rest] = name.split('.');
  if (WITH_PROTOTYPES.has(found.language) && rest[0] === 'prototype')
    return takePrototype(found, owner, rest.slice(1), value);
  if (rest.length === 0) return takeTable(found, name, value, at);
  const [member = ''] = rest;
  // `Hull.moor = function …`: a function of the table or type that the file has under that name.
  const isKnown = found.types.has(owner) || (found.language === 'lua' && found.known.has(owner));
  if (rest.length !== 1 || value.is !== 'function' || !isKnown) return false;
  typeOf(found, owner).functions.push(named(value.function, member, !takesSelf(found, value.function)));
  return true;
}

function takePrototype(found: Found, owner: string, [member]: string[], value: Expression): boolean {
  if (!found.known.has(owner) && !found.types.has(owner)) return false;
  if (member === undefined) {
    const parent = parentIn(value);
    if (parent) typeOf(found, owner).parents.push(parent);
    else if (value.is === 'table') addEntries(found, typeOf(found, owner), value.entries);
    else return false;
    return true;
  }
  if (member === 'constructor') return true;
  addMember(found, typeOf(found, owner), { name: member, value, nameAt: undefined });
  return true;
}

/** `Object.create(Hull.prototype)`, `new Hull()`, `Object.create(Hull)`. */
function parentIn(value: Expression): string | undefined {
  if (value.is !== 'call') return undefined;
  if (value.isNew) return nameOf(value.of);
  const [given] = value.arguments;
  const name = given && nameOf(given.value);
  return nameOf(value.of) === 'Object.create' && name ? name.replace(/\.prototype$/, '') : undefined;
}

/** A table that holds functions: in Lua any, elsewhere one whose name is written like that of a type. */
function takeTable(found: Found, name: string, value: Expression, at: { start: number; end: number }): boolean {
  const made = value.is === 'call' && !value.isNew ? parentIn(value) : undefined;
  if (made && found.types.has(made)) {
    typeOf(found, name, at).parents.push(made);
    return true;
  }
  const isRegistered = value.is === 'call' && found.registered.includes(nameOf(value.of) ?? '');
  if (isRegistered) return takeCall(found, value, name);
  if (value.is !== 'table' || !value.entries.some((entry) => entry.name && entry.value.is === 'function')) return false;
  if (found.language !== 'lua' && !/^[A-Z]/.test(name)) return false;
  addEntries(found, typeOf(found, name, at), value.entries);
  return true;
}

/** `inherits(Barge, Hull)`, and calls by which the plan says that a type is registered. */
function takeCall(found: Found, call: Expression & { is: 'call' }, assigned?: string): boolean {
  const name = nameOf(call.of) ?? '';
  const [first, second] = call.arguments;
  const isInheriting = /(?:^|\.)(?:inherits?|setPrototypeOf)$/.test(name) && WITH_PROTOTYPES.has(found.language);
  if (isInheriting && first && second) {
    const child = nameOf(first.value)?.replace(/\.prototype$/, '');
    const parent = nameOf(second.value)?.replace(/\.prototype$/, '');
    if (!child || !parent || !found.known.has(child)) return false;
    typeOf(found, child).parents.push(parent);
    return true;
  }
  if (name === 'Object.assign' && first && second?.value.is === 'table') {
    const owner = nameOf(first.value)?.replace(/\.prototype$/, '');
    if (!owner || !found.known.has(owner) || !nameOf(first.value)?.endsWith('.prototype')) return false;
    addEntries(found, typeOf(found, owner), second.value.entries);
    return true;
  }
  // A table of its own that answers for what is not there may answer to any name.
  const opened = name === 'setmetatable' && first ? found.types.get(nameOf(first.value) ?? '') : undefined;
  if (opened && second?.value.is !== 'table') opened.isOpen = true;
  if (!found.registered.includes(name)) return false;
  const title = call.arguments.find(({ value }) => value.is === 'text')?.value;
  const own = title?.is === 'text' ? title.value : assigned;
  const tables = call.arguments.flatMap(({ value }) => (value.is === 'table' ? [value] : []));
  if (!own || tables.length === 0) return false;
  const type = typeOf(found, own, title ?? call);
  for (const { value } of call.arguments) {
    const parent = value.is === 'name' || value.is === 'member' ? nameOf(value) : undefined;
    if (parent) type.parents.push(parent);
  }
  for (const { entries } of tables) addEntries(found, type, entries);
  return true;
}

function addEntries(found: Found, type: TypeSyntax, entries: readonly TableEntry[]): void {
  for (const entry of entries) {
    if (entry.name) addMember(found, type, entry);
    else type.isOpen = true;
  }
}

function addMember(found: Found, type: TypeSyntax, { name, value }: TableEntry): void {
  type.end = Math.max(type.end, value.end);
  if (value.is === 'function') type.functions.push(named(value.function, name, !takesSelf(found, value.function)));
  else type.fields.push(field(name, value));
}

/** In Lua a function of a table has an own object when it takes one; elsewhere it always has. */
function takesSelf({ language }: Found, code: FunctionSyntax): boolean {
  return language !== 'lua' || !code.isStatic;
}

function named(code: FunctionSyntax, name: string, isStatic: boolean): FunctionSyntax {
  return { ...code, name, isStatic };
}

function field(name: string, value: Expression): FieldSyntax {
  const { start, end } = value;
  const given = value.is === 'nothing' ? {} : { value };
  return { name, type: '', ...given, optional: false, isStatic: value.is === 'text', decorators: [], start, end };
}

function typeOf({ types, known }: Found, name: string, at = known.get(name)): TypeSyntax {
  let type = types.get(name);
  if (!type) {
    const { start = 0, end = 0 } = at ?? {};
    const place = { nameStart: start, nameEnd: end, start, end };
    type = { name, kind: 'class', parents: [], fields: [], functions: [], decorators: [], ...place };
    types.set(name, type);
  }
  return type;
}

/** The function that makes objects of a type is the type's own. */
function isConstructor({ types, language }: Found, code: FunctionSyntax): boolean {
  const type = WITH_PROTOTYPES.has(language) ? types.get(code.name) : undefined;
  if (!type || type.functions.some(({ name }) => name === 'constructor')) return false;
  type.functions.unshift({ ...code, name: 'constructor' });
  type.start = code.start;
  type.end = Math.max(type.end, code.end);
  return true;
}
