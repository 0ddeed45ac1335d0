/** Pointing at a value in a structured file: what stands there, and the selectors that find its like. */
import type { Format } from '../reading/tree/read-tree.js';
import { readTree } from '../reading/tree/read-tree.js';
import { isLeaf, textOf, type TreeNode } from '../reading/tree/node.js';
import { compileSelector } from '../reading/selector/select.js';

export interface Pointed {
  /** The value as text. */
  value: string;
  /** Offsets of the value, 0-based UTF-16 units, the end exclusive. */
  start: number;
  end: number;
  /** The name it stands under, empty in lists. */
  key: string;
  /** Selects it and its like in the whole file. */
  selector: string;
  /** How many values the selector finds in this file. */
  alike: number;
  /** Selects the objects that hold such values, and the value seen from there. */
  holder: { selector: string; value: string };
  /** The objects around, from the nearest to the outermost: their selectors, and the value's holder seen from each. */
  around: { selector: string; way: string }[];
}

/** What stands at an offset of a text; undefined where no value does. */
export function pointAt(text: string, format: Format, offset: number): Pointed | undefined {
  for (const document of readTree(text, format).documents) {
    const node = leafAt(document, offset);
    if (node) return describe(node, document);
  }
  return undefined;
}

/** The value at an offset, or the one whose name stands there. */
function leafAt(document: TreeNode, offset: number): TreeNode | undefined {
  const open = [document];
  let found: TreeNode | undefined;
  for (let node = open.pop(); node; node = open.pop()) {
    const isHere = node.start <= offset && offset <= node.end;
    const isName = node.keyStart >= 0 && node.keyStart <= offset && offset <= node.keyEnd;
    if (isLeaf(node) && !node.isCopy && (isHere || isName) && (!found || isHere)) found = node;
    open.push(...node.children);
  }
  return found;
}

function describe(node: TreeNode, document: TreeNode): Pointed {
  const selector = selectorOf(node, document);
  const holder = node.parent ?? node;
  const around: Pointed['around'] = [];
  let way = '$';
  for (let at: TreeNode | null = holder; at && at.parent; at = at.parent) {
    if (at.kind === 'object') around.push({ selector: selectorOf(at, document), way });
    way = `$${stepOf(at)}${way.slice(1)}`;
  }
  return {
    value: textOf(node),
    start: node.start,
    end: node.end,
    key: node.key,
    selector,
    alike: compileSelector(selector)(document).length,
    holder: { selector: selectorOf(holder, document), value: node === holder ? '$' : `$${stepOf(node)}` },
    around,
  };
}

/** `.name`, `['a name']`, or `[*]` for a place in a list. */
function stepOf(node: TreeNode): string {
  if (node.parent?.kind === 'list') return '[*]';
  return /^[A-Za-z_]\w*$/.test(node.key) ? `.${node.key}` : `['${node.key.replace(/[\\']/g, '\\$&')}']`;
}

/**
 * A selector for a node and its like: places in lists become `[*]`; where lists of one name nest in each other, or
 * stand in several places, the search begins at that name wherever it is.
 */
function selectorOf(node: TreeNode, document: TreeNode): string {
  const steps: string[] = [];
  for (let at = node; at.parent; at = at.parent) steps.unshift(stepOf(at));
  if (steps.length === 0) return '$';
  const direct = `$${steps.join('')}`;
  const list = steps.lastIndexOf('[*]');
  if (list < 1 || steps[list - 1] === '[*]') return direct;
  const nested = `$.${steps.slice(list - 1).join('')}`;
  const isNested = steps.filter((step) => step === steps[list - 1]).length > 1;
  return isNested || compileSelector(nested)(document).length > compileSelector(direct)(document).length
    ? nested
    : direct;
}
