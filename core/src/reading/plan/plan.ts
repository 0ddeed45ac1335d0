/**
 * The reading plan (`glue-trace.json`), as it is after validation: every list is a list, every default is filled in.
 * `docs/reading-plan.md` explains each key with an example.
 */
import type { Severity } from '../../model/finding.js';
import type { Moment, Scope, Side, Verb } from '../../model/link.js';
import type { PieceKind } from '../../model/piece.js';
import type { Format } from '../tree/read-tree.js';
import type { CallPattern, Role } from './call-pattern.js';
import type { Meaning } from './meanings.js';

export const PLAN_FILE = 'glue-trace.json';

export interface Plan {
  version: 1;
  name: string;
  /** Plans that it builds on, by name or path, with those that these build on. */
  extends: string[];
  /** Globs of files that are not part of the project. */
  ignore: string[];
  files: Record<string, FileRule>;
  scripts: Record<string, ScriptRule>;
  calls: CallRule[];
  /** Texts in scripts that are references by themselves, wherever they stand. */
  literals: Record<string, LiteralRule>;
  packages: PackageHouse;
  house: HouseRules;
  /** How comments begin that waive what is found on their line. */
  waived: string[];
  /** Rules that were learned and that nobody has looked at yet, by their keys as rules are counted by. */
  learned: { rules: Record<string, LearnedRule>; refused: string[] };
  /** Marks in paths and names, and what may stand in their place: `"{port}"`. */
  holes: Record<string, Hole>;
  /** Names that stand for one object of a type wherever they are used, such as a service: `"clock": "FlightClock"`. */
  globals: Record<string, string>;
  /** Scenes (by identity, name or path) that are loaded together: a look-up in one finds what the others hold. */
  together: string[][];
  /** Types by other names that files and code use for them: `"RopePart": "TowRope"`. */
  typeNames: Record<string, string>;
  engine: EngineNames;
  /** What play logs are held against, besides the map. */
  play: PlayRules;
  /** House rules: a check switched off or given another severity. */
  checks: Record<string, Severity | 'off'>;
}

/** What may stand in the place of a mark. */
export interface Hole {
  texts: string[];
  /** Numbers, both ends among them, written with so many digits at least. */
  from?: number;
  to?: number;
  digits: number;
  /** Identities or names of pieces. */
  records?: { kinds: PieceKind[]; space: string[]; by: 'id' | 'name' };
  /** Fillings for which what is meant must be there; without any, one of all is enough. */
  must: string[];
}

/** Kinds of piece that a file as a whole can be. */
export const FILE_KINDS = ['scene', 'prefab', 'data asset', 'media', 'graph', 'file', 'package', 'glue facts'] as const;
export type FileKind = (typeof FILE_KINDS)[number];

/** Kinds of piece that a rule can find inside a structured file. */
export const INNER_KINDS = [
  'object',
  'record',
  'event',
  'label',
  'flag',
  'data asset',
  'graph',
  'step',
  'variable',
  'input action',
  'text',
  'scene',
  'prefab',
  'media',
] as const;
export type InnerKind = (typeof INNER_KINDS)[number];

/** How files that match are read. The first rule in the plan that matches a file reads it. */
export interface FileRule extends ContentRules {
  match: string[];
  as: FileKind;
  /** By the file's ending when left out; files of kind `media` are listed, not read. */
  format?: Format | 'lines';
  /** For text of none of the formats: how its lines become records. */
  lines?: LinesForm;
  /** For CSV without a first line that names them: the columns. */
  columns: string[];
  id?: Source;
  named: Source;
  /** The space that its identity and name belong to. */
  space?: string;
  /** The file that this one is derived from: a base prefab, a parent record. */
  extends?: BaseTarget;
  /** For packages: the version, and the packages it needs. */
  version?: Source;
  needs: { at: string; id: Source; version?: Source; pattern?: string }[];
  /** Documents in texts of the file. */
  embedded: Record<string, EmbeddedRule>;
  graphs: Record<string, GraphRule>;
}

