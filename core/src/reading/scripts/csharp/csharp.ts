/** Brings C# into the one syntax. */
import { createReader } from '../reader.js';
import type { ScriptSyntax } from '../syntax.js';
import { declaration } from './declarations.js';
import { EXPRESSIONS } from './expressions.js';
import { isCode, type CSharpReader } from './nodes.js';
import { STATEMENTS } from './statements.js';

export function readCSharp(text: string): ScriptSyntax {
  const tables = { statements: STATEMENTS, expressions: EXPRESSIONS, isCode };
  const reader = createReader<CSharpReader>(text, 'csharp', tables, {
    around: { members: new Set(), locals: new Set(), hasParents: false },
  });
  reader.root.children.forEach((node) => declaration(reader, node));
  return reader.script;
}
