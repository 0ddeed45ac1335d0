import type { Language } from '../plan/plan.js';
import { readCSharp } from './csharp/csharp.js';
import { readLua } from './lua/lua.js';
import { readPython } from './python/python.js';
import type { ScriptSyntax } from './syntax.js';
import { readTypeScript } from './typescript/typescript.js';

/** One folder per language. */
const READERS: Record<Language, (text: string) => ScriptSyntax> = {
  typescript: readTypeScript,
  javascript: (text) => readTypeScript(text, 'javascript'),
  lua: readLua,
  csharp: readCSharp,
  python: readPython,
};

/**
 * Brings a script into the one syntax that facts are taken from. Needs {@link prepareGrammars} to have resolved.
 * @throws RangeError when the code nests too deeply
 */
export function readScript(text: string, language: Language): ScriptSyntax {
  return READERS[language](text);
}