/** What is found in trees: those of structured files, and those of tables in code. */
export interface ContentRules {
  pieces: Record<string, PieceRule>;
  references: Record<string, ReferenceRule>;
  events: Record<string, EventRule>;
  connections: Record<string, ConnectionRule>;
  attachments: Record<string, AttachmentRule>;
}

/** How a text of the team's own is read, line by line. */
export interface LinesForm {
  /** Lines that are passed over, such as comments. */
  skip?: string;
  /** Kinds of lines by name, in the order in which they are tried. */
  kinds: Record<string, LineKind>;
  /** `indent`: a line holds those below it that stand further in. */
  nested?: 'indent';
}

export interface LineKind {
  /** Its named groups are the members of the record; groups called `key` and `value` make a member of what is around. */
  pattern: string;
  /** It holds what follows, up to the next of its kind. */
  holds: boolean;
  /** It holds what follows, up to a line that matches this. */
  until?: string;
}

/**
 * Where a short text comes from, seen from a node: a selector whose first match counts, the name (key) the node
 * stands under, its place in its list, or the file's own name. `pattern` cuts a part out: its first group, or the
 * whole match.
 */
export interface Source {
  select?: string;
  key?: true;
  index?: true;
  file?: 'path' | 'name' | 'stem';
  /** A text of its own. */
  text?: string;
  /**
   * The text found is a position: the text proper is the one at that position among what this selector finds in the
   * piece around (in the document when there is none).
   */
  item?: string;
  pattern?: string;
  /** Texts put together; there is none when one of them is missing. */
  join?: Source[];
  /** Sources to try, in order, when this one finds nothing. */
  or?: Source[];
}

/** A rule counts only for nodes where this source gives one of the texts. */
export interface Condition {
  field: Source;
  is: string[];
}

export type FieldTarget = TargetForm & { field: Source };

/** What a record or file is derived from: one, or several in order. */
export interface BaseTarget extends FieldTarget {
  /** Every node that the field selects counts, and in each text every match of the pattern: all of them are bases. */
  every: boolean;
  /** Of several that say the same, which one is in force. */
  wins: 'first' | 'last';
}

/** What a value of a record does with the one that it has from its bases. */
export const JOINS = [
  'replaces',
  'adds',
  'takes',
  'removes',
  'plus',
  'minus',
  'times',
  'divided by',
  'unknown',
] as const;
export type Joins = (typeof JOINS)[number];

/** Values of a record, which those that are derived from it have from it. */
export interface ValueRule {
  /** Selector from the piece: what it selects, with all that is below, are values. */
  at: string;
  /** The name of each, from what was selected; by its way down from there when left out. */
  named?: Source;
  /** Where the value stands, from what was selected. */
  value?: Source;
  /** For values by their way: what of it is their name. */
  called?: string;
  /** What a value does with that of the bases: by this text, from the value outwards. */
  how?: Source;
  means: Record<string, Joins>;
  /** A value is a list of words, each a match of this; one that matches `takes` takes its first group away. */
  words?: string;
  takes?: string;
}

export interface PieceRule {
  /** Selector from the document's root; every node it selects is one piece. */
  at: string;
  when?: Condition;
  kind: InnerKind;
  id?: Source;
  named: Source;
  /** The space that its identity and name belong to. */
  space?: string;
  /** `nesting`: the nearest piece of this file around it; a source: the id, name or index of a piece in the same file. */
  parent: 'nesting' | { field: Source; by: Naming; of?: string };
  /** Where the piece lists its children instead: texts that name pieces of the same file. */
  children?: { at: string; by: Naming; of?: string };
  /** The prefab this object is an instance of. */
  madeFrom?: FieldTarget;
  /** The pieces this one is derived from. */
  extends?: BaseTarget;
  /** What it says itself, and others have from it. */
  values: ValueRule[];
  parts: PartRule[];
  overrides: OverrideRule[];
  /** Whether it is switched off at the start. */
  off?: Condition;
  /** A mode that bars scripting, such as fixed scenery. */
  barred?: Condition;
  /** A mark by which it keeps its state over scene changes. */
  kept?: Condition;
  /** Selector to the labels it carries. */
  labels?: string;
  /** It stands for so many, called by its name and a number each. */
  repeat?: { times: Source; from: number; called: string };
  /** Further texts worth keeping: the key of an input action, its context. */
  details: Record<string, Source>;
}

