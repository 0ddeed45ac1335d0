import { compilePattern, type Pattern } from '../../helpers/pattern.js';
import { itemAt, must } from '../../helpers/at.js';
import { member, type TreeNode } from '../tree/node.js';
import { parseSelector } from './parse.js';
import type { Call, Operand, Query, Selector, Test } from './syntax.js';

/** A compiled query: gives the nodes it selects below `root`, in the order of RFC 9535. */
export type Select = (root: TreeNode) => TreeNode[];

type Visit = (current: TreeNode, root: TreeNode, found: (node: TreeNode) => void) => void;
type Decide = (current: TreeNode, root: TreeNode) => boolean;
/** A value in a filter; `undefined` is the standard's “Nothing”. */
type Value = string | number | boolean | null | TreeNode | undefined;
type Evaluate = (current: TreeNode, root: TreeNode) => Value;

const compiled = new Map<string, Select>();

/**
 * Compiles a JSONPath query once; the same text gives the same function again.
 * The `$` of the query is whatever node the function is called with.
 * @throws GlueError `selector/invalid`
 */
export function compileSelector(text: string): Select {
  const known = compiled.get(text);
  if (known) return known;
  const visit = compileQuery(parseSelector(text));
  const select: Select = (root) => {
    const nodes: TreeNode[] = [];
    visit(root, root, (node) => nodes.push(node));
    return nodes;
  };
  compiled.set(text, select);
  return select;
}

function compileQuery(query: Query): Visit {
  let visit: Visit = (current, root, found) => found(query.from === 'document' ? root : current);
  for (const segment of query.segments) {
    const before = visit;
    const selectors = segment.selectors.map(compileOne);
    const apply: Visit = (current, root, found) => {
      for (const select of selectors) select(current, root, found);
    };
    const only = itemAt(segment.selectors, 0);
    const step: Visit = !segment.descendant
      ? apply
      : segment.selectors.length === 1 && only.is === 'name'
        ? (current, _root, found) => eachNamed(current, only.name, found)
        : (current, root, found) => eachWithin(current, (inner) => apply(inner, root, found));
    visit = (current, root, found) => before(current, root, (node) => step(node, root, found));
  }
  return visit;
}

/** Visits a node and everything below it, parents first, without recursion: trees may be deep. */
function eachWithin(top: TreeNode, visit: (node: TreeNode) => void): void {
  const open = [top];
  for (let node = open.pop(); node; node = open.pop()) {
    visit(node);
    for (let at = node.children.length - 1; at >= 0; at--) {
      const child = node.children[at];
      if (child) open.push(child);
    }
  }
}

/** Visits every member of one name below a node, outer ones first: `..name`, without asking every object for it. */
function eachNamed(top: TreeNode, name: string, visit: (node: TreeNode) => void): void {
  const open = [top];
  for (let node = open.pop(); node; node = open.pop()) {
    const { children } = node;
    let found: TreeNode | undefined;
    for (let at = children.length - 1; at >= 0; at--) {
      const child = children[at];
      if (!child) continue;
      if (child.children.length > 0) open.push(child);
      if (!found && node.kind === 'object' && child.key === name) visit((found = child));
    }
  }
}

function compileOne(selector: Selector): Visit {
  switch (selector.is) {
    case 'name':
      return (current, _root, found) => {
        const child = member(current, selector.name);
        if (child) found(child);
      };
    case 'wildcard':
      return (current, _root, found) => current.children.forEach(found);
    case 'index':
      return (current, _root, found) => {
        const items = itemsOf(current);
        const child = items[selector.index < 0 ? items.length + selector.index : selector.index];
        if (child) found(child);
      };
    case 'slice':
      return (current, _root, found) => {
        const items = itemsOf(current);
        for (const at of sliced(items.length, selector)) found(itemAt(items, at));
      };
    case 'filter': {
      const decide = compileTest(selector.test);
      return (current, root, found) => {
        for (const child of current.children) if (decide(child, root)) found(child);
      };
    }
  }
}

/** The items of a list; in code, tables may hold items beside members, which have no name. */
function itemsOf({ kind, children }: TreeNode): readonly TreeNode[] {
  return kind === 'list' ? children : children.filter(({ key, keyStart }) => key === '' && keyStart < 0);
}

/** Positions a slice selects (RFC 9535, section 2.3.4.2.2). */
function* sliced(length: number, slice: { start?: number; end?: number; step: number }): Generator<number> {
  const { step } = slice;
  if (step === 0) return;
  const normal = (value: number): number => (value >= 0 ? value : length + value);
  const start = normal(slice.start ?? (step > 0 ? 0 : length - 1));
  const end = slice.end === undefined ? (step > 0 ? length : -1) : normal(slice.end);
  if (step > 0) {
    const last = Math.min(Math.max(end, 0), length);
    for (let at = Math.min(Math.max(start, 0), length); at < last; at += step) yield at;
  } else {
    const last = Math.min(Math.max(end, -1), length - 1);
    for (let at = Math.min(Math.max(start, -1), length - 1); at > last; at += step) yield at;
  }
}

