/**
 * The reading plan (`glue-trace.json`), as it is after validation: every list is a list, every default is filled in.
 * `docs/reading-plan.md` explains each key with an example.
 */
import type { Severity } from '../../model/finding.js';
import type { Scope, Side, Verb } from '../../model/link.js';
import type { PieceKind } from '../../model/piece.js';
import type { Format } from '../tree/read-tree.js';
import type { CallPattern } from './call-pattern.js';

export const PLAN_FILE = 'glue-trace.json';

export interface Plan {
  version: 1;
  name: string;
  /** Globs of files that are not part of the project. */
  ignore: string[];
  files: Record<string, FileRule>;
  scripts: Record<string, ScriptRule>;
  calls: CallRule[];
  /** Types by other names that files and code use for them: `"RopePart": "TowRope"`. */
  typeNames: Record<string, string>;
  engine: EngineNames;
  /** House rules: a check switched off or given another severity. */
  checks: Record<string, Severity | 'off'>;
}

/** Kinds of piece that a file as a whole can be. */
export const FILE_KINDS = ['scene', 'prefab', 'data asset', 'media', 'graph', 'file'] as const;
export type FileKind = (typeof FILE_KINDS)[number];

/** Kinds of piece that a rule can find inside a structured file. */
export const INNER_KINDS = ['object', 'record', 'event', 'label', 'flag', 'data asset', 'graph'] as const;
export type InnerKind = (typeof INNER_KINDS)[number];

/** How files that match are read. The first rule in the plan that matches a file reads it. */
export interface FileRule {
  match: string[];
  as: FileKind;
  /** By the file's ending when left out; files of kind `media` are listed, not read. */
  format?: Format;
  id?: Source;
  named: Source;
  pieces: Record<string, PieceRule>;
  references: Record<string, ReferenceRule>;
  events: Record<string, EventRule>;
}

/**
 * Where a short text comes from, seen from a node: a selector whose first match counts, the name (key) the node
 * stands under, or the file's own name. `pattern` cuts a part out: its first group, or the whole match.
 */
export interface Source {
  select?: string;
  key?: true;
  file?: 'path' | 'name' | 'stem';
  pattern?: string;
}

export interface PieceRule {
  /** Selector from the document's root; every node it selects is one piece. */
  at: string;
  kind: InnerKind;
  id?: Source;
  named: Source;
  /** `nesting`: the nearest piece of this file around it; a source: the id or name of a piece in the same file. */
  parent: 'nesting' | { field: Source; by: 'id' | 'name' };
  /** The prefab this object is an instance of. */
  madeFrom?: TargetForm & { field: Source };
  parts: PartRule[];
}

/** Something attached to an object: a script attachment or a built-in component. */
export interface PartRule {
  /** Selector from the object's node. */
  at: string;
  type?: Source;
  script?: TargetForm & { field: Source };
  /** Selector from the part's node to the object whose members are the saved values of exposed fields. */
  values?: string;
}

/** `member`: a constant of a type, written `Type.MEMBER`. */
export const REFERENCE_FORMS = ['id', 'path', 'object path', 'name', 'type', 'member'] as const;
export type ReferenceForm = (typeof REFERENCE_FORMS)[number];

/** How a written text leads to a target. */
export interface TargetForm {
  by: ReferenceForm;
  /** A text that does not match is no reference; its first group is the reference proper. */
  pattern?: string;
  /** Kinds of piece it may end on; empty for any. */
  kinds: PieceKind[];
  /** For paths: what they start from. */
  from: 'project' | 'file';
  /** For paths: folders they may start from, tried in order. */
  roots: string[];
  /** For paths: endings to try when the path is written without one. */
  endings: string[];
  /** For object paths: what stands between names, and the step that leads up. */
  separator: string;
  up: string;
  /** Texts that mean “nothing is referenced here”. */
  empty: string[];
}

export interface ReferenceRule extends TargetForm {
  at: string;
  /** Whether the reference is the value that was selected, or the name (key) it stands under. */
  written: 'value' | 'key';
  verb: Verb;
}

/** Events declared, sent or listened to in a structured file: a wire from an object's event to another's handler. */
export interface EventRule {
  at: string;
  event: Source;
  /** Object that sends, by id or name in the same file. Without it, nobody is said to send here. */
  from?: Source;
  /** Object that listens. */
  to?: Source;
  handler?: Source;
  by: 'id' | 'name';
}

export const LANGUAGES = ['typescript', 'javascript', 'lua', 'csharp', 'python'] as const;
export type Language = (typeof LANGUAGES)[number];

export interface ScriptRule {
  match: string[];
  language: Language;
  exposed: ExposedRule;
  moments: { start: string[]; everyFrame: string[]; leave: string[] };
}

/** What makes a field of a script one that people fill in outside the code. */
export interface ExposedRule {
  decorators: string[];
  /** Names of types that mark a field, e.g. `Slot` in `cleat: Slot[Cleat]`. */
  types: string[];
  /** Whether a field without default and not written as optional must be filled. */
  required: boolean;
}

export const MEANINGS = [
  'step up',
  'same object',
  'child',
  'object path',
  'find',
  'part',
  'asks part',
  'send',
  'listen',
  'spawn',
  'load',
  'use file',
] as const;
export type Meaning = (typeof MEANINGS)[number];

/** One entry of the call table. */
export interface CallRule {
  /** The pattern as written. */
  call: string;
  pattern: CallPattern;
  means: Meaning;
  scope: Scope;
  side: Side;
  /** For `spawn`, `load` and `use file`: how the written path leads to a file. */
  target: TargetForm;
  /** Only calls whose event names a type below this one (for events that are types). */
  under?: string;
}

/** Names that the engine itself provides: never reported as missing, unheard or unsent. */
export interface EngineNames {
  events: string[];
  objects: string[];
  parts: string[];
  files: string[];
}
