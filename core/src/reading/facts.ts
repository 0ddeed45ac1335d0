/** Facts: what one file says, taken from the file and the plan alone. Plain data, so that it can be stored and sent. */
import type { Moment } from '../model/link.js';
import type { PieceKind, Range } from '../model/piece.js';
import type { Role } from './plan/call-pattern.js';
import type { Language } from './plan/plan.js';

/** Raised whenever facts change their shape or meaning: stored facts of another version are read anew. */
export const FACTS_VERSION = 1;

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
  script?: ScriptFacts;
  problems: ProblemFact[];
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
  /** Id or name of the parent where a field says so and no nesting does. */
  parentNamed?: string;
  madeFrom?: Written;
  parts: PartFact[];
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

export interface ReferenceFact extends Written {
  /** Name of the reference rule under the file's rule. */
  rule: string;
  /** Position in `pieces`, or -1 for the file itself. */
  piece: number;
  /** Position in that piece's `parts`, or -1. */
  part: number;
  /** The exposed field or key it stands under. */
  field: string;
}

export interface EventFact {
  rule: string;
  event: string;
  from: string;
  to: string;
  handler: string;
  /** Piece the wire is written in, or -1 for the file itself. */
  piece: number;
  range: Range;
}

// Scripts -----------------------------------------------------------------------------------------------------------

export interface ScriptFacts {
  language: Language;
  types: TypeFact[];
  functions: FunctionFact[];
  operations: Operation[];
  /** What the code itself puts into fields of its own type. */
  fieldValues: FieldValue[];
  /** Names of members that the code sets on other objects. */
  memberWrites: string[];
  /** Texts under a name that other scripts can use: `Bells.rung`, `DEPTH`. */
  constants: { name: string; text: string }[];
  /** Texts and names that stand anywhere but as the event of a send or listener: something unseen may use them. */
  mentions: string[];
  imports: { from: string; names: { name: string; as: string }[]; range: Range }[];
}

export interface TypeFact {
  name: string;
  kind: 'class' | 'interface' | 'enum';
  parents: string[];
  fields: FieldFact[];
  range: Range;
}

export interface FieldFact {
  name: string;
  /** Declared type as written, empty if none. */
  type: string;
  exposed: boolean;
  /** Exposed, without default, and not written as optional. */
  required: boolean;
  range: Range;
}

export interface FunctionFact {
  name: string;
  /** Position in `types`, or -1. */
  type: number;
  parameters: string[];
  isEmpty: boolean;
  /** Functions of the own object that it calls, by name. */
  calls: string[];
  /** Runs its parent's function of the same name. */
  callsParent: boolean;
  moment: Moment;
  range: Range;
}

export interface FieldValue {
  type: number;
  field: string;
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
  /** How many arguments follow as payload. */
  payload: number;
  moment: Moment;
  /** The code copes with finding nothing: it asks before use. */
  guarded: boolean;
  range: Range;
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
  | { is: 'function'; name: string }
  /** Texts put together; unknown parts stand for what is only known at run time. */
  | { is: 'join'; parts: Value[] }
  | { is: 'any'; of: Value[] }
  | { is: 'nothing' }
  | { is: 'unknown' };

export const UNKNOWN: Value = { is: 'unknown' };
