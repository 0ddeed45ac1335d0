/**
 * Tables in code as documents: what the plan means among the literals of a script, as trees like those of structured
 * files, with the same places.
 */
import { isLike } from '../../helpers/pattern.js';
import type { TableRule } from '../plan/plan.js';
import { adopt, branch, leaf, type TreeNode } from '../tree/node.js';
import {
  eachInner,
  type Argument,
  type Expression,
  type FunctionSyntax,
  type ScriptSyntax,
  type Statement,
} from './syntax.js';

/** The member of a tree under which the name of a call stands. */
export const CALL_MARK = '#call';
/** The name of the table that a file itself returns. */
export const RETURNED = '*';

/** How code is noted that sets an entry of a table under a name which is made: among the members that code sets. */
export const anyEntryOf = (table: string): string => `${table}[]`;

/** A literal of a script, and its name, if any: `Limits`, `Harbour.limits`, `*` for what the file itself returns. */
export interface TableDocument {
  name: string;
  tree: TreeNode;
}

/** Where a literal stands in the code. */
export type Place = keyof Pick<TableRule, 'assigned' | 'calls' | 'returned' | 'decorators'>;
/** Makes the tree of a literal; calls of these names give on what they are given. */
type Build = (through: readonly string[]) => TreeNode;
type Found = (place: Place, name: string, build: Build, written: Expression | undefined) => void;

/** How literals are read. */
interface Reads {
  textOf: (name: string) => string | undefined;
  through: readonly string[];
}

/**
 * The literals that each rule means, in the order of the text.
 * @param textOf the text that a name of the file stands for, if it does
 */
export function findTables(
  script: ScriptSyntax,
  rules: Readonly<Record<string, TableRule>>,
  textOf: Reads['textOf'],
): Map<string, TableDocument[]> {
  const found = new Map<string, TableDocument[]>();
  const all = Object.entries(rules);
  if (all.length === 0) return found;
  eachPlace(script, textOf, (place, name, build, written) => {
    for (const [rule, wanted] of all) {
      if (!wanted[place].some((one) => isLike(one, name))) continue;
      if (written && !isLiteral(written)) continue;
      const documents = found.get(rule);
      const isReturned = place === 'returned' && name === '';
      const document = { name: place === 'assigned' ? name : isReturned ? RETURNED : '', tree: build(wanted.through) };
      if (documents) documents.push(document);
      else found.set(rule, [document]);
    }
  });
  for (const documents of found.values()) documents.sort((a, b) => a.tree.start - b.tree.start);
  return found;
}

/** A literal of a script with where it stands: what a plan would have to name. */
export interface TablePlace {
  place: Place;
  /** Empty for what the file itself returns. */
  name: string;
  tree: TreeNode;
}

/** Every list and table that stands where a rule could mean it. @param through calls that give on what they are given */
export function everyTable(script: ScriptSyntax, through: readonly string[]): TablePlace[] {
  const all: TablePlace[] = [];
  eachPlace(
    script,
    () => undefined,
    (place, name, build, written) => {
      if (written ? !isLiteral(written) : place === 'assigned') return;
      const tree = build(through);
      // What is known at run time alone is an empty object.
      if (written || tree.children.some(({ children }) => children.length > 0)) all.push({ place, name, tree });
    },
  );
  return all;
}

/** Whether there is a list or a table to be read. */
function isLiteral(code: Expression): boolean {
  if (code.is === 'list' || code.is === 'table') return true;
  if (code.is === 'call') return code.arguments.some(({ value }) => isLiteral(value));
  return code.is === 'other' && code.inner.some(isLiteral);
}

