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
import { readByLines, readTree, type Format } from './tree/read-tree.js';

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
    if (rule.script !== undefined) return [];
    return readHosts(name, rule, hostsIn(rule, documents, text), text, facts, lines);
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

/** Rules without a format are for code; text of the team's own has its lines. */
function formatOf({ format }: EmbeddedRule): Format {
  return format === undefined || format === 'lines' ? 'json' : format;
}

function hostsIn({ at }: EmbeddedRule, documents: readonly TreeNode[], text: string): Host[] {
  // Without a selector the file's own text is looked through, as it is written.
  if (at === undefined) return [{ text, offsetOf: (offset) => offset }];
  return documents
    .flatMap((document) => compileSelector(at)(document))
    .filter((node) => isLeaf(node) && node.kind === 'text')
    .map((node) => hostOf(node, text));
}

/** The code inside a file, one stretch below the other, with where in the file each of its letters stands. */
export interface CodeInside {
  /** The rule under `scripts` that reads it. */
  script: string;
  text: string;
  /** Offset in the file of each UTF-16 unit of the text, and of its end. */
  offsets: Int32Array;
  /** Where each stretch stands in the text. */
  stretches: { start: number; end: number }[];
}

/**
 * The code in texts of a file; undefined when there is none. Only one rule under `scripts` can read a file's code.
 * @param around what is put around each stretch, so that what one returns ends no other
 */
export function codeIn(
  rules: Readonly<Record<string, EmbeddedRule>>,
  documents: readonly TreeNode[],
  text: string,
  around: (script: string) => readonly [string, string],
): CodeInside | undefined {
  const ofCode = Object.values(rules).filter(({ script }) => script !== undefined);
  const script = ofCode[0]?.script;
  if (script === undefined) return undefined;
  const [open, close] = around(script);
  const [parts, offsets, stretches]: [string[], number[], CodeInside['stretches']] = [[], [], []];
  const put = (words: string, offsetOf: (unit: number) => number): void => {
    parts.push(words);
    for (let unit = 0; unit < words.length; unit++) offsets.push(offsetOf(unit));
  };
  for (const rule of ofCode) {
    if (rule.script !== script) continue;
    for (const { text: whole, offsetOf } of hostsIn(rule, documents, text)) {
      for (const { text: code, at } of cutAll(whole, rule.pattern, true)) {
        if (code.trim() === '') continue;
        put(open, () => offsetOf(at));
        const start = offsets.length;
        put(code, (unit) => offsetOf(at + unit));
        stretches.push({ start, end: offsets.length });
        put(`${close}\n`, () => offsetOf(at + code.length));
      }
    }
  }
  offsets.push(offsets.at(-1) ?? 0);
  return { script, text: parts.join(''), offsets: Int32Array.from(offsets), stretches };
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
      const tree = rule.lines ? readByLines(inner, rule.lines) : readTree(inner, formatOf(rule), rule.columns);
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
