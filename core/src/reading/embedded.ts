/** Documents inside others: in a text of a structured file, or in a comment of a script. */
import { insideContent } from './plan/content.js';
import type { EmbeddedRule } from './plan/plan.js';
import type { FileFacts } from './facts.js';
import type { Lines } from './lines.js';
import { readContent } from './read-data.js';
import { compileSelector } from './selector/select.js';
import { cutAll } from './source.js';
import { alignedOffsets } from './tree/align.js';
import { isLeaf, textOf, type ReadProblem, type TreeNode } from './tree/node.js';
import { readByLines, readTree } from './tree/read-tree.js';

/** A text that may hold documents, and where in the file each of its letters stands. */
interface Host {
  text: string;
  /** Offset in the file of an offset in the text. */
  offsetOf: (at: number) => number;
}

/** Reads what is embedded in texts of trees. */
export function readInTrees(
  rules: Readonly<Record<string, EmbeddedRule>>,
  documents: readonly TreeNode[],
  text: string,
  facts: FileFacts,
  lines: Lines,
): ReadProblem[] {
  return Object.entries(rules).flatMap(([name, rule]) => {
    const leaves = documents.flatMap((document) => compileSelector(rule.at ?? '$..*')(document).filter(isLeaf));
    return readHosts(
      name,
      rule,
      leaves.filter(({ kind }) => kind === 'text').map((node) => hostOf(node, text)),
      text,
      facts,
      lines,
    );
  });
}

/** Reads what is embedded in comments. */
export function readInComments(
  rules: Readonly<Record<string, EmbeddedRule>>,
  comments: readonly { start: number; end: number }[],
  text: string,
  facts: FileFacts,
  lines: Lines,
): ReadProblem[] {
  const hosts = comments.map(({ start, end }): Host => ({
    text: text.slice(start, end),
    offsetOf: (at) => start + at,
  }));
  return Object.entries(rules).flatMap(([name, rule]) => readHosts(name, rule, hosts, text, facts, lines));
}

function hostOf(node: TreeNode, text: string): Host {
  const said = textOf(node);
  const { start, end } = node;
  let offsets: Int32Array | undefined;
  let isAsked = false;
  return {
    text: said,
    offsetOf(at) {
      if (!isAsked) offsets = alignedOffsets(text.slice(start, end), said);
      isAsked = true;
      // Where letters cannot be told one by one, the whole text is the place.
      return offsets ? start + (offsets[at] ?? end - start) : at === 0 ? start : end;
    },
  };
}

function readHosts(
  name: string,
  rule: EmbeddedRule,
  hosts: readonly Host[],
  text: string,
  facts: FileFacts,
  lines: Lines,
): ReadProblem[] {
  const problems: ReadProblem[] = [];
  const trees = hosts.flatMap(({ text: whole, offsetOf }) =>
    cutAll(whole, rule.pattern, true).flatMap(({ text: inner, at }) => {
      if (inner.trim() === '') return [];
      const tree = rule.lines
        ? readByLines(inner, rule.lines)
        : readTree(inner, rule.format === 'lines' ? 'json' : rule.format, rule.columns);
      const place = (offset: number): number => offsetOf(at + offset);
      for (const { message, start, end } of tree.problems)
        problems.push({ message: `${message} (in “${name}”)`, start: place(start), end: place(end) });
      tree.documents.forEach((document) => shift(document, place));
      return tree.documents;
    }),
  );
  readContent(trees, text, facts, insideContent('embedded', name, rule), lines);
  return problems;
}

/** Moves a tree to where it stands in the file. */
function shift(top: TreeNode, place: (offset: number) => number): void {
  const open = [top];
  for (let node = open.pop(); node; node = open.pop()) {
    node.start = place(node.start);
    node.end = place(node.end);
    if (node.keyStart >= 0) [node.keyStart, node.keyEnd] = [place(node.keyStart), place(node.keyEnd)];
    open.push(...node.children);
  }
}