/** Visits every place that a rule may mean. */
function eachPlace(script: ScriptSyntax, textOf: Reads['textOf'], found: Found): void {
  // What a name stands for that is handed on instead of the literal itself.
  const literals = new Map<string, Expression>();
  const meant = (code: Expression): Expression => (code.is === 'name' ? (literals.get(code.name) ?? code) : code);
  const tree =
    (code: Expression): Build =>
    (through) =>
      treeOf(code, { textOf, through });
  const assigned = (name: string | undefined, value: Expression): void => {
    const code = meant(value);
    if (!name) return;
    if (isLiteral(code)) literals.set(name, code);
    found('assigned', name, tree(code), code);
  };
  const inExpression = (code: Expression): void => {
    if (code.is === 'assign') assigned(nameOf(code.target), code.value);
    else if (code.is === 'call') {
      const name = nameOf(code.of);
      const list = code.arguments.map((one) => ({ ...one, value: meant(one.value) }));
      if (name) found('calls', name, (through) => given(list, code, { textOf, through }), undefined);
    } else if (code.is === 'function') inFunction(code.function);
    eachInner(code, inExpression);
  };
  const inStatements = (statements: readonly Statement[], home: string): void => {
    for (const statement of statements) {
      if (statement.is === 'local' && statement.value) assigned(statement.name, statement.value);
      if (statement.is === 'return' && statement.value) {
        const value = meant(statement.value);
        found('returned', home, tree(value), value);
      }
      eachPart(statement, inExpression, (inner) => inStatements(inner, home), inFunction);
    }
  };
  const inFunction = ({ name, body }: FunctionSyntax): void => inStatements(body, name);
  for (const { name, value } of script.taken) assigned(name, value);
  inStatements(script.body, '');
  script.functions.forEach(inFunction);
  for (const type of script.types) {
    for (const field of type.fields) {
      if (!field.value) continue;
      assigned(`${type.name}.${field.name}`, field.value);
      inExpression(field.value);
    }
    type.functions.forEach(inFunction);
  }
  for (const { of, arguments: list, start, end } of script.decorated) {
    const name = nameOf(of);
    if (name) found('decorators', name, (through) => given(list, { start, end }, { textOf, through }), undefined);
  }
}

/** Visits the expressions, statements and functions directly inside a statement. */
export function eachPart(
  statement: Statement,
  expression: (code: Expression) => void,
  statements: (body: readonly Statement[]) => void,
  inFunction: (code: FunctionSyntax) => void,
): void {
  switch (statement.is) {
    case 'expression':
    case 'local':
    case 'return':
      if (statement.value) expression(statement.value);
      return;
    case 'if':
      expression(statement.test);
      statements(statement.then);
      return statements(statement.otherwise);
    case 'loop':
      if (statement.test) expression(statement.test);
      if (statement.over) expression(statement.over);
      return statements(statement.body);
    case 'choose':
      if (statement.value) expression(statement.value);
      return statement.branches.forEach(({ body }) => statements(body));
    case 'try':
      statements(statement.body);
      statement.handlers.forEach(({ body }) => statements(body));
      return statements(statement.lastly);
    case 'block':
      return statements(statement.body);
    case 'function':
      return inFunction(statement.function);
    case 'leave':
      return;
  }
}

/** A name or a chain of members as written; undefined when anything else stands in it. */
export function nameOf(code: Expression): string | undefined {
  if (code.is === 'name') return code.name;
  if (code.is === 'self') return 'this';
  if (code.is === 'item' && code.at.is === 'text') return chained(code.of, code.at.value);
  return code.is === 'member' ? chained(code.of, code.name) : undefined;
}

function chained(of: Expression, name: string): string | undefined {
  const before = nameOf(of);
  return before === undefined ? undefined : `${before}.${name}`;
}

// Trees -------------------------------------------------------------------------------------------------------------

/** What is handed over, as an object: arguments by their names, the others as its items. */
function given(list: readonly Argument[], { start, end }: { start: number; end: number }, reads: Reads): TreeNode {
  const whole = branch('object', start, end);
  for (const { name, nameAt, value } of list) put(whole, treeOf(value, reads), name, nameAt);
  return whole;
}

function put(parent: TreeNode, child: TreeNode, name: string, nameAt?: { start: number; end: number }): void {
  if (name === '') adopt(parent, child);
  else adopt(parent, child, name, nameAt?.start ?? -1, nameAt?.end ?? -1);
}

/**
 * A literal as a tree. Names and chains are texts as they are written, or what the file says they stand for; a call is
 * an object with its name as `#call` and what it is given; what is known only at run time is an empty object.
 */
