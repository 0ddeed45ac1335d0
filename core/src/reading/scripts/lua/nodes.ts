/** Kinds of nodes of Lua, and texts as they are written. */
import type { RawNode } from '../grammar.js';
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
