/** Facts: what one file says, taken from the file and the plan alone. Plain data, so that it can be stored and sent. */
import type { Grip, Moment, Scope, Side, Verb } from '../model/link.js';
import type { Waived } from '../model/finding.js';
import type { PieceKind, Range } from '../model/piece.js';
import type { Role } from './plan/call-pattern.js';
import type { Joins, Language } from './plan/plan.js';
import type { GivenNames } from './scripts/syntax.js';

/** Raised whenever facts change their shape or meaning: stored facts of another version are read anew. */
export const FACTS_VERSION = 18;

export interface FileFacts {
  file: string;
  /** The rule that read it: its name under `files` or `scripts` in the plan. */
  rule: string;
  kind: PieceKind;
  name: string;
  id: string;
  /** Where the file's own identity or head stands. */
  range: Range;
  pieces: PieceFact[];
  references: ReferenceFact[];
  events: EventFact[];
  connections: ConnectionFact[];
  attachments: AttachmentFact[];
  /** The files this one is derived from, in order. */
  extends?: Written[];
  /** For packages: the version, and what they need. */
  package?: { version: string; needs: NeedFact[] };
  /** Links that a glue facts file gives directly. */
  given: GivenLink[];
  script?: ScriptFacts;
  /** All that a data asset says, unless it is long. */
  leaves?: LeafFacts;
  problems: ProblemFact[];
  /** Lines that waive what is found there. */
  waivers?: WaiverMark[];
  /** What is odd, though all of it was read. */
  notes?: ProblemFact[];
  /**
   * For a file that could not be read whole: its text, in which what was passed over still stands. Empty when it ends
   * before its end, so that anything may be missing, and when it is too long to be kept.
   */
  unread?: string;
}

/** A line in a file that waives what is found there. */
export interface WaiverMark extends Waived {
  line: number;
  /** The check that is meant; any when it says none. */
  check?: string;
}

/** The values of a file, in the order of the text. */
export interface LeafFacts {
  /** The way to each, as `steps[0].text`, all in one text with a line for each: files of one shape have the same. */
  ways: string;
  texts: string[];
  lines: number[];
}

/** A part of a file that could not be read. */
export interface ProblemFact {
  message: string;
  range: Range;
}

/** A text as written, with its place. */
export interface Written {
  text: string;
  range: Range;
}

export interface PieceFact {
  rule: string;
  kind: PieceKind;
  name: string;
  id: string;
  /** Position in `pieces` of the piece around it, or -1 for the file itself. */
  parent: number;
  /** Id, name or index of the parent where a field says so and no nesting does. */
  parentNamed?: string;
  /** Ids, names or indexes of children, where the piece itself lists them. */
  children?: string[];
  /** Position in its list, 0-based. */
  index: number;
  madeFrom?: Written;
  extends?: Written[];
  /** What it says itself, and what is derived from it has from it. */
  values?: RecordValue[];
  parts: PartFact[];
  overrides?: OverrideFact[];
  labels?: Written[];
  /** Switched off at the start. */
  isOff?: true;
  /** A mode bars scripting. */
  isBarred?: true;
  /** It keeps its state over scene changes. */
  isKept?: true;
  details?: Record<string, string>;
  /** Further names, of each that it stands for. */
  alsoCalled?: string[];
  /** It stands for one that is written elsewhere in the file. */
  isCopy?: true;
  /** The space of its identity, where the file itself says so. */
  space?: string;
  /** Where it is really written, when that is another file. */
  file?: string;
  range: Range;
}

/** What an instance changes of its prefab. */
export interface OverrideFact {
  /** Position of the rule in the piece rule's `overrides`. */
  rule: number;
  /** Names the object inside the instance; empty for the instance itself. */
  on: string;
  /** Type of the part, or empty. */
  part: string;
  values: ValueFact[];
  /** Positions in `pieces` of objects that it adds. */
  adds: number[];
  range: Range;
}

/** A connection between two pieces of one file. */
export interface ConnectionFact {
  rule: string;
  /** Id, name or index; empty: the piece it is written in. */
  from: string;
  to: string;
  label: string;
  piece: number;
  range: Range;
}

