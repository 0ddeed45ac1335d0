/** What C# is like. */
import type { LanguageTraits } from '../traits.js';
import { readCSharp } from './csharp.js';

export const CSHARP: LanguageTraits = {
  grammar: 'tree-sitter-c-sharp/tree-sitter-c_sharp.wasm',
  read: readCSharp,
  fileEndings: ['cs'],
  comments: /\/\/[^\n]*|\/\*[\s\S]*?\*\//,
  // A call without receiver is one of the own type or of an outer one: every name counts as known.
  ownFunctions: 'any',
  membersOfEvery: /^(ToString|Equals|GetHashCode|GetType|ReferenceEquals)$/,
  isOpen: false,
  areEntriesMembers: false,
  hasExtensions: true,
  // Names of namespaces lead to no file.
  importEndings: [],
};
