/** What linking finds wrong besides references that lead nowhere: noted where it is seen, told by the checks. */
import type { Range } from '../model/piece.js';

interface Placed {
  /** The part it was evaluated for, or -1: then it belongs to `file` as a whole. */
  part: number;
  /** The file whose linking found it. */
  foundIn: string;
  /** Where it is written. */
  file: string;
  range: Range;
}

/** A value saved for a field that the script does not have. */
export interface StaleValue extends Placed {
  is: 'stale value';
  object: number;
  origin: number;
  type: number;
  typeName: string;
  field: string;
  /** Fields that the script has. */
  fields: string[];
}

/** A wire that calls a function which nothing on the object has. */
export interface StaleHandler extends Placed {
  is: 'stale handler';
  object: number;
  event: string;
  handler: string;
  /** Where the name of the function is written, when it is. */
  handlerAt: Range | undefined;
  typeNames: string[];
  functions: string[];
}

/** A slot that holds something its field cannot take. */
export interface WrongKind extends Placed {
  is: 'wrong kind';
  object: number;
  origin: number;
  typeName: string;
  field: string;
  /** What the field is declared to take. */
  wants: string;
  target: number;
  /** An object below the target that would do, or -1. */
  below: number;
  text: string;
}

/** Something is asked of a piece whose mode rules it out. */
export interface Barred extends Placed {
  is: 'barred';
  from: number;
  target: number;
  how: 'slot' | 'wire' | 'part' | 'act' | 'self only' | 'other side';
  /** Slot, event or verb. */
  label: string;
}

/** A member is used that the type does not declare, or that is not meant for others. */
export interface MissingMember extends Placed {
  is: 'missing member';
  from: number;
  type: number;
  typeName: string;
  member: string;
  how: 'reads' | 'writes' | 'calls';
  /** It is a member of the code's own type. */
  isOwn: boolean;
  /** What it would be a member of; of a file, that it gives to others. */
  of: 'type' | 'table' | 'file';
  isHidden: boolean;
  /** Only sure when no script mentions the name. */
  unlessMentioned: boolean;
  /** The prefab that was spawned, where the member is one of its script; -1 otherwise. */
  prefab: number;
  members: string[];
}

/** A function is called that nothing defines. */
export interface MissingCall extends Placed {
  is: 'missing call';
  from: number;
  name: string;
  /** Those that it sees, and files that it does not see and that have one of this name. */
  functions: ReadonlySet<string>;
  elsewhere: string[];
}

/** A package is there in another version than the one needed. */
export interface WrongVersion extends Placed {
  is: 'wrong version';
  from: number;
  needs: string;
  version: string;
  has: string;
}

/** A look-up for one thing that finds several. */
export interface Ambiguous extends Placed {
  is: 'ambiguous';
  object: number;
  origin: number;
  typeName: string;
  wanted: string;
  matches: number[];
}

/** Something is done to every part of a type. */
export interface Wide extends Placed {
  is: 'wide';
  typeName: string;
  verb: string;
  wanted: string;
  /** Parts. */
  matches: number[];
}

export type Fault =
  Ambiguous | Wide | StaleValue | StaleHandler | WrongKind | Barred | MissingMember | MissingCall | WrongVersion;
