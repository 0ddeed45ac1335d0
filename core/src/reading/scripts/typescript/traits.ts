/** What TypeScript and JavaScript are like. */
import type { LanguageTraits } from '../traits.js';
import { readTypeScript } from './typescript.js';

const COMMON = {
  comments: /\/\/[^\n]*|\/\*[\s\S]*?\*\//,
  ownFunctions:
    'parseInt parseFloat isNaN isFinite encodeURIComponent decodeURIComponent encodeURI decodeURI setTimeout setInterval ' +
    'clearTimeout clearInterval queueMicrotask structuredClone requestAnimationFrame cancelAnimationFrame fetch require ' +
    'String Number Boolean BigInt Symbol Array Object Date Error RegExp Map Set Promise Function eval alert super import',
  membersOfEvery: /^(constructor|toString|valueOf|hasOwnProperty|prototype|name|length|call|apply|bind)$/,
  blocks: ['{', '\n}'] as const,
  areEntriesMembers: true,
  sharesFields: false,
  namesAreGlobal: false,
  opensNames: /\bmodule\.exports\b|\bexports\.|\bdefine\s*\(/,
  sees: 'imports' as const,
  hasExtensions: false,
  hasManyParents: false,
};

export const TYPESCRIPT: LanguageTraits = {
  ...COMMON,
  grammar: 'tree-sitter-typescript/tree-sitter-typescript.wasm',
  read: (text) => readTypeScript(text),
  fileEndings: ['ts'],
  isOpen: false,
  importEndings: ['', '.ts', '.tsx', '.js', '/index.ts'],
};

export const JAVASCRIPT: LanguageTraits = {
  ...COMMON,
  // The larger language reads the smaller one.
  grammar: 'tree-sitter-typescript/tree-sitter-tsx.wasm',
  read: (text) => readTypeScript(text, 'javascript'),
  fileEndings: ['js', 'mjs'],
  isOpen: true,
  importEndings: ['', '.js', '.mjs', '.cjs', '.jsx', '/index.js'],
};