/** How pieces of one file name each other; `index` counts within the list that the rule `of` selects. */
export const NAMINGS = ['id', 'name', 'index'] as const;
export type Naming = (typeof NAMINGS)[number];

/** Something attached to an object: a script attachment or a built-in component. */
export interface PartRule {
  /** Selector from the object's node. */
  at: string;
  type?: Source;
  script?: FieldTarget;
  /** Selector from the part's node to the object whose members are the saved values of exposed fields. */
  values?: string;
}

/** What an instance changes of the prefab it is made from. */
export interface OverrideRule {
  /** Selector from the instance's node; every node it selects is one change. */
  at: string;
  means: 'change' | 'remove' | 'add';
  /** Which object inside the instance: an object path, a name or an identity. Without it: the instance itself. */
  on?: Source;
  by: 'object path' | 'name' | 'id';
  separator: string;
  /** Type of the part concerned; without it: the object. */
  part?: Source;
  /** Selector to the object whose members are the changed values. */
  values?: string;
  /** Or one field, and its value. */
  field?: Source;
  value?: string;
}

/** `member`: a constant of a type, written `Type.MEMBER`; `function`: a function of a script, by its name. */
export const REFERENCE_FORMS = [
  'id',
  'path',
  'object path',
  'name',
  'type',
  'member',
  'label',
  'index',
  'function',
  'folder',
] as const;
export type ReferenceForm = (typeof REFERENCE_FORMS)[number];

/**
 * Where a function is looked for that is named by a text: `type`, the type whose code it is, with its parents, or the
 * scripts on the object that a file writes it in; `object`: the latter alone; `file`: the own file; `imports`: the own file
 * and all that it takes in, and they in turn; `receiver`: the type of what the call is made on; `holder`: the script or
 * type that another field names; `project`: any script.
 */
export const FUNCTION_PLACES = ['type', 'object', 'file', 'imports', 'receiver', 'holder', 'project'] as const;
export type FunctionPlace = (typeof FUNCTION_PLACES)[number];

/** How sure a rule is that was learned, and how it fared then. */
export interface LearnedRule {
  sure: number;
  of: number;
  leads: number;
}

/** How far is looked for what has an identity or a name: the nearest counts. */
export const WITHIN = ['file', 'together', 'package', 'needed', 'project'] as const;
export type Within = (typeof WITHIN)[number];

/** How a written text leads to a target. */
export interface TargetForm {
  by: ReferenceForm;
  /** A text that does not match is no reference; its first group is the reference proper. */
  pattern?: string;
  /** Kinds of piece it may end on; empty for any. */
  kinds: PieceKind[];
  /** For paths: what they start from. */
  from: 'project' | 'file' | 'package';
  /** For paths: folders they may start from, tried in order. */
  roots: string[];
  /** For paths: endings to try when the path is written without one. */
  endings: string[];
  /** For paths: beginnings, such as `data://`, and the folder each stands for. */
  schemes: Record<string, string>;
  /** For paths: a bare file name means the file of that name anywhere below the roots. */
  anywhere: boolean;
  /** For paths: `%20` and the like stand for characters, as in URLs. */
  decode: boolean;
  /** For folders: globs of files in them that are meant. */
  files: string[];
  /** For identities, names and indexes: the outermost that counts. */
  within: Within;
  /** For identities and names: only pieces of these spaces count; empty for any. */
  space: string[];
  /** Of several the one is meant whose folder has most in common with the own. */
  nearest?: 'folder';
  /** For indexes: the rule whose pieces are counted. */
  of?: string;
  /** For paths with two groups in the pattern: the second one names a piece in that file. */
  inner?: Naming;
  /** For object paths: what stands between names, and the step that leads up. */
  separator: string;
  up: string;
  /** For functions: where they are looked for, in turn. */
  in: FunctionPlace[];
  /** For functions in files: the field that names the script or type which has it. */
  holder?: FieldTarget;
  /** Texts that mean “nothing is referenced here”. */
  empty: string[];
}