/** An entry of a table that says which script runs where. */
export interface AttachmentFact {
  rule: string;
  script: Written;
  to?: Written;
}

export interface NeedFact extends Written {
  version: string;
}

/** A link given as it is, between pieces named by their identities. */
export interface GivenLink {
  from: string;
  /** Empty for a link that leads nowhere. */
  to: string;
  /** Which pieces of these identities are meant. */
  fromIs?: { kind?: PieceKind; space?: string };
  toIs?: { kind?: PieceKind; space?: string };
  verb: Verb;
  grip: Grip;
  scope: Scope;
  moment: Moment;
  side: Side;
  label: string;
  /** Where it is written, in the team's own files. */
  file: string;
  range: Range;
}

export interface PartFact {
  /** Position of the rule in the piece rule's `parts`. */
  rule: number;
  type: string;
  script?: Written;
  values: ValueFact[];
  range: Range;
}

/** A saved value of an exposed field. */
export interface ValueFact {
  name: string;
  /** The value as text; undefined for lists and objects. */
  text?: string;
  /** Nothing is saved here: null, or a text the plan calls empty. */
  empty: boolean;
  range: Range;
}

/** A value of a record. */
export interface RecordValue extends ValueFact {
  joins: Joins;
  /** For lists of words: each, and whether it takes one away. */
  words?: { text: string; takes: boolean }[];
}

export interface ReferenceFact extends Written {
  /** Name of the reference rule under the file's rule. */
  rule: string;
  /** Position in `pieces`, or -1 for the file itself. */
  piece: number;
  /** Position in that piece's `parts` (behind them: in its `overrides`), or -1. */
  part: number;
  /** The piece inside the file, where the text names both. */
  inner?: string;
  /** For functions: the script or type that has it, as another field names it. */
  holder?: string;
  /** Its text is put together from several, so that it stands nowhere as it is. */
  isJoined?: true;
  /** It stands in a copy of what is written elsewhere in the file: reported there. */
  isCopy?: true;
  /** It is a name in code, which may be a variable: where it leads nowhere, it is not known what it stands for. */
  isName?: true;
  /** The exposed field or key it stands under. */
  field: string;
}

export interface EventFact {
  rule: string;
  event: string;
  from: string;
  to: string;
  handler: string;
  /** Where the handler and the ends are written. */
  handlerAt?: Range;
  fromAt?: Range;
  toAt?: Range;
  /** What names the script or type that has the handler. */
  holder?: string;
  /** Place in the order in which listeners are told, as written. */
  order?: string;
  /** Piece the wire is written in, or -1 for the file itself. */
  piece: number;
  range: Range;
}

// Scripts -----------------------------------------------------------------------------------------------------------

export interface ScriptFacts {
  language: Language;
  /** The rule under `scripts` that reads it, where that is not the file's own: for code inside another file. */
  rule?: string;
  types: TypeFact[];
  functions: FunctionFact[];
  operations: Operation[];
  /** Calls of functions that stand in other files, with what they are given. */
  handed: HandedCall[];
  /** What the code itself puts into fields of its own type. */
  fieldValues: FieldValue[];
  /** Names of members that the code sets on other objects, and of those that it reads on them. */
  memberWrites: string[];
  memberReads: string[];
  /** Names under which tables in the code hold something: an object may be made from such a table. */
  tableKeys: string[];
  /** Tables that hold a number under each of at least three names. */
  tables: TableFact[];
  /** Tables that the plan means as documents and that have a name. */
  namedTables: NamedTable[];
  /** Members of tables under a name that code uses; each once for each type of the script. */
  tableUses: TableUse[];
  /** Fields of the own object that are used without asking whether they hold anything: each once for each type. */
  fieldReads: { type: number; field: string; function: number; range: Range }[];
  /** What the code does with flags of its own types: each once for each function and way. */
  flagUses: FlagUse[];
  /** What the code does with things it found or holds in a field: each once for each function and way. */
  touches: Touch[];
  /** Texts under a name that other scripts can use: `Bells.rung`, `DEPTH`. */
  constants: { name: string; text: string }[];
  /** Texts and names that stand anywhere but as the event of a send or listener: something unseen may use them. */
  mentions: string[];
  /** Texts that are references by themselves. */
  literals: LiteralFact[];
  /** Members of types that the code uses, where it says which type it is; each once for each type of the script. */
  uses: MemberUse[];
  imports: { from: string; names: { name: string; as: string }[]; range: Range }[];
  /** Names that other files can take from it, or see when it is loaded together with them. */
  gives: GivenNames;
  /** On which side code outside of functions runs. */
  side: Side;
  /** Functions called without a receiver that the file neither defines nor takes from another; each once. */
  strangers: { name: string; type: number; range: Range }[];
}

