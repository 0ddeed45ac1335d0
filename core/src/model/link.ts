/** Links: one piece leading to another, with a verb, a grip and its evidence. */
import type { PieceKind, Range } from './piece.js';

/** Link verbs, in the order used for compact storage: append only. */
export const VERBS = [
  'holds',
  'carries',
  'runs',
  'made from',
  'extends',
  'overrides',
  'uses',
  'reads',
  'writes',
  'calls',
  'sends',
  'listens to',
  'spawns',
  'destroys',
  'switches',
  'moves',
  'loads',
  'labelled',
  'imports',
] as const;
export type Verb = (typeof VERBS)[number];

/**
 * How firmly a link holds, firmest first. `fixed`: identity; `path`: a place in the file or object tree;
 * `name`: a name, label or type; `built`: made up at run time; `lost`: leads nowhere.
 */
export const GRIPS = ['fixed', 'path', 'name', 'built', 'lost'] as const;
export type Grip = (typeof GRIPS)[number];

export const SCOPES = ['unknown', 'self', 'one', 'all'] as const;
export type Scope = (typeof SCOPES)[number];

export const MOMENTS = ['unknown', 'start', 'every frame', 'on an event', 'leave'] as const;
export type Moment = (typeof MOMENTS)[number];

export const SIDES = ['unknown', 'server', 'client', 'both'] as const;
export type Side = (typeof SIDES)[number];

/** The less firm of two grips: a chain holds as its weakest stitch. */
export function weaker(a: Grip, b: Grip): Grip {
  return GRIPS.indexOf(a) >= GRIPS.indexOf(b) ? a : b;
}

/** One step of the way a look-up takes through the real tree. */
export interface WalkStep {
  /** What the code or the file asks for, in words: `one step up`, `child “Cleat”`. */
  asks: string;
  /** What stands there: a title, or why the walk ends here. */
  finds: string;
  /** Piece reached, or -1 when the walk left the tree here. */
  piece: number;
  grip: Grip;
}

/** Why a link is lost, for the checks and the reading pane. */
export interface Loss {
  /** What kind of thing was looked for. */
  sought: 'file' | 'object' | 'part' | 'label' | 'package' | 'member' | 'function';
  /** Kinds of piece that would have done; none for any. */
  kinds?: PieceKind[];
  /** The name, path or identity that was looked for. */
  wanted: string;
  /** A target that would be right if capitals were ignored: its written form, or empty. */
  otherCapitals: string;
  /** The object on which the walk ended, or -1. */
  lastObject: number;
  /** Names that do stand where the wanted one was looked for (at most 12). */
  among: string[];
  /** Other places where the wanted name stands, in words (at most 5). */
  elsewhere: string[];
}

/** A link as the interface and the reports see it. */
export interface Link {
  index: number;
  from: number;
  /** Index of the piece reached, or -1 when the link is lost or not known. */
  to: number;
  verb: Verb;
  grip: Grip;
  scope: Scope;
  moment: Moment;
  side: Side;
  /** What the link says of itself besides its ends: the slot, the handler, the name looked for. */
  label: string;
  file: string;
  range: Range;
}
