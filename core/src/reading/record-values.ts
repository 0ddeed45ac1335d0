/** What a record says: values that those have from it which are derived from it. */
import type { RecordValue } from './facts.js';
import type { Lines } from './lines.js';
import type { Joins, ValueRule } from './plan/plan.js';
import { compileSelector } from './selector/select.js';
import { cut, cutAll, findSource } from './source.js';
import { isLeaf, textOf, type TreeNode } from './tree/node.js';

/** The values that a rule finds in a piece. */
export function readRecordValues(rule: ValueRule, piece: TreeNode, file: string, lines: Lines): RecordValue[] {
  const found: RecordValue[] = [];
  for (const node of compileSelector(rule.at)(piece)) {
    const joins = joinsAt(rule, node, file) ?? 'replaces';
    if (rule.named) {
      const name = findSource(rule.named, node, file)?.text;
      const value = rule.value ? findSource(rule.value, node, file)?.node : node;
      if (name) found.push(valueOf(rule, name, value ?? node, joins, lines));
    } else below(rule, node, isLeaf(node) ? node.key : '', joins, file, lines, found);
  }
  return found;
}

/** Every leaf, by its way down; what says how a value counts is none itself. */
function below(
  rule: ValueRule,
  node: TreeNode,
  way: string,
  joins: Joins,
  file: string,
  lines: Lines,
  found: RecordValue[],
): void {
  if (isLeaf(node)) {
    const name = cut(way, rule.called);
    if (name) found.push(valueOf(rule, name, node, joinsAt(rule, node, file) ?? joins, lines));
    return;
  }
  const said = rule.how?.select ? compileSelector(rule.how.select)(node)[0] : undefined;
  const own = joinsAt(rule, node, file) ?? joins;
  if (own === 'removes') {
    const name = cut(way, rule.called);
    if (name) found.push(valueOf(rule, name, node, own, lines));
    return;
  }
  // Elements of XML stand in lists under their tags: one alone needs no number.
  const isAlone = node.kind === 'list' && node.children.length === 1 && isElement(node.children[0]);
  const hasText = node.children.some(isElementText);
  node.children.forEach((child, at) => {
    if (child === said || (child.key === '#tag' && child.keyStart < 0)) return;
    // The text of an element is its value.
    const step = isElementText(child) || isAlone ? '' : node.kind === 'list' ? `[${at}]` : child.key;
    if (isElementText(child) && textOf(child).trim() === '') return;
    const joint = way !== '' && step !== '' && !step.startsWith('[') ? '.' : '';
    below(rule, child, way + joint + step, hasText && !isElementText(child) ? 'replaces' : own, file, lines, found);
  });
}

function isElementText({ key, keyStart }: TreeNode): boolean {
  return key === '#text' && keyStart < 0;
}

function isElement(node: TreeNode | undefined): boolean {
  return node?.children.some(({ key, keyStart }) => key === '#tag' && keyStart < 0) === true;
}

function joinsAt({ how, means }: ValueRule, node: TreeNode, file: string): Joins | undefined {
  const said = how && findSource(how, node, file)?.text;
  return said !== undefined && Object.hasOwn(means, said) ? means[said] : undefined;
}

function valueOf(rule: ValueRule, name: string, node: TreeNode, joins: Joins, lines: Lines): RecordValue {
  const leaf = isLeaf(node) ? node : node.children.find(isElementText);
  const value: RecordValue = {
    name,
    text: leaf ? textOf(leaf) : undefined,
    empty: leaf !== undefined && (leaf.kind === 'nothing' || leaf.value === ''),
    range: lines.range(node.start, node.end),
    joins,
  };
  if (rule.words !== undefined && leaf) {
    value.words = cutAll(textOf(leaf), rule.words, true).map(({ text }) => {
      const taken = rule.takes === undefined ? undefined : cut(text, rule.takes);
      return taken === undefined ? { text, takes: false } : { text: taken, takes: true };
    });
  }
  return value;
}