export interface ReferenceRule extends TargetForm {
  at: string;
  when?: Condition;
  /** The text, seen from what was selected, where it is not that itself. */
  text?: Source;
  /** Every match of the pattern in the text is a reference, not only the first. */
  every: boolean;
  /** What the list that it stands in means to the game. */
  role?: 'build list' | 'start scene';
  /** Whether the reference is the value that was selected, or the name (key) it stands under. */
  written: 'value' | 'key';
  verb: Verb;
}

/** Events declared, sent or listened to in a structured file: a wire from an object's event to another's handler. */
export interface EventRule {
  at: string;
  when?: Condition;
  event: Source;
  /** Object that sends, in the same file. Without it, nobody is said to send here. */
  from?: Source;
  /** Object that listens. */
  to?: Source;
  handler?: Source;
  /** Where the handler is looked for; on the scripts of the object that listens when left out. */
  target?: TargetForm;
  by: Naming;
  of?: string;
  /** Place in the order in which listeners are told. */
  order?: Source;
  scope: Scope;
  moment: Moment;
  side: Side;
}

/** A connection written in a structured file: one piece of it leads to another. */
export interface ConnectionRule {
  at: string;
  when?: Condition;
  /** Without it: the piece that the connection is written in. */
  from?: Source;
  to: Source;
  by: Naming;
  of?: string;
  verb: Verb;
  /** What flows there, in the order given: joined by an arrow. */
  label: Source[];
}

/** A table that says which script runs where, without an attachment. */
export interface AttachmentRule {
  at: string;
  script: FieldTarget;
  /** What it runs on; without it: the file itself. */
  to?: FieldTarget;
}

/** A behaviour graph: what the kinds of its steps mean. Steps and variables are pieces of their own. */
export interface GraphRule {
  /** Name of the piece rule that finds the steps. */
  steps: string;
  /** Name of the piece rule that finds the variables that an instance assigns; one with a detail `default` may stay empty. */
  variables?: string;
  /** Types of variables for which an empty one means the object itself. */
  selfWhenEmpty: string[];
  /** What kind a step is of. */
  kind: Source;
  /** By kind: what a step of this kind does. */
  means: Record<string, StepMeaning>;
}

export type StepMeaning =
  | { verb: 'sends' | 'listens to'; event: Source; handler?: Source; scope: Scope; moment: Moment; side: Side }
  | (FieldTarget & { verb: Exclude<Verb, 'sends' | 'listens to'> });

export const LANGUAGES = ['typescript', 'javascript', 'lua', 'csharp', 'python'] as const;
export type Language = (typeof LANGUAGES)[number];

/**
 * How far a function without a receiver is seen: in the own file and those that it takes in; in all that are connected by
 * taking in; in the own package and those that it needs; in the whole project.
 */
export const SEES = ['imports', 'together', 'package', 'project'] as const;
export type Sees = (typeof SEES)[number];

