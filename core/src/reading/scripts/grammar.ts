import { Language as Grammar, Parser, type TreeCursor } from 'web-tree-sitter';
import type { Language } from '../plan/plan.js';
import type { ReadProblem } from '../tree/node.js';

/** Loads a file of grammars by its package path, e.g. `tree-sitter-python/tree-sitter-python.wasm`. */
export type LoadBinary = (path: string) => Promise<Uint8Array>;

const FILES: Record<Language, string> = {
  typescript: 'tree-sitter-typescript/tree-sitter-typescript.wasm',
  // The larger language reads the smaller one.
  javascript: 'tree-sitter-typescript/tree-sitter-tsx.wasm',
  lua: '@tree-sitter-grammars/tree-sitter-lua/tree-sitter-lua.wasm',
  csharp: 'tree-sitter-c-sharp/tree-sitter-c_sharp.wasm',
  python: 'tree-sitter-python/tree-sitter-python.wasm',
};

const parsers = new Map<Language, Parser>();
let started: Promise<void> | undefined;

/** Makes the parsers of `languages` ready. Must have resolved before a script of theirs is read. */
export async function prepareGrammars(languages: Iterable<Language>, load: LoadBinary): Promise<void> {
  started ??= load('web-tree-sitter/web-tree-sitter.wasm').then((wasmBinary) => Parser.init({ wasmBinary }));
  await started;
  for (const language of languages) {
    if (parsers.has(language)) continue;
    const parser = new Parser();
    parser.setLanguage(await Grammar.load(await load(FILES[language])));
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
export function parseScript(text: string, language: Language): { root: RawNode; problems: ReadProblem[] } {
  const parser = parsers.get(language);
  if (!parser) throw new Error(`the grammar of ${language} was not prepared`);
  const tree = parser.parse(text);
  if (!tree) throw new Error(`the ${language} parser gave up`);
  const cursor = tree.walk();
  try {
    const problems: ReadProblem[] = [];
    return { root: copyOut(cursor, tree.language, tree.rootNode.hasError, problems), problems };
  } finally {
    cursor.delete();
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

const kinds = new WeakMap<Grammar, { nodes: NodeKind[]; fields: string[] }>();

/**
 * Copies a tree out of the parser's memory, without recursion: code may nest deeply. Every question to the cursor
 * crosses into that memory, so only numbers are asked for, and nothing twice.
 */
function copyOut(cursor: TreeCursor, grammar: Grammar, hasFaults: boolean, problems: ReadProblem[]): RawNode {
  let known = kinds.get(grammar);
  if (!known) kinds.set(grammar, (known = { nodes: [], fields: [] }));
  const { nodes, fields } = known;
  const kindOf = (id: number): NodeKind =>
    (nodes[id] ??= { type: grammar.nodeTypeForId(id) ?? 'ERROR', isNamed: id > 65_000 || grammar.nodeTypeIsNamed(id) });
  const nodeOf = (type: string, field: number): RawNode => ({
    type,
    field: field === 0 ? '' : (fields[field] ??= grammar.fieldNameForId(field) ?? ''),
    start: cursor.startIndex,
    end: cursor.endIndex,
    children: [],
  });
  const root = nodeOf(cursor.nodeType, 0);
  const open = [root];
  if (!cursor.gotoFirstChild()) return root;
  for (;;) {
    const { type, isNamed } = kindOf(cursor.nodeTypeId);
    if (hasFaults && (type === 'ERROR' || cursor.nodeIsMissing)) {
      const message = type === 'ERROR' ? 'this cannot be read as code' : `“${type}” is missing here`;
      problems.push({ message, start: cursor.startIndex, end: Math.max(cursor.endIndex, cursor.startIndex) });
    }
    const field = cursor.currentFieldId;
    if (isNamed || field !== 0) {
      const node = nodeOf(type, field);
      open[open.length - 1].children.push(node);
      if (cursor.gotoFirstChild()) {
        open.push(node);
        continue;
      }
    }
    while (!cursor.gotoNextSibling()) {
      if (!cursor.gotoParent() || open.length === 1) return root;
      open.pop();
    }
  }
}

/** The child with this field. */
export function childOf(node: RawNode, field: string): RawNode | undefined {
  return node.children.find((child) => child.field === field);
}

/** The children of these types. */
export function childrenOf(node: RawNode, ...types: string[]): RawNode[] {
  return node.children.filter((child) => types.includes(child.type));
}
