/** What linking gives to the checks and to the views, besides the map itself. */
import type { Graph } from '../model/graph.js';
import type { History } from '../model/history.js';
import type { Loss, Moment, Verb, WalkStep } from '../model/link.js';
import type { Range } from '../model/piece.js';
import type { FileFacts } from '../reading/facts.js';
import type { Joins, Plan, ReferenceRule, TargetForm } from '../reading/plan/plan.js';
import type { Fault } from './faults.js';
import type { World } from './world/world.js';

/** A look-up in a script, with what it came to from every place it runs at. */
export interface LookUp {
  /** Script, line and wording are the same for all places. */
  file: string;
  range: Range;
  typePiece: number;
  typeName: string;
  /** Steps up, and whether it goes down again, at the place where it holds longest. */
  ups: number;
  down: boolean;
  /** The climb as written, when there is one: look-ups that start from the same climb share it. */
  climbAt?: Range;
  guarded: boolean;
  moment: Moment;
  /** It happens only if something holds. */
  isConditional: boolean;
  /** It is nothing but a step up the own tree. */
  isStep: boolean;
  /** Whether the code surely runs on every object that carries it: at a moment of the life cycle, or on an event. */
  isSureToRun: boolean;
  /** The first object from which it holds, and from how many it does. */
  firstFound?: { part: number; object: number };
  foundCount: number;
  unknownCount: number;
  /** Every object from which it is lost. */
  lost: LookUpPlace[];
}

export interface LookUpPlace {
  /** The part that carries the script, and the object it is on. */
  part: number;
  object: number;
  /** The object's counterpart in its prefab, or the object itself. */
  origin: number;
  loss: Loss;
  walk: WalkStep[];
}

/** A reference that leads nowhere: written in a file, or a file named in a script. */
export interface LostReference {
  file: string;
  range: Range;
  /** Piece that holds the reference. */
  from: number;
  /** How the link would read. */
  verb: Verb;
  /** Exposed field or key, empty for scripts. */
  field: string;
  loss: Loss;
  /** How the text was read; undefined where no text leads to a target. */
  form?: TargetForm;
  /** What the list that it stands in means to the game. */
  role?: ReferenceRule['role'];
  /** The text stands nowhere as it is: it is put together, or has holes that were filled. */
  isJoined?: true;
}

/** A scene that a list of the game names. */
export interface RoleReference {
  role: NonNullable<ReferenceRule['role']>;
  file: string;
  range: Range;
  /** The scene, or -1 when there is none. */
  piece: number;
  text: string;
}

/** An exposed field that must be filled and is not. */
export interface EmptySlot {
  part: number;
  object: number;
  origin: number;
  field: string;
  fieldType: string;
  typeName: string;
  /** Where the field is declared. */
  declaredIn: string;
  declaredAt: Range;
  /** Where the empty value stands, or the part when nothing is written. */
  file: string;
  range: Range;
  isWritten: boolean;
  /** Left empty, it means the object itself. */
  meansSelf: boolean;
  /** Where the part or the change stands that the value would be written in: in the facts, its pieces, their parts. */
  source: number;
  pieceFact: number;
  partFact: number;
}

/** One end of an event. */
export interface EventEnd {
  file: string;
  range: Range;
  /** Type or object that sends or listens. */
  piece: number;
  handler: string;
  /** For a handler without a name: its position in the functions of the type's script. */
  code?: number;
  /** The event is not written there as it is: it is put together, or told by a function's name. */
  isPutTogether?: true;
  /** How many values are sent along; undefined when that cannot be said. */
  payload?: number;
  moment?: Moment;
}

export interface EventEnds {
  name: string;
  piece: number;
  /** Declared in a file as an event of its own. */
  declared: boolean;
  senders: EventEnd[];
  listeners: EventEnd[];
}

/** A line of the story of an event. */
export interface StoryLine {
  /** How far it is indented. */
  depth: number;
  /** Who: the name of a piece, and the piece (or -1). */
  who: string;
  piece: number;
  /** What: `hears it`, `sends`, `destroys`. */
  does: string;
  /** To what: an event, a thing; empty for none. */
  what: string;
  whatPiece: number;
  /** A mark: the condition that it hangs on, `round in a circle`, or `goes on` where the story is cut. */
  mark: string;
  file: string;
  range: Range | null;
}

/** One value that a field could have. */
export interface ValueLevel {
  /** What it does with the one before, where that is not to replace it: `adds`, `times`. */
  joins?: Joins;
  /** Who gives it, in words: `TowRope in code`, `prefab Tender`, `scene Upper Flight`. */
  by: string;
  /** As written; undefined for lists and objects. */
  text?: string;
  empty: boolean;
  file: string;
  range: Range;
}

export interface FieldValues {
  field: string;
  /** Declared type, as written. */
  type: string;
  exposed: boolean;
  /** From the code to the instance: the last one is in force. */
  levels: ValueLevel[];
  /** What comes of them, where one does something else than replace the one before; null when that is not known. */
  inForce?: string | null;
}

/** The fields of one part. */
export interface PartValues {
  part: number;
  typeName: string;
  fields: FieldValues[];
}

/** What one rule of the plan came to. */
export interface RuleCount {
  files: number;
  pieces: number;
  /** For rows of the call table: how many calls they match. */
  uses?: number;
  links: number;
  lost: number;
}

export interface Linked {
  plan: Plan;
  facts: FileFacts[];
  /** Files that do not count since a later package brings another one of the same path, to that one. */
  replacedBy: Map<string, string>;
  /** Names of all labels, and all packages in load order. */
  labels: string[];
  packages: { id: string; version: string }[];
  graph: Graph;
  lookUps: LookUp[];
  lostReferences: LostReference[];
  emptySlots: EmptySlot[];
  /** What else is wrong. */
  faults: Fault[];
  /** Scenes named by lists that mean something to the game. */
  roles: RoleReference[];
  events: EventEnds[];
  /** Texts and names that scripts use outside of sends and listeners: an event named there may be in use unseen. */
  mentions: Set<string>;
  /** Whether some send, or some listener, takes its event's name from run time. */
  unknownSends: boolean;
  unknownListeners: boolean;
  /** What each rule of the plan came to, by its key in the plan. */
  rules: Map<string, RuleCount>;
  /** For a lost link of the map: why. By index of the link. */
  losses: Map<number, { loss: Loss; walk: WalkStep[] }>;
  /** Values saved on a part, or on the parts of an object, with all they stand in front of. Works until files are linked again. */
  valuesOf(piece: number): PartValues[];
  /** The way that a look-up takes from a piece, by where it is written; none for other links. */
  walkAt(from: number, file: string, place: Range): WalkStep[];
  /** What happens when an event fires, or what can lead to it. */
  storyOf(event: string, direction: 'forward' | 'backward'): StoryLine[];
  /** Names of objects that code can bring into a scene. */
  madeAtRun: ReadonlySet<string>;
  /** What is known of the time before. */
  history: History;
  /** Candidates and repairs look things up in the world that was linked. */
  world: World;
}