export interface MemberUse {
  /** Name of the type whose member it is; the own type for members that it has from a parent. */
  of: string;
  member: string;
  how: 'reads' | 'writes' | 'calls';
  /** Position of the operation that gives the object it is a member of; `of` is empty then. */
  spawned?: number;
  /** Position in `types` of the code's own type, or -1. */
  type: number;
  /** The condition in which it is read, as written. */
  asks?: string;
  /** For what is set to a truth value. */
  to?: 'on' | 'off';
  /** Position in `functions`, or -1. */
  function: number;
  range: Range;
}

/** A flag of the own type that is looked at or set. */
export interface FlagUse {
  /** Position in `types`. */
  type: number;
  field: string;
  /** Position in `functions`, or -1. */
  function: number;
  how: 'reads' | 'writes';
  /** The condition in which it is read, as written. */
  asks?: string;
  /** What it is set to, where the code says so. */
  to?: 'on' | 'off';
  range: Range;
}

/** A member that the code uses on something that it found or holds. */
export interface Touch {
  on: Extract<Value, { is: 'operation' | 'field' }>;
  member: string;
  how: 'reads' | 'writes' | 'calls';
  /** It sets something, or calls for what the call does: nothing uses its result. */
  isDriving: boolean;
  /** The plan says what the call does to it: it changes the thing, and asks nothing of it. */
  isAct?: true;
  /** The same function, or one that calls it, asks before whether the thing is there. */
  isAsked: boolean;
  /** The condition in which it is read, as written. */
  asks?: string;
  function: number;
  type: number;
  range: Range;
}

export interface LiteralFact extends Written {
  /** Name of the rule under the plan's `literals`. */
  rule: string;
  /** Position in `functions`, or -1 for code that runs when the file is loaded. */
  function: number;
  /** Position in `types`, or -1. */
  type: number;
}

export interface TypeFact {
  name: string;
  kind: 'class' | 'interface' | 'enum';
  parents: string[];
  fields: FieldFact[];
  /** Fields that hold a truth value: by their declared type, their default, or what the code sets them to. */
  flags: FlagFact[];
  /** Names of further members: events, types inside it. */
  others?: string[];
  /** It may have members whose names are not written out. */
  isOpen?: true;
  /** On which side its code runs, unless a function says otherwise. */
  side: Side;
  range: Range;
}

export interface FlagFact {
  name: string;
  /** Declared, not only set by the code. */
  isDeclared: boolean;
  exposed: boolean;
  /** It belongs to the type, not to each object of it. */
  isStatic: boolean;
  /** Both sides see it change. */
  isShared: boolean;
  /** What it is from the start, where the declaration says so. */
  starts?: 'on' | 'off';
  range: Range;
}

export interface FieldFact {
  name: string;
  /** Declared type as written, empty if none. */
  type: string;
  exposed: boolean;
  /** Exposed, without default, and not written as optional. */
  required: boolean;
  /** Not meant for code of other types. */
  hidden: boolean;
  /** What the code gives it, as written, cut when long. */
  default?: string;
  range: Range;
}

export interface FunctionFact {
  name: string;
  /** Position in `types`, or -1. */
  type: number;
  parameters: string[];
  /** How many of them must be given, and whether it takes any number more. */
  needs: number;
  takesMore: boolean;
  isEmpty: boolean;
  /** Functions of the own object that it calls, by name. */
  calls: string[];
  /** Those of them that it calls whenever it runs. */
  sureCalls: string[];
  /** Runs its parent's function of the same name: before its own code, after it, or amid it or not always. */
  callsParent: false | 'before' | 'after' | 'amid';
  /** Where it does. */
  callsParentAt?: Range;
  /** Not meant for code of other types. */
  hidden: boolean;
  moment: Moment;
  side: Side;
  /** What it is made of, unless it is too short to be a copy of another. */
  body?: BodyFact;
  range: Range;
}

