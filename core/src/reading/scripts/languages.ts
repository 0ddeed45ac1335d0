/** The script languages: adding one is a folder beside this file, and a line here and in the plan's `LANGUAGES`. */
import { once } from '../../helpers/once.js';
import type { Language } from '../plan/plan.js';
import { prepareParsers, type LoadBinary } from './grammar.js';
import { CSHARP } from './csharp/traits.js';
import { LUA } from './lua/traits.js';
import { PYTHON } from './python/traits.js';
import type { LanguageTraits } from './traits.js';
import { JAVASCRIPT, TYPESCRIPT } from './typescript/traits.js';

export const LANGUAGE: Record<Language, LanguageTraits> = {
  typescript: TYPESCRIPT,
  javascript: JAVASCRIPT,
  lua: LUA,
  csharp: CSHARP,
  python: PYTHON,
};

const wordsOf = once(({ ownFunctions }: LanguageTraits) => new Set(ownFunctions.split(' ')));

/** Whether a function that is called without a receiver may be the language's own. */
export function isOwnFunction(language: Language, name: string): boolean {
  return wordsOf(LANGUAGE[language]).has(name);
}

/** Makes the parsers of `languages` ready. Must have resolved before a script of theirs is read. */
export async function prepareGrammars(languages: Iterable<Language>, load: LoadBinary): Promise<void> {
  await prepareParsers(languages, (language) => LANGUAGE[language].grammar, load);
}
