/** Kinds of nodes of Lua, and texts as they are written. */
import { childOf, type RawNode } from '../grammar.js';
import type { Reader } from '../reader.js';
import type { TypeSyntax } from '../syntax.js';

export interface LuaReader extends Reader {
  /** Tables of the file that are types, by their names. */
  readonly types: Map<string, TypeSyntax>;
  /** Whether the code around has a `self` of its own. */
  hasSelf: boolean;
}

export function isCode({ type }: RawNode): boolean {
  return type !== 'comment';
}

/** What a text says, its escapes resolved. */
export function textOf(reader: LuaReader, node: RawNode): string {
  const content = childOf(node, 'content');
  if (!content) return '';
  const value = reader.write(content);
  return /^["']/.test(reader.write(node))
    ? value.replace(/\\([nrt\\"'])/g, (_whole, letter: string) => ({ n: '\n', r: '\r', t: '\t' })[letter] ?? letter)
    : value;
}
