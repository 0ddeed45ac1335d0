import { itemAt } from '../../helpers/at.js';
import {
  isAlias,
  isMap,
  isScalar,
  isSeq,
  LineCounter,
  parseAllDocuments,
  type Alias,
  type Document,
  type Node,
  type Pair,
  type YAMLMap,
} from 'yaml';
import { adopt, branch, leaf, type ReadProblem, type Tree, type TreeNode } from './node.js';

/**
 * Aliases are read as copies of what they stand for. A file may grow by them to this many nodes and no further,
 * so that a few lines of nested aliases cannot fill the memory.
 */
const MOST_COPIED_NODES = 200_000;

/** Reads YAML 1.2, every document a tree of its own; faulty text still yields what could be read. */
export function readYaml(text: string): Tree {
  const problems: ReadProblem[] = [];
  const documents: TreeNode[] = [];
  // Tags are the team's own: an unknown one says something of the value and is no fault.
  const found = parseAllDocuments(text, {
    logLevel: 'silent',
    keepSourceTokens: false,
    // The parser compares each key with all before it: tables of texts have tens of thousands.
    uniqueKeys: false,
    lineCounter: new LineCounter(),
  });
  for (const document of Array.isArray(found) ? found : []) {
    for (const error of document.errors) {
      problems.push({ message: firstSentence(error.message), start: error.pos[0], end: error.pos[1] });
    }
    if (document.contents) documents.push(convert(document, problems, text.length));
  }
  return { documents, problems };
}

function firstSentence(message: string): string {
  // The parser tells of running out of stack as of any other fault.
  if (/call stack/.test(message)) return 'nested too deeply to be read';
  return itemAt(message.split('\n'), 0).replace(/ at line \d+, column \d+:?$/, '');
}

/** Turns the parser's nodes into ours. */
function convert(document: Document.Parsed, problems: ReadProblem[], length: number): TreeNode {
  const targets = aliasTargets(document.contents);
  let copied = 0;
  let full = false;

  const read = (from: Node | null, at: [number, number], inCopy: boolean): TreeNode => {
    // In faulty text the parser may point beyond its end.
    const within = (offset: number): number => Math.min(offset, length);
    const [start, end] = inCopy || !from?.range ? at : [within(from.range[0]), within(from.range[1])];
    if (inCopy && ++copied > MOST_COPIED_NODES) {
      if (!full) problems.push({ message: 'aliases stand for more than can be read', start, end });
      full = true;
      return leaf('nothing', null, start, end);
    }
    const tree = from === null ? leaf('nothing', null, start, end) : readNode(from, start, end, inCopy);
    if (from && !isAlias(from) && from.tag && !from.tag.startsWith('tag:yaml.org,2002:')) {
      tree.tag = from.tag.replace(/^!+/, '');
    }
    if (inCopy) tree.isCopy = true;
    return tree;
  };

  const readNode = (from: Node, start: number, end: number, inCopy: boolean): TreeNode => {
    if (isAlias(from)) return readAlias(from, start, end);
    if (isScalar(from)) return readScalar(from.value, start, end);
    if (isSeq<Node>(from)) {
      const list = branch('list', start, end);
      for (const item of from.items) adopt(list, read(item, [start, end], inCopy));
      return list;
    }
    if (isMap<Node, Node | null>(from)) {
      const object = branch('object', start, end);
      if (!inCopy) noteDoubles(from, problems);
      for (const pair of from.items) readPair(object, pair, [start, end], inCopy);
      return object;
    }
    return leaf('nothing', null, start, end);
  };

  const readPair = (object: TreeNode, pair: Pair<Node, Node | null>, at: [number, number], inCopy: boolean): void => {
    const name = isScalar(pair.key) ? String(pair.key.value ?? '') : String(pair.key ?? '');
    const [keyStart, keyEnd] = inCopy || !pair.key?.range ? [-1, -1] : [pair.key.range[0], pair.key.range[1]];
    const valueAt: [number, number] = keyEnd >= 0 ? [keyEnd, keyEnd] : at;
    const child = read(pair.value, valueAt, inCopy);
    if (name === '<<' && child.kind === 'object') {
      for (const merged of child.children) {
        if (!object.children.some((own) => own.key === merged.key)) adopt(object, merged, merged.key, keyStart, keyEnd);
      }
      return;
    }
    adopt(object, child, name, keyStart, keyEnd);
  };

  const readAlias = (alias: Alias, start: number, end: number): TreeNode => {
    const target = targets.get(alias);
    return target ? read(target, [start, end], true) : leaf('nothing', null, start, end);
  };

  return read(document.contents, [0, 0], false);
}

/** Notes keys that stand twice in one object: the standard forbids it. */
function noteDoubles({ items }: YAMLMap<Node, Node | null>, problems: ReadProblem[]): void {
  const seen = new Set<unknown>();
  for (const { key } of items) {
    if (!isScalar(key) || !key.range) continue;
    if (seen.has(key.value) && key.value !== '<<')
      problems.push({ message: 'Map keys must be unique', start: key.range[0], end: key.range[1] });
    seen.add(key.value);
  }
}

/** What each alias stands for: found in one walk, since the parser looks through the whole document for each. */
function aliasTargets(contents: Node | null): Map<Alias, Node> {
  const anchors = new Map<string, Node>();
  const targets = new Map<Alias, Node>();
  const walk = (node: Node | null): void => {
    if (isAlias(node)) {
      const target = anchors.get(node.source);
      if (target) targets.set(node, target);
      return;
    }
    if (isSeq<Node>(node)) node.items.forEach(walk);
    else if (isMap<Node, Node | null>(node))
      for (const { key, value } of node.items) {
        walk(key);
        walk(value);
      }
    // Known from its end on: within itself, an anchor stands for nothing.
    if (node && (isScalar(node) || isSeq(node) || isMap(node)) && node.anchor) anchors.set(node.anchor, node);
  };
  walk(contents);
  return targets;
}

function readScalar(value: unknown, start: number, end: number): TreeNode {
  if (value === null || value === undefined) return leaf('nothing', null, start, end);
  if (typeof value === 'number' || typeof value === 'bigint') return leaf('number', Number(value), start, end);
  if (typeof value === 'boolean') return leaf('boolean', value, start, end);
  return leaf('text', value instanceof Date ? value.toISOString() : String(value), start, end);
}
