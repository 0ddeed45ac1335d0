/** A file of plain functions as one type: its functions belong to what the file is attached to. */
import type { ScriptRule } from '../plan/plan.js';
import { stem } from '../source.js';
import type { ScriptSyntax, TypeSyntax } from './syntax.js';

/** The same script; one without classes whose rule says so has its functions in a type called as the file. */
export function asType(script: ScriptSyntax, path: string, { asType: isWanted, belongsTo }: ScriptRule): ScriptSyntax {
  const isFit = script.functions.length > 0 && !script.types.some(({ kind }) => kind === 'class');
  if (!isFit || !(isWanted ?? belongsTo !== undefined)) return script;
  const first = script.functions.reduce((a, b) => (b.start < a.start ? b : a));
  const type: TypeSyntax = {
    name: stem(path),
    nameStart: first.start,
    nameEnd: first.start,
    kind: 'class',
    parents: [],
    fields: [],
    functions: script.functions,
    decorators: [],
    isOpen: true,
    isFile: true,
    start: 0,
    end: script.functions.reduce((end, code) => Math.max(end, code.end), 0),
  };
  return { ...script, types: [...script.types, type], functions: [] };
}
