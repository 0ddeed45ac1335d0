/** Brings TypeScript and JavaScript into the one syntax. */
import { createReader } from '../reader.js';
import type { ScriptSyntax } from '../syntax.js';
import { topLevel } from './declarations.js';
import { EXPRESSIONS } from './expressions.js';
import { isCode, type TypeScriptReader } from './nodes.js';
import { STATEMENTS } from './statements.js';

export function readTypeScript(text: string, language: 'typescript' | 'javascript' = 'typescript'): ScriptSyntax {
  const tables = { statements: STATEMENTS, expressions: EXPRESSIONS, isCode };
  const reader = createReader<TypeScriptReader>(text, language, tables, {});
  reader.root.children.forEach((node) => topLevel(reader, node, []));
  return reader.script;
}