export interface ScriptRule {
  match: string[];
  language: Language;
  /** How what an import names leads to a file, where it is not as the language has it. */
  imports?: TargetForm;
  /** As the language has it when left out. */
  sees?: Sees;
  exposed: ExposedRule;
  hidden: HiddenRule;
  /** Scripts that belong to a scene without being attached: which one, from the script's path. */
  belongsTo?: { scene: Source; by: 'id' | 'name' | 'path' };
  /** Calls that make a table a type: `define('Hull', { … })`. */
  registers: string[];
  /** A file without types of its own is one, with its functions; those that belong to a scene are unless this says no. */
  asType?: boolean;
  /** How the type of a script is named after its file; not looked at when left out. */
  typeNamed?: TypeNaming;
  /** Functions by the moment at which the engine calls them; those of `start` one after the other, each on all objects. */
  moments: { start: string[]; everyFrame: string[]; leave: string[] };
  /** Functions that hear an event without being named as its handler. */
  handlers: HandlerRule[];
  /** Documents in comments. */
  embedded: Record<string, EmbeddedRule>;
  /** Tables in the code that are documents. */
  tables: Record<string, TableRule>;
  /** On which side these scripts run. */
  side: Side;
  /** Decorators and modifiers: of types and functions that run on one side, of fields that both sides see. */
  sided: { server: string[]; client: string[]; shared: string[] };
}

/** Documents inside a file: in its texts, or in comments of scripts. */
export interface EmbeddedRule extends ContentRules {
  /** Selector to the texts that hold them; the file's own text, as it is written, when left out. */
  at?: string;
  /** Every match is a document, or its first group. */
  pattern: string;
  /** What they are written in, or the rule under `scripts` that reads them. */
  format?: Format | 'lines';
  script?: string;
  lines?: LinesForm;
  columns: string[];
}

/** Literals in code that are read as documents; names may hold `*`. */
export interface TableRule extends ContentRules {
  /** What a name or field is given: `Limits`, `Harbour.limits`, `this.rows`, `default` for what a file exports as such. */
  assigned: string[];
  /** What is handed to these calls: the arguments are the document. */
  calls: string[];
  /** What these functions return; empty for the file itself. */
  returned: string[];
  /** What these decorators or attributes are given. */
  decorators: string[];
  /** Calls that stand for what they are given, such as `_("text")`. */
  through: string[];
  /** Globs of the scripts in which they stand; in all that the rule reads when there are none. */
  files: string[];
}

/** Functions whose name says which event they hear: `onMoored` hears `moored`. */
export interface HandlerRule {
  /** A pattern that their whole name matches; its first group is what stands for `*`. */
  functions: string;
  /** The event, with `*` in the place of what the pattern cuts out. */
  event: string;
  scope: Scope;
}

/** `tow-rope` becomes `tow-rope` (same), `TowRope` (pascal), or anything with the same letters and digits. */
export const TYPE_NAMINGS = ['same', 'pascal', 'letters'] as const;
export type TypeNaming = (typeof TYPE_NAMINGS)[number];

/** What makes a field of a script one that people fill in outside the code. */
export interface ExposedRule {
  decorators: string[];
  /** Names of types that mark a field, e.g. `Slot` in `cleat: Slot[Cleat]`. */
  types: string[];
  /** Texts that a comment before the field, or behind it on its line, holds. */
  comments: string[];
  /** Field names that match are exposed. */
  names?: string;
  /** Whether a field without default and not written as optional must be filled. */
  required: boolean;
  /** Fields that may stay empty: by their name, or as `Type.field`. */
  mayBeEmpty: string[];
  /** Declared types for which an empty slot means the object itself. */
  selfWhenEmpty: string[];
}

/** What makes a member of a type one that code of other types is not meant to use. */
export interface HiddenRule {
  modifiers: string[];
  /** Modifiers without one of which a member is hidden; none for languages in which members are open. */
  unless: string[];
  /** Names of members that are hidden. */
  names?: string;
}

