/** Functions that a script language brings with it and that are called without a receiver. */
import type { Language } from '../plan/plan.js';

const JAVASCRIPT =
  'parseInt parseFloat isNaN isFinite encodeURIComponent decodeURIComponent encodeURI decodeURI setTimeout setInterval ' +
  'clearTimeout clearInterval queueMicrotask structuredClone requestAnimationFrame cancelAnimationFrame fetch require ' +
  'String Number Boolean BigInt Symbol Array Object Date Error RegExp Map Set Promise Function eval alert super import';
const WORDS: Record<Exclude<Language, 'typescript' | 'csharp'>, string> = {
  javascript: JAVASCRIPT,
  lua:
    'assert collectgarbage dofile error getmetatable ipairs load loadfile loadstring next pairs pcall print rawequal ' +
    'rawget rawlen rawset require select setmetatable tonumber tostring type unpack xpcall setfenv getfenv module',
  python:
    'abs aiter all anext any ascii bin bool breakpoint bytearray bytes callable chr classmethod compile complex ' +
    'delattr dict dir divmod enumerate eval exec filter float format frozenset getattr globals hasattr hash help hex ' +
    'id input int isinstance issubclass iter len list locals map max memoryview min next object oct open ord pow print ' +
    'property range repr reversed round set setattr slice sorted staticmethod str sum super tuple type vars zip ' +
    '__import__ Exception ValueError TypeError KeyError IndexError RuntimeError NotImplementedError AttributeError',
};

/**
 * Tells the functions of a language from those of the project. In C# a call without receiver is one of the own type
 * or of an outer one: there every name counts as known.
 */
export function ownFunctions(language: Language): (name: string) => boolean {
  if (language === 'csharp') return () => true;
  const words = new Set(WORDS[language === 'typescript' ? 'javascript' : language].split(' '));
  return (name) => words.has(name);
}
