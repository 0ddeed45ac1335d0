import { compilePattern, groupNames, type Pattern } from '../../helpers/pattern.js';
import { once } from '../../helpers/once.js';
import type { LinesForm } from '../plan/plan.js';
import { adopt, branch, leaf, member, type Tree, type TreeNode } from './node.js';

/** A form with its patterns compiled. */
interface Form {
  skip: Pattern | undefined;
  kinds: {
    name: string;
    pattern: Pattern;
    groups: (string | undefined)[];
    holds: boolean;
    until: Pattern | undefined;
  }[];
  isIndented: boolean;
}

type Kind = Form['kinds'][number];

/** A record that holds what follows. */
interface Open {
  node: TreeNode;
  kind: Kind;
  indent: number;
}

const formOf = once(({ skip, kinds, nested }: LinesForm): Form => ({
  skip: skip === undefined ? undefined : compilePattern(skip),
  kinds: Object.entries(kinds).map(([name, { pattern, holds, until }]) => ({
    name,
    pattern: compilePattern(pattern),
    groups: groupNames(pattern),
    holds,
    until: until === undefined ? undefined : compilePattern(until),
  })),
  isIndented: nested === 'indent',
}));

/**
 * Reads a text of the team's own, line by line: each line is a record of the first kind whose pattern it matches, with a
 * member for each named group, in a list under the name of the kind. Lines that match none are passed over.
 */
export function readLines(text: string, form: LinesForm): Tree {
  const { skip, kinds, isIndented } = formOf(form);
  const root = branch('object', 0, text.length);
  let open: Open[] = [];
  for (const { 0: line, index: start } of text.matchAll(/[^\r\n]+/g)) {
    if (skip?.test(line) === true || line.trim() === '') continue;
    const indent = line.length - line.trimStart().length;
    if (isIndented) open = open.filter((one) => one.indent < indent);
    const block = open.findLastIndex(({ kind }) => kind.until);
    if (block >= 0 && open[block]?.kind.until?.test(line) === true) {
      stretch(open, start + line.length);
      open = open.slice(0, block);
      continue;
    }
    const kind = kinds.find(({ pattern }) => pattern.test(line));
    if (!kind) continue;
    if (kind.holds) open = beforeAnother(open, kind, block);
    const around = open.at(-1)?.node ?? root;
    const node = addRecord(around, kind, line, start);
    stretch(open, start + line.length);
    if (node && (kind.holds || kind.until || isIndented)) open = [...open, { node, kind, indent }];
  }
  return { documents: [root], problems: [] };
}

/** What stays open when another record of a kind begins: it ends the one before, within the innermost block. */
function beforeAnother(open: Open[], kind: Kind, block: number): Open[] {
  const same = open.findIndex((one, at) => at > block && one.kind === kind);
  return same < 0 ? open : open.slice(0, same);
}

function stretch(open: readonly Open[], end: number): void {
  for (const { node } of open) node.end = Math.max(node.end, end);
}

/** Adds a record, or, for groups called `key` and `value`, a member of what is around; gives what can hold others. */
function addRecord(
  around: TreeNode,
  { name, pattern, groups }: Kind,
  line: string,
  start: number,
): TreeNode | undefined {
  const match = pattern.first(line);
  const named = groups.flatMap((group, at) => {
    const found = match?.groups[at];
    return group !== undefined && found ? [{ group, text: found.text, from: start + found.at }] : [];
  });
  const key = named.find(({ group }) => group === 'key');
  const value = named.find(({ group }) => group === 'value');
  if (key && value) {
    adopt(around, leafOf(value), key.text, key.from, key.from + key.text.length);
    return undefined;
  }
  const node = branch('object', start, start + line.length);
  for (const one of named) adopt(node, leafOf(one), one.group);
  let list = member(around, name);
  if (!list) adopt(around, (list = branch('list', start, start)), name);
  adopt(list, node);
  list.end = node.end;
  return node;
}

function leafOf({ text, from }: { text: string; from: number }): TreeNode {
  return leaf('text', text, from, from + text.length);
}