/** Stands between the words of a statement. */
export const BETWEEN = '\u0001';

/** The statements of a function, outermost first, in the order of the text: one entry of each list for each. */
export interface BodyFact {
  /** Hash of the tokens with names and values left out. */
  shapes: number[];
  /** Hash of all tokens; comments and white space left out. */
  exacts: number[];
  /** How many tokens. */
  weights: number[];
  /** First and last line: two entries for each. */
  lines: number[];
  /** The names and values that were left out, in order. */
  words: string[];
}

/** A table in code that holds numbers by name. */
export interface TableFact {
  entries: { key: string; number: string; range: Range }[];
  range: Range;
}

/** A table in code that is a document, and what it holds. */
export interface NamedTable {
  /** As written; `*` for what the file itself returns. */
  name: string;
  /** Where each stands, and its position in `pieces`, or -1. */
  members: { name: string; piece: number; range: Range }[];
  /** All that it holds is written out. */
  isWhole: boolean;
  range: Range;
}

export interface TableUse {
  /** The table, as written: `Limits`, `harbour.Limits`. */
  of: string;
  member: string;
  how: 'reads' | 'calls';
  /** The code copes with its not being there. */
  isAsked: boolean;
  type: number;
  function: number;
  range: Range;
}

export interface FieldValue {
  type: number;
  field: string;
  /** Position in `functions`, or -1 for what the declaration gives it. */
  function: number;
  value: Value;
}

/** A call or property read that the call table gives a meaning. */
export interface Operation {
  /** Position in the plan's `calls`. */
  rule: number;
  /** Position in `functions`, or -1 for code that runs when the file is loaded. */
  function: number;
  /** Position in `types`, or -1. */
  type: number;
  /** What the look-up starts on. */
  receiver: Value;
  arguments: Partial<Record<Role, Value>>;
  /** Arguments that follow as payload: what the code calls each, or empty. */
  payload: string[];
  moment: Moment;
  /** Side of the code around it. */
  side: Side;
  /** The code copes with finding nothing: it asks before use. */
  guarded: boolean;
  /** It happens only if something holds, or for each of several things. */
  isConditional: boolean;
  /** What it finds is given back: callers may ask whether it is there. */
  isGiven?: true;
  /** What must hold, outermost first, where there is a condition. */
  gates?: Gate[];
  /** It is done by a function of another file, for what this one hands to it. */
  isHanded?: true;
  range: Range;
}

/** A call of a function that the script does not have itself, and what it is given. */
export interface HandedCall {
  name: string;
  /** What it is called on: `self`, the name of a type or of what was taken in, or nothing. */
  on: string;
  /** Position in `types` and `functions`, or -1. */
  type: number;
  function: number;
  arguments: Value[];
  moment: Moment;
  side: Side;
  isConditional: boolean;
  gates?: Gate[];
  range: Range;
}

/** A condition that code hangs on. */
export interface Gate {
  /** As written, cut when long. */
  words: string;
  /** It must not hold. */
  isNegated: boolean;
  /** Fields of the own object that it asks. */
  fields: string[];
}

/** What a value can be followed to without running the code. */
export type Value =
  | { is: 'self' }
  | { is: 'text'; text: string }
  | { is: 'number'; number: number }
  | { is: 'operation'; operation: number }
  /** A field of the object's own type. */
  | { is: 'field'; name: string }
  /** A name the code does not define itself: a type, a constant, `Bells.rung`. */
  | { is: 'constant'; name: string }
  /** `at`: its position in the script's functions, for one without a name. */
  | { is: 'function'; name: string; at?: number }
  /** Texts put together; unknown parts stand for what is only known at run time. */
  | { is: 'join'; parts: Value[] }
  /** One of several; `each`: all of them are meant, those too of which nothing is known. */
  | { is: 'any'; of: Value[]; each?: true }
  | { is: 'nothing' }
  /** `parameter`: what callers hand to the function, by its position there. */
  | { is: 'unknown'; parameter?: number };

export const UNKNOWN: Value = { is: 'unknown' };
