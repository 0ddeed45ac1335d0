/** What C# is like. */
import type { LanguageTraits } from '../traits.js';
import { readCSharp } from './csharp.js';

export const CSHARP: LanguageTraits = {
  grammar: 'tree-sitter-c-sharp/tree-sitter-c_sharp.wasm',
  read: readCSharp,
  fileEndings: ['cs'],
  comments: /\/\/[^\n]*|\/\*[\s\S]*?\*\//,
  ownFunctions: 'nameof typeof sizeof default checked unchecked',
  membersOfEvery: /^(ToString|Equals|GetHashCode|GetType|ReferenceEquals)$/,
  isOpen: false,
  blocks: ['{', '\n}'],
  areEntriesMembers: false,
  sharesFields: false,
  namesAreGlobal: false,
  opensNames: /(?!)/,
  sees: 'imports',
  hasExtensions: true,
  hasManyParents: false,
  // Names of namespaces lead to no file.
  importEndings: [],
};
