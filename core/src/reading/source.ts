import { compilePattern, type Match, type Pattern } from '../helpers/pattern.js';
import { must } from '../helpers/at.js';
import type { Condition, Source } from './plan/plan.js';
import { compileSelector } from './selector/select.js';
import { isLeaf, textOf, type TreeNode } from './tree/node.js';

const MEDIA =
  /\.(?:png|jpe?g|gif|bmp|tga|dds|webp|svg|ico|ogg|oga|opus|wav|mp3|flac|mid|ttf|otf|woff2?|glb|bin|mp4|webm|ogv)$/i;

/** Whether a file is, by its ending, a picture, a sound or the like: such files are only listed. */
export function isMediaName(path: string): boolean {
  return MEDIA.test(path);
}

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

/** Expressions by their pattern; their matches tell where each group stands. */
const patterns = new Map<string, Pattern>();

/** The first group of `pattern` in `text`, or its whole match; undefined when it does not match. */
export function cut(text: string, pattern: string | undefined): string | undefined {
  if (pattern === undefined) return text;
  const found = patternFor(pattern).first(text);
  return found && cutOf(found).text;
}

/** A part of a text that a pattern cut out. */
export interface Cut {
  text: string;
  /** The second group, when the pattern has one and it matched. */
  inner?: string;
  /** Offset of `text` in the whole text. */
  at: number;
}

/** All parts that a pattern cuts out of a text, or only the first one. */
export function cutAll(text: string, pattern: string | undefined, every: boolean): Cut[] {
  if (pattern === undefined) return [{ text, at: 0 }];
  const compiled = patternFor(pattern);
  if (every) return compiled.all(text).map(cutOf);
  const match = compiled.first(text);
  return match ? [cutOf(match)] : NO_CUTS;
}

const NO_CUTS: Cut[] = [];

function cutOf(match: Match): Cut {
  const [first, second] = match.groups;
  const { text, at } = first ?? match;
  return { text, inner: second?.text, at };
}

function patternFor(source: string): Pattern {
  let pattern = patterns.get(source);
  if (!pattern) patterns.set(source, (pattern = compilePattern(source)));
  return pattern;
}

/** A text found through a source, with the node it stands in (none for file names). */
export interface Found {
  text: string;
  node?: TreeNode;
}

/**
 * Evaluates a source at a node; undefined when it finds nothing.
 * @param around the piece around the node, or the document: where lists of items are looked for
 */
export function findSource(
  source: Source | undefined,
  node: TreeNode | undefined,
  file: string,
  around: TreeNode | undefined = node,
): Found | undefined {
  if (!source) return undefined;
  const found = findOne(source, node, file, around);
  const text = found && cut(found.text, source.pattern);
  if (found && text !== undefined) return { ...found, text };
  for (const other of source.or ?? []) {
    const next = findSource(other, node, file, around);
    if (next) return next;
  }
  return undefined;
}

function findOne(
  source: Source,
  node: TreeNode | undefined,
  file: string,
  around: TreeNode | undefined,
): Found | undefined {
  if (source.file) return { text: { path: file, name: baseName(file), stem: stem(file) }[source.file] };
  if (source.text !== undefined) return { text: source.text, node };
  if (source.join) {
    const parts = source.join.map((one) => findSource(one, node, file, around));
    const known = parts.filter((part) => part !== undefined);
    return known.length === parts.length
      ? { text: known.map(({ text }) => text).join(''), node: known.find((part) => part.node)?.node ?? node }
      : undefined;
  }
  if (!node) return undefined;
  if (source.key) return { text: keyOf(node), node };
  if (source.index) return { text: String(node.position), node };
  const [first] = compileSelector(must(source.select))(node);
  if (!first) return undefined;
  if (!isLeaf(first)) return first.tag && source.pattern ? { text: first.tag, node: first } : undefined;
  if (first.value === null) return undefined;
  if (!source.item) return { text: textOf(first), node: first };
  const item = around && compileSelector(source.item)(around)[Number(textOf(first))];
  return item && isLeaf(item) ? { text: textOf(item), node: first } : undefined;
}

/** Whether a condition holds at a node; one that is not given always holds. */
export function holds(
  condition: Condition | undefined,
  node: TreeNode | undefined,
  file: string,
  around?: TreeNode,
): boolean {
  if (!condition) return true;
  const found = findSource(condition.field, node, file, around);
  return found !== undefined && condition.is.includes(found.text);
}

/** The name a node stands under; in a list, the name the list stands under. */
function keyOf(node: TreeNode): string {
  let at: TreeNode | null = node;
  while (at && !at.key) at = at.parent;
  return at?.key ?? '';
}
