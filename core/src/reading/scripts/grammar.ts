import { itemAt } from '../../helpers/at.js';
import { once } from '../../helpers/once.js';
import { Language as Grammar, Parser, type Tree } from 'web-tree-sitter';
import type { Language } from '../plan/plan.js';
import type { ReadProblem } from '../tree/node.js';
import type { CommentSyntax } from './syntax.js';

/** Loads a file of grammars by its package path, e.g. `tree-sitter-python/tree-sitter-python.wasm`. */
export type LoadBinary = (path: string) => Promise<Uint8Array>;

const parsers = new Map<Language, Parser>();
let started: Promise<void> | undefined;

/**
 * The parser's own functions on a cursor. They keep the cursor in one fixed place of the parser's memory, where it
 * stays from call to call as long as nothing else calls in between: several times quicker than its cursor objects,
 * which write the cursor there and read it back at every question.
 */
interface CursorFunctions {
  _ts_tree_root_node_wasm(tree: number): void;
  _ts_tree_cursor_new_wasm(tree: number): void;
  _ts_tree_cursor_delete_wasm(tree: number): void;
  _ts_tree_cursor_goto_first_child_wasm(tree: number): number;
  _ts_tree_cursor_goto_next_sibling_wasm(tree: number): number;
  _ts_tree_cursor_goto_parent_wasm(tree: number): number;
  _ts_tree_cursor_current_node_type_id_wasm(tree: number): number;
  _ts_tree_cursor_current_node_is_missing_wasm(tree: number): number;
  _ts_tree_cursor_current_field_id_wasm(tree: number): number;
  _ts_tree_cursor_start_index_wasm(tree: number): number;
  _ts_tree_cursor_end_index_wasm(tree: number): number;
}
let cursor: CursorFunctions;

/**
 * Makes the parsers of `languages` ready. Must have resolved before a script of theirs is read.
 * @param fileOf package path of a language's grammar
 */
export async function prepareParsers(
  languages: Iterable<Language>,
  fileOf: (language: Language) => string,
  load: LoadBinary,
): Promise<void> {
  started ??= load('web-tree-sitter/web-tree-sitter.wasm').then(async (wasmBinary) => {
    const options = { wasmBinary };
    await Parser.init(options);
    // The options object is the parser's module: it has received the functions.
    cursor = options as unknown as CursorFunctions;
  });
  await started;
  for (const language of languages) {
    if (parsers.has(language)) continue;
    const parser = new Parser();
    parser.setLanguage(await Grammar.load(await load(fileOf(language))));
    parsers.set(language, parser);
  }
}

/** A node of a parsed script, free of the parser's memory. */
export interface RawNode {
  type: string;
  /** The role the grammar gives it in its parent, empty if none. */
  field: string;
  start: number;
  end: number;
  /** Named nodes, and those unnamed ones that have a field (operators). */
  children: RawNode[];
}

/** Parses a script with error recovery. */
export function parseScript(
  text: string,
  language: Language,
): { root: RawNode; problems: ReadProblem[]; comments: CommentSyntax[] } {
  const parser = parsers.get(language);
  if (!parser) throw new Error(`the grammar of ${language} was not prepared`);
  const tree = parser.parse(text);
  if (!tree) throw new Error(`the ${language} parser gave up`);
  try {
    const problems: ReadProblem[] = [];
    const comments: CommentSyntax[] = [];
    return { root: copyOut(tree, tree.rootNode.hasError, problems, comments), problems, comments };
  } finally {
    tree.delete();
  }
}

/** Parses a script and throws the result away: the floor that the bench measures against. */
export function parseOnly(text: string, language: Language): void {
  parsers.get(language)?.parse(text)?.delete();
}

/** What the grammar says of a kind of node, looked up once. */
interface NodeKind {
  type: string;
  isNamed: boolean;
}

const kinds = once((_grammar: Grammar): { nodes: NodeKind[]; fields: string[] } => ({ nodes: [], fields: [] }));

/** Copies a tree out of the parser's memory, without recursion: code may nest deeply. */
function copyOut(tree: Tree, hasFaults: boolean, problems: ReadProblem[], comments: CommentSyntax[]): RawNode {
  const grammar = tree.language;
  const { nodes, fields } = kinds(grammar);
  const address = (tree as unknown as { 0: number })[0];
  const kindOf = (id: number): NodeKind =>
    (nodes[id] ??= { type: grammar.nodeTypeForId(id) ?? 'ERROR', isNamed: id > 65_000 || grammar.nodeTypeIsNamed(id) });
  const nodeOf = (type: string, field: number): RawNode => ({
    type,
    field: field === 0 ? '' : (fields[field] ??= grammar.fieldNameForId(field) ?? ''),
    start: cursor._ts_tree_cursor_start_index_wasm(address),
    end: cursor._ts_tree_cursor_end_index_wasm(address),
    children: [],
  });
  cursor._ts_tree_root_node_wasm(address);
  cursor._ts_tree_cursor_new_wasm(address);
  try {
    const root = nodeOf(kindOf(cursor._ts_tree_cursor_current_node_type_id_wasm(address)).type, 0);
    // Code that stops in the middle of a type has no root but the fault itself.
    if (hasFaults) noteFault(root.type, address, problems);
    const open = [root];
    if (!cursor._ts_tree_cursor_goto_first_child_wasm(address)) return root;
    for (;;) {
      const { type, isNamed } = kindOf(cursor._ts_tree_cursor_current_node_type_id_wasm(address));
      if (hasFaults) noteFault(type, address, problems);
      const field = cursor._ts_tree_cursor_current_field_id_wasm(address);
      // Some grammars take the own object for a mere word.
      if (isNamed || field !== 0 || type === 'this') {
        const node = nodeOf(type, field);
        if (type === 'comment') comments.push(node);
        itemAt(open, open.length - 1).children.push(node);
        if (cursor._ts_tree_cursor_goto_first_child_wasm(address)) {
          open.push(node);
          continue;
        }
      }
      while (!cursor._ts_tree_cursor_goto_next_sibling_wasm(address)) {
        if (!cursor._ts_tree_cursor_goto_parent_wasm(address) || open.length === 1) return root;
        open.pop();
      }
    }
  } finally {
    cursor._ts_tree_cursor_delete_wasm(address);
  }
}

function noteFault(type: string, address: number, problems: ReadProblem[]): void {
  if (type !== 'ERROR' && !cursor._ts_tree_cursor_current_node_is_missing_wasm(address)) return;
  const start = cursor._ts_tree_cursor_start_index_wasm(address);
  problems.push({
    message: type === 'ERROR' ? 'this cannot be read as code' : `“${type}” is missing here`,
    start,
    end: Math.max(cursor._ts_tree_cursor_end_index_wasm(address), start),
  });
}

/** The child with this field. */
export function childOf(node: RawNode, field: string): RawNode | undefined {
  return node.children.find((child) => child.field === field);
}

/** The children of these types. */
export function childrenOf(node: RawNode, ...types: string[]): RawNode[] {
  return node.children.filter((child) => types.includes(child.type));
}