/** One entry of the call table. */
export interface CallRule {
  /** The pattern as written. */
  call: string;
  pattern: CallPattern;
  means: Meaning;
  scope: Scope;
  side: Side;
  /** For `spawn`, `load`, `use file`, `refer` and `call`: how the written text leads to its target. */
  target: TargetForm;
  /** Only calls in which this text is one of these. */
  when?: { role: Role; is: string[] };
  /** It adds its reference to what the first row that matches says, which it is not itself. */
  also: boolean;
  /** For `spawn`: where the new object is put when the call names no parent. */
  puts?: 'own object' | 'holder' | 'scene';
  /** For `refer`: how the link reads. */
  verb: Verb;
  /** For `declare`: what the code makes known under an identity, and in which space. */
  kind: InnerKind;
  space?: string;
  /** For `declare`: what the function makes of the text, with `*` in its place: `deck:*`. */
  becomes: string;
  /** When it happens, where the call itself says so. */
  moment: Moment;
  /** For `part` and `asks part`: whether parts of the object count, those of everything below it, or of all above it. */
  on: 'object' | 'below' | 'above';
  /** For `find`: where is looked – in the scene (with those loaded together), or in all scenes. */
  reach: 'scene' | 'project';
  /** `*` in a name that is looked for stands for any letters. */
  wild: boolean;
  /** What a call that gives an object gives: the object alone, or the script on it, so that its fields can be set. */
  gives: 'object' | 'script';
  /** For `send`, `listen` and `let go`: the event, with `*` in the place of `$event` where it has one. */
  event?: string;
  /** Only calls whose event names a type below this one (for events that are types). */
  under?: string;
}

/** A text in a script that is a reference by itself. */
export interface LiteralRule extends TargetForm {
  pattern: string;
  /** Every match of the pattern in the text is a reference, not only the first. */
  every: boolean;
  verb: Verb;
}

/** How packages of one project are combined. */
export interface PackageHouse {
  /** Ids, first loaded first. Packages not named follow, those they need before them. */
  order: string[];
  /** A file of a later package replaces the file of the same path in an earlier one. */
  overlay: boolean;
}

/** Rules of the house that decide how references are read. */
export interface HouseRules {
  /** Whether a path that differs from the file's in capitals alone is a fault (`matter`) or the same path (`ignored`). */
  capitals: 'matter' | 'ignored';
  /** Where which scripts may live. */
  places: PlaceRule[];
  /** Packages that must be there. */
  packages: { id: string; version: string }[];
  /** The scene that play begins with: identity, name or path. */
  startScene?: string;
  /** The share of text files that must be read for a verdict, from 0 to 1. */
  leastRead?: number;
  /** Globs of scripts whose copies of one another are fine: tests, code that a tool writes. */
  copiesFine: string[];
  /** Whether a script that nothing attaches, extends or imports is worth a note. */
  unattached: 'note' | 'fine';
}

/** Where scripts of a kind run, and so must live. */
export interface PlaceRule {
  /** Globs of scripts. */
  scripts: string[];
  /** Globs of paths where they may stand. */
  in: string[];
  /** Globs of scenes and prefabs whose objects may carry them. */
  carriedBy: string[];
  /** Why, in the house's own words. */
  because: string;
}

export const START_ORDERS = ['unknown', 'holders first', 'held first'] as const;
export type StartOrder = (typeof START_ORDERS)[number];

/** What the team says of events in play, by their names; globs are allowed. */
export interface PlayRules {
  /** What an event means. */
  means: Record<string, string>;
  /** How often it may come within a second. */
  storms: Record<string, number>;
  /** Events of which each comes only after the one before it has. */
  order: string[][];
}

/** Names that the engine itself provides: never reported as missing, unheard or unsent. */
export interface EngineNames {
  events: string[];
  objects: string[];
  parts: string[];
  types: string[];
  files: string[];
  labels: string[];
  scenes: string[];
  /** Identities of anything else: records, input actions. */
  ids: string[];
  /** Members that its types and parts have. Without any, members of types that descend from them cannot be judged. */
  members: string[];
  /** Those of its events that can come again and again in a moment, such as touches. */
  repeats: string[];
  /** Those of its events that a key, a button or a pointer sends. */
  inputs: string[];
  /** Those of its events of which only the topmost object of a compound one is told. */
  toRoot: string[];
  /** In which order objects are told that play begins. */
  startOrder: StartOrder;
  /** Functions that can be called without a receiver. Without any, such calls cannot be judged. */
  functions: string[];
  /** Kinds of piece that a slot of one of its types takes: `"Picture": ["media"]`. */
  takes: Record<string, PieceKind[]>;
}
