/** Brings Lua into the one syntax. A table that holds functions is a type; what it is made from is its parent. */
import { createReader } from '../reader.js';
import type { ScriptSyntax } from '../syntax.js';
import { findTypes, topLevel } from './declarations.js';
import { EXPRESSIONS } from './expressions.js';
import { isCode, type LuaReader } from './nodes.js';
import { STATEMENTS } from './statements.js';

export function readLua(text: string): ScriptSyntax {
  const tables = { statements: STATEMENTS, expressions: EXPRESSIONS, isCode };
  const reader = createReader<LuaReader>(text, 'lua', tables, { types: new Map(), hasSelf: false });
  findTypes(reader);
  reader.root.children.forEach((node) => topLevel(reader, node));
  reader.script.types = [...reader.types.values()];
  return reader.script;
}
