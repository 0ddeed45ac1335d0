/** Brings Python into the one syntax. */
import { createReader } from '../reader.js';
import type { ScriptSyntax } from '../syntax.js';
import { topLevel } from './declarations.js';
import { EXPRESSIONS } from './expressions.js';
import { isCode, type PythonReader } from './nodes.js';
import { STATEMENTS } from './statements.js';

export function readPython(text: string): ScriptSyntax {
  const tables = { statements: STATEMENTS, expressions: EXPRESSIONS, isCode };
  const reader = createReader<PythonReader>(text, 'python', tables, { selves: [] });
  reader.root.children.forEach((node) => topLevel(reader, node, []));
  return reader.script;
}
