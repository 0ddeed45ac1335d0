import type { Source } from './plan/plan.js';
import { compileSelector } from './selector/select.js';
import { isLeaf, textOf, type TreeNode } from './tree/node.js';

/** The file's name without folders. */
export function baseName(path: string): string {
  return path.slice(path.lastIndexOf('/') + 1);
}

/** The file's name without folders and without endings: `tender.prefab.json` gives `tender`. */
export function stem(path: string): string {
  const base = baseName(path);
  const dot = base.indexOf('.', 1);
  return dot > 0 ? base.slice(0, dot) : base;
}

/** The folder of a path, empty for the project's root. */
export function folderOf(path: string): string {
  const slash = path.lastIndexOf('/');
  return slash < 0 ? '' : path.slice(0, slash);
}

const patterns = new Map<string, RegExp>();

/** The first group of `pattern` in `text`, or its whole match; undefined when it does not match. */
export function cut(text: string, pattern: string | undefined): string | undefined {
  if (pattern === undefined) return text;
  let expression = patterns.get(pattern);
  if (!expression) patterns.set(pattern, (expression = new RegExp(pattern, 'u')));
  const found = expression.exec(text);
  return found ? (found[1] ?? found[0]) : undefined;
}

/** A text found through a source, with the node it stands in (none for file names). */
export interface Found {
  text: string;
  node?: TreeNode;
}

/** Evaluates a source at a node; undefined when it finds nothing. */
export function findSource(source: Source | undefined, node: TreeNode | undefined, file: string): Found | undefined {
  if (!source) return undefined;
  let found: Found | undefined;
  if (source.file) found = { text: { path: file, name: baseName(file), stem: stem(file) }[source.file] };
  else if (!node) return undefined;
  else if (source.key) found = { text: keyOf(node), node };
  else {
    const [first] = compileSelector(source.select!)(node);
    if (first && isLeaf(first) && first.value !== null) found = { text: textOf(first), node: first };
    else if (first && !isLeaf(first) && first.tag && source.pattern) found = { text: first.tag, node: first };
  }
  if (!found) return undefined;
  const text = cut(found.text, source.pattern);
  return text === undefined ? undefined : { ...found, text };
}

/** The name a node stands under; in a list, the name the list stands under. */
function keyOf(node: TreeNode): string {
  let at: TreeNode | null = node;
  while (at && !at.key) at = at.parent;
  return at?.key ?? '';
}