function compileTest(test: Test): Decide {
  switch (test.is) {
    case 'or': {
      const tests = test.tests.map(compileTest);
      return (current, root) => tests.some((decide) => decide(current, root));
    }
    case 'and': {
      const tests = test.tests.map(compileTest);
      return (current, root) => tests.every((decide) => decide(current, root));
    }
    case 'not': {
      const decide = compileTest(test.test);
      return (current, root) => !decide(current, root);
    }
    case 'exists': {
      const visit = compileQuery(test.query);
      return (current, root) => nodesOf(visit, current, root).length > 0;
    }
    case 'compare': {
      const left = compileOperand(test.left);
      const right = compileOperand(test.right);
      return (current, root) => compare(left(current, root), test.operator, right(current, root));
    }
    case 'call': {
      const evaluate = compileCall(test.call);
      return (current, root) => evaluate(current, root) === true;
    }
  }
}

function nodesOf(visit: Visit, current: TreeNode, root: TreeNode): TreeNode[] {
  const nodes: TreeNode[] = [];
  visit(current, root, (node) => nodes.push(node));
  return nodes;
}

function compileOperand(operand: Operand): Evaluate {
  if (operand.is === 'literal') return () => operand.value;
  if (operand.is === 'call') return compileCall(operand.call);
  const visit = compileQuery(operand.query);
  return (current, root) => valueOf(nodesOf(visit, current, root)[0]);
}

function valueOf(node: TreeNode | undefined): Value {
  if (!node) return undefined;
  return node.kind === 'object' || node.kind === 'list' ? node : node.value;
}

function compileCall(call: Call): Evaluate {
  // How many arguments each function takes was looked at when the selector was read.
  const argument = (at: number): Operand => itemAt(call.arguments, at);
  switch (call.name) {
    case 'length': {
      const value = compileOperand(argument(0));
      return (current, root) => lengthOf(value(current, root));
    }
    case 'count':
    case 'value': {
      const visit = compileQuery((argument(0) as { query: Query }).query);
      if (call.name === 'count') return (current, root) => nodesOf(visit, current, root).length;
      return (current, root) => {
        const nodes = nodesOf(visit, current, root);
        return nodes.length === 1 ? valueOf(nodes[0]) : undefined;
      };
    }
    case 'match':
    case 'search': {
      const value = compileOperand(argument(0));
      const pattern = compileOperand(argument(1));
      return (current, root) => {
        const text = value(current, root);
        const wanted = pattern(current, root);
        if (typeof text !== 'string' || typeof wanted !== 'string') return false;
        return expression(wanted, call.name === 'match')?.test(text) ?? false;
      };
    }
  }
}

/** Length in Unicode characters, items or members (RFC 9535, section 2.4.4). */
function lengthOf(value: Value): Value {
  if (typeof value === 'string') return [...value].length;
  if (typeof value === 'object' && value !== null) return value.children.length;
  return undefined;
}

const expressions = new Map<string, Pattern | undefined>();

/** An I-Regexp (RFC 9485); undefined if it is none, which matches nothing. */
function expression(pattern: string, whole: boolean): Pattern | undefined {
  const key = (whole ? 'whole ' : 'part ') + pattern;
  if (!expressions.has(key)) {
    let found: Pattern | undefined;
    try {
      // In I-Regexp a dot stands for anything but LF and CR; in JavaScript it leaves out two more.
      const body = pattern.replace(/\\.|\[(?:\\.|[^\]])*\]|\./gs, (part) => (part === '.' ? '[^\\n\\r]' : part));
      found = compilePattern(whole ? `^(?:${body})$` : body);
    } catch {
      found = undefined;
    }
    expressions.set(key, found);
  }
  return expressions.get(key);
}

function compare(left: Value, operator: string, right: Value): boolean {
  switch (operator) {
    case '==':
      return same(left, right);
    case '!=':
      return !same(left, right);
    case '<':
      return less(left, right);
    case '>':
      return less(right, left);
    case '<=':
      return less(left, right) || same(left, right);
    default:
      return less(right, left) || same(left, right);
  }
}

function less(left: Value, right: Value): boolean {
  if (typeof left === 'number' && typeof right === 'number') return left < right;
  if (typeof left === 'string' && typeof right === 'string') return lessText(left, right);
  return false;
}

/** Texts compare by Unicode characters, not by UTF-16 units. */
function lessText(left: string, right: string): boolean {
  const a = [...left];
  const b = [...right];
  for (let at = 0; at < Math.min(a.length, b.length); at++) {
    if (a[at] !== b[at]) return must(itemAt(a, at).codePointAt(0)) < must(itemAt(b, at).codePointAt(0));
  }
  return a.length < b.length;
}

function same(left: Value, right: Value): boolean {
  const leftNode = typeof left === 'object' && left !== null;
  const rightNode = typeof right === 'object' && right !== null;
  if (!leftNode || !rightNode) return left === right;
  if (left.kind !== right.kind || left.children.length !== right.children.length) return false;
  return left.children.every((child, at) => {
    const other = left.kind === 'object' ? member(right, child.key) : right.children[at];
    return other !== undefined && same(valueOf(child), valueOf(other));
  });
}
