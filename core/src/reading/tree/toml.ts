import { itemAt } from '../../helpers/at.js';
import { ParseError, parseTOML, type AST } from 'toml-eslint-parser';
import { adopt, branch, leaf, member, type Tree, type TreeNode } from './node.js';

/** Reads TOML 1.0. Faulty text is read up to the fault, line by line, so that what stands before it counts. */
export function readToml(text: string): Tree {
  try {
    return { documents: [convert(parseTOML(text))], problems: [] };
  } catch (error) {
    if (!(error instanceof ParseError)) throw error;
    const index = Math.min(error.index, text.length);
    // A value that is missing is noticed only on the next line.
    const start = index > 0 && text[index - 1] === '\n' ? index - 1 : index;
    const problem = { message: error.message.replace(/\.$/, ''), start, end: start };
    const before = text.slice(0, text.lastIndexOf('\n', start - 1) + 1);
    const read = before ? readToml(before) : { documents: [branch('object', 0, 0)] };
    return { documents: read.documents, problems: [problem] };
  }
}

function convert(program: AST.TOMLProgram): TreeNode {
  const root = branch('object', program.range[0], program.range[1]);
  for (const entry of program.body[0].body) {
    if (entry.type === 'TOMLKeyValue') addPair(root, entry);
    else {
      const table = tableAt(root, entry);
      for (const pair of entry.body) addPair(table, pair);
    }
  }
  return root;
}

/** The object that a table's head names, made on the way; heads in double brackets add to a list. */
function tableAt(root: TreeNode, table: AST.TOMLTable): TreeNode {
  let at = root;
  const { keys } = table.key;
  keys.forEach((key, position) => {
    const isLast = position === keys.length - 1;
    let next = member(at, nameOf(key));
    if (isLast && table.kind === 'array') {
      if (!next) adopt(at, (next = branch('list', table.range[0], table.range[1])), nameOf(key), ...key.range);
      const item = branch('object', table.range[0], table.range[1]);
      adopt(next, item);
      next.end = item.end;
      at = item;
      return;
    }
    if (!next) adopt(at, (next = branch('object', table.range[0], table.range[1])), nameOf(key), ...key.range);
    at = next.kind === 'list' && next.children.length > 0 ? itemAt(next.children, next.children.length - 1) : next;
    at.end = Math.max(at.end, table.range[1]);
  });
  return at;
}

function addPair(parent: TreeNode, pair: AST.TOMLKeyValue): void {
  let at = parent;
  const { keys } = pair.key;
  for (const key of keys.slice(0, -1)) {
    let next = member(at, nameOf(key));
    if (!next) adopt(at, (next = branch('object', pair.range[0], pair.range[1])), nameOf(key), ...key.range);
    at = next;
  }
  const last = itemAt(keys, keys.length - 1);
  adopt(at, valueOf(pair.value), nameOf(last), ...last.range);
}

function nameOf(key: AST.TOMLBare | AST.TOMLQuoted): string {
  return key.type === 'TOMLBare' ? key.name : key.value;
}

function valueOf(node: AST.TOMLContentNode): TreeNode {
  const [start, end] = node.range;
  if (node.type === 'TOMLArray') {
    const list = branch('list', start, end);
    for (const element of node.elements) adopt(list, valueOf(element));
    return list;
  }
  if (node.type === 'TOMLInlineTable') {
    const object = branch('object', start, end);
    for (const pair of node.body) addPair(object, pair);
    return object;
  }
  if (node.kind === 'integer' || node.kind === 'float') return leaf('number', Number(node.value), start, end);
  if (node.kind === 'boolean') return leaf('boolean', node.value, start, end);
  return leaf('text', 'datetime' in node ? node.datetime : String(node.value), start, end);
}