function treeOf(code: Expression, reads: Reads): TreeNode {
  const { start, end } = code;
  switch (code.is) {
    case 'text':
      return leaf('text', code.value, start, end);
    case 'number':
      return leaf('number', code.value, start, end);
    case 'boolean':
      return leaf('boolean', code.value, start, end);
    case 'nothing':
      return leaf('nothing', null, start, end);
    case 'join': {
      const parts = code.parts.map((part) => (part.is === 'text' ? part.value : reads.textOf(nameOf(part) ?? '')));
      const isKnown = parts.every((part) => part !== undefined);
      return isKnown ? leaf('text', parts.join(''), start, end) : branch('object', start, end);
    }
    case 'list':
      return listOf(code.items, code, reads);
    case 'table': {
      // A table of which nothing has a name is a list.
      if (code.entries.length > 0 && code.entries.every(({ nameAt }) => !nameAt))
        return listOf(
          code.entries.map(({ value }) => value),
          code,
          reads,
        );
      const table = branch('object', start, end);
      for (const { name, nameAt, value } of code.entries) put(table, treeOf(value, reads), name, nameAt);
      return table;
    }
    case 'call':
      return callOf(code, reads);
    case 'other':
      return madeOf(code, reads);
    default: {
      const name = nameOf(code);
      if (name === undefined) return branch('object', start, end);
      const text = reads.textOf(name);
      const node = leaf('text', text ?? name, start, end);
      return text === undefined && VARIABLE.test(name) ? { ...node, isName: true } : node;
    }
  }
}

/** What variables, arguments and their members are called; what begins with a capital is a value of its own, mostly. */
const VARIABLE = /^[\p{Ll}_][\p{L}\p{N}_]*(?:\.[\p{L}\p{N}_]+)*$/u;

type List = { start: number; end: number };

/** A list; one that only sets members (`new Berth { Depth = 3 }`) is an object. */
function listOf(items: readonly Expression[], { start, end }: List, reads: Reads): TreeNode {
  const isObject = items.length > 0 && items.every(({ is }) => is === 'assign');
  const list = branch(isObject ? 'object' : 'list', start, end);
  for (const item of items) {
    if (item.is !== 'assign' || !isObject) adopt(list, treeOf(item, reads));
    else put(list, treeOf(item.value, reads), keyOf(item.target), item.target);
  }
  return list;
}

/** What a member is set under: `Depth = …`, `["north"] = …`. */
function keyOf(target: Expression): string {
  if (target.is === 'text') return target.value;
  if (target.is === 'item') return keyOf(target.at);
  if (target.is === 'other') return target.inner.length === 1 && target.inner[0] ? keyOf(target.inner[0]) : '';
  return target.is === 'member' ? target.name : (nameOf(target) ?? '');
}

function callOf(code: Expression & { is: 'call' }, reads: Reads): TreeNode {
  const [first] = code.arguments;
  const called = nameOf(code.of);
  if (first && called !== undefined && code.arguments.length === 1 && reads.through.includes(called))
    return treeOf(first.value, reads);
  const isSole = first !== undefined && code.arguments.length === 1 && !first.name;
  const whole = given(code.arguments, code, reads);
  const only = isSole ? whole.children[0] : undefined;
  // `Berth { depth = 3 }` and `berth({ depth: 3 })`: the table alone is what is handed over.
  const made = only?.kind === 'object' ? branch('object', code.start, code.end) : whole;
  if (made !== whole)
    for (const child of only?.children ?? []) adopt(made, child, child.key, child.keyStart, child.keyEnd);
  mark(made, code.of);
  return made;
}

function mark(made: TreeNode, callee: Expression): void {
  const name = nameOf(callee);
  if (name !== undefined) adopt(made, leaf('text', name, callee.start, callee.end), CALL_MARK);
}

/** Something made and filled in one go: `new Berth("north") { Depth = 3 }`. */
function madeOf(code: Expression & { is: 'other' }, reads: Reads): TreeNode {
  const [made, filled] = code.inner;
  if (code.inner.length === 1 && made) return treeOf(made, reads);
  if (made?.is !== 'call' || filled?.is !== 'list' || code.inner.length !== 2)
    return branch('object', code.start, code.end);
  const inner = treeOf(filled, reads);
  if (inner.kind === 'list') return inner;
  const whole = given(made.arguments, code, reads);
  for (const child of inner.children) adopt(whole, child, child.key, child.keyStart, child.keyEnd);
  mark(whole, made.of);
  return whole;
}
