/** What a language is like, as far as anything but its reader asks: one of these beside each reader. */
import type { Sees } from '../plan/plan.js';
import type { ScriptSyntax } from './syntax.js';

export interface LanguageTraits {
  /** File of its grammar, by package path. */
  grammar: string;
  /** Brings a script into the one syntax. @throws RangeError when the code nests too deeply */
  read: (text: string) => ScriptSyntax;
  /** Endings of its files, without the dot. */
  fileEndings: readonly string[];
  comments: RegExp;
  /** Functions that it brings with it and that are called without a receiver, with spaces between. */
  ownFunctions: string;
  /** Members that every object has. */
  membersOfEvery: RegExp;
  /** Code may add members to an object at any time. */
  isOpen: boolean;
  /** What stands around a block of statements that may end with a comment; empty where only white space says it. */
  blocks: readonly [string, string];
  /** Entries of its tables are read as members: `Limits.harbour`. */
  areEntriesMembers: boolean;
  /** Fields of a type are what its objects start with. */
  sharesFields: boolean;
  /** A name that is given a value inside a function can be one for all files. */
  namesAreGlobal: boolean;
  /** Code by which a file may give names that are not written out. */
  opensNames: RegExp;
  /** As far as a name without a receiver is seen, unless the plan says: in the files taken in, or in the project. */
  sees: Sees;
  /** A function of any type may be called as if it were the own type's. */
  hasExtensions: boolean;
  /** A type may have several parents with code, so that one's call through to a parent may end in a sister. */
  hasManyParents: boolean;
  /** What is put behind the path of an import to find the file; none where imports name no files. */
  importEndings: readonly string[];
}
