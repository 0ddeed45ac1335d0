/** Finds what a change is about in the trees of a file's text. */
import type { TreeNode } from '../reading/tree/node.js';

/** A stretch of a text: 0-based UTF-16 units, the end exclusive. */
export interface Stretch {
  start: number;
  end: number;
}

/** Every node that stands in the text itself, parents before their children. */
function* nodesOf(documents: readonly TreeNode[]): Generator<TreeNode> {
  const open = [...documents];
  for (let node = open.pop(); node; node = open.pop()) {
    if (node.isCopy) continue;
    yield node;
    open.push(...node.children);
  }
}

/** The node whose value, or whose name, stands exactly at a stretch. */
export function nodeAt(documents: readonly TreeNode[], { start, end }: Stretch): TreeNode | undefined {
  for (const node of nodesOf(documents))
    if (node.parent && ((node.start === start && node.end === end) || (node.keyStart === start && node.keyEnd === end)))
      return node;
  return undefined;
}

/** The leaf whose value holds a stretch, or the node whose name does. */
export function holderOf(
  documents: readonly TreeNode[],
  { start, end }: Stretch,
): { node: TreeNode; isName: boolean } | undefined {
  for (const node of nodesOf(documents)) {
    if (!node.parent) continue;
    if (node.keyStart >= 0 && node.keyStart <= start && end <= node.keyEnd) return { node, isName: true };
    if (node.children.length === 0 && node.start <= start && end <= node.end) return { node, isName: false };
  }
  return undefined;
}

/** The innermost object around an offset. */
export function objectAround(documents: readonly TreeNode[], offset: number, isToml: boolean): TreeNode | undefined {
  let found: TreeNode | undefined;
  const open = [...documents];
  for (let node = open.pop(); node; node = open.pop()) {
    if (node.isCopy || node.start > offset || node.end < offset) {
      // Lists of XML elements and tables of TOML have no place of their own.
      if (node.kind === 'list' || isToml) open.push(...node.children);
      continue;
    }
    if (node.kind === 'object' && (!found || node.start >= found.start)) found = node;
    open.push(...node.children);
  }
  return found;
}
