/**
 * The one tree shape that every structured format is read into.
 *
 * Offsets are 0-based UTF-16 units into the file's text; ends are exclusive.
 */

export type TreeKind = 'object' | 'list' | 'text' | 'number' | 'boolean' | 'nothing';

export interface TreeNode {
  kind: TreeKind;
  start: number;
  end: number;
  parent: TreeNode | null;
  /** The name under which this node stands in an object; empty in lists and at the root. */
  key: string;
  /** Where that name is written, or -1. */
  keyStart: number;
  keyEnd: number;
  /** Position among the parent's children, 0-based. */
  position: number;
  /** Children of an object or list, in file order. */
  children: TreeNode[];
  /** Value of a leaf. */
  value: string | number | boolean | null;
  /** Type written beside the value (YAML tags), without leading marks; empty if none. */
  tag: string;
  /** It stands for something written elsewhere in the file (YAML aliases). */
  isCopy?: true;
  /** In code: a name that may stand for anything, a variable or an argument, taken as the text that it is. */
  isName?: true;
}

/** A fault in a file that still lets the rest be read. */
export interface ReadProblem {
  message: string;
  start: number;
  end: number;
}

/** A file read into trees: one per document (only YAML has several). */
export interface Tree {
  documents: TreeNode[];
  problems: ReadProblem[];
  /** What is odd, though all of it was read. */
  notes?: ReadProblem[];
}

const NO_CHILDREN: TreeNode[] = [];

export function leaf(
  kind: Exclude<TreeKind, 'object' | 'list'>,
  value: TreeNode['value'],
  start: number,
  end: number,
): TreeNode {
  return node(kind, start, end, NO_CHILDREN, value);
}

export function branch(kind: 'object' | 'list', start: number, end: number): TreeNode {
  return node(kind, start, end, [], null);
}

function node(kind: TreeKind, start: number, end: number, children: TreeNode[], value: TreeNode['value']): TreeNode {
  return {
    kind,
    start,
    end,
    parent: null,
    key: '',
    keyStart: -1,
    keyEnd: -1,
    position: 0,
    children,
    value,
    tag: '',
  };
}

/** Puts `child` under `parent`; `key` and its place only for objects. */
export function adopt(parent: TreeNode, child: TreeNode, key = '', keyStart = -1, keyEnd = -1): void {
  child.parent = parent;
  child.key = key;
  child.keyStart = keyStart;
  child.keyEnd = keyEnd;
  child.position = parent.children.length;
  parent.children.push(child);
}

/** Objects with fewer members are looked through sooner than their names are gathered. */
const MANY = 32;
/** Members of large objects by name, the last one of each name, as far as they were gathered. */
const gathered = new WeakMap<TreeNode, { byName: Map<string, TreeNode>; count: number }>();

/** The member of an object by its name; the last one wins when a name stands twice, as JSON readers do. */
export function member(parent: TreeNode, name: string): TreeNode | undefined {
  if (parent.kind !== 'object') return undefined;
  if (parent.children.length > MANY) return memberOfMany(parent, name);
  for (let at = parent.children.length - 1; at >= 0; at--) {
    const child = parent.children[at];
    if (child?.key === name) return child;
  }
  return undefined;
}

function memberOfMany(parent: TreeNode, name: string): TreeNode | undefined {
  let known = gathered.get(parent);
  if (!known || known.count > parent.children.length) gathered.set(parent, (known = { byName: new Map(), count: 0 }));
  for (const child of parent.children.slice(known.count)) known.byName.set(child.key, child);
  known.count = parent.children.length;
  return known.byName.get(name);
}

/** The leaf's value as text; empty for nothing and for branches. */
export function textOf(found: TreeNode | undefined): string {
  if (!found || found.value === null) return '';
  return String(found.value);
}

/** A value as written back into facts: leaves as they are, branches as undefined. */
export function isLeaf(found: TreeNode): boolean {
  return found.kind !== 'object' && found.kind !== 'list';
}

/** What a tree stands for, as a plain value. */
export function plainValue(tree: TreeNode): unknown {
  if (tree.kind === 'list') return tree.children.map(plainValue);
  if (tree.kind === 'object') return Object.fromEntries(tree.children.map((child) => [child.key, plainValue(child)]));
  return tree.value;
}
