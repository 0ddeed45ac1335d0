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
    return { root: copyOut(cursor, problems), problems };
  } finally {
    cursor.delete();
    tree.delete();
  }
}

/** Copies a tree out of the parser's memory, without recursion: code may nest deeply. */
function copyOut(cursor: TreeCursor, problems: ReadProblem[]): RawNode {
  const root = rawNode(cursor);
  const open = [root];
  if (!cursor.gotoFirstChild()) return root;
  for (;;) {
    const parent = open[open.length - 1];
    const type = cursor.nodeType;
    if (type === 'ERROR' || cursor.nodeIsMissing) {
      const what = type === 'ERROR' ? 'this cannot be read as code' : `“${type}” is missing here`;
      problems.push({ message: what, start: cursor.startIndex, end: Math.max(cursor.endIndex, cursor.startIndex) });
    }
    let entered = false;
    if (cursor.nodeIsNamed || cursor.currentFieldId !== 0) {
      const node = rawNode(cursor);
      parent.children.push(node);
      if (cursor.gotoFirstChild()) {
        open.push(node);
        entered = true;
      }
    }
    if (entered) continue;
    while (!cursor.gotoNextSibling()) {
      if (!cursor.gotoParent() || open.length === 1) return root;
      open.pop();
    }
  }
}

function rawNode(cursor: TreeCursor): RawNode {
  return {
    type: cursor.nodeType,
    field: cursor.currentFieldName ?? '',
    start: cursor.startIndex,
    end: cursor.endIndex,
    children: [],
  };
}

/** The child with this field. */
export function childOf(node: RawNode, field: string): RawNode | undefined {
  return node.children.find((child) => child.field === field);
}

/** The children of these types. */
export function childrenOf(node: RawNode, ...types: string[]): RawNode[] {
  return node.children.filter((child) => types.includes(child.type));
}
