/** What Twins shows of a group, whatever it is of. */
import type { Difference } from '../../twins/twins.js';

/** What is written again. */
export const TWIN_KINDS = ['code', 'prefab', 'data asset', 'wiring', 'table'] as const;

export type TwinKind = (typeof TWIN_KINDS)[number];

/** How likely it is that one of them is wrong by now, most first. */
export const RISKS = ['changed in one', 'drifted apart', 'values differ', 'the same'] as const;

export type Risk = (typeof RISKS)[number];

export interface TwinView {
  kind: TwinKind;
  /** How alike they are, in words: `the same with other values`. */
  likeness: string;
  risk: Risk;
  /** Who was changed while the others stayed as they were, as a sentence; empty when nothing tells. */
  parting: string;
  /** Tokens of code that writing it once would save; 0 for what is no code. */
  saves: number;
  places: TwinPlaceView[];
  differences: TwinDifference[];
  /** Values that differ, under the names that fields for them could have. */
  fields: { name: string; words: string[] }[];
  /** Where it could live – empty when it is to stay where it is – and what is to be written there. */
  home: { words: string; change: string };
}

export interface TwinPlaceView {
  name: string;
  file: string;
  line: number;
  endLine: number;
  /** -1 when there is none to trace. */
  piece: number;
  /** What would change here. */
  change: string;
}

export interface TwinDifference {
  what: Difference['what'] | 'wire';
  /** The line in each copy; 0 where there is nothing. */
  lines: number[];
  /** Where there is nothing: the line before which it would stand; 0 elsewhere. */
  before: number[];
  words: string[];
  /** When they parted, as words; empty when nothing tells. */
  parting: string;
}

/** A group before anybody looks at it: what it is listed, sorted and found by. */
export interface Entry {
  kind: TwinKind;
  risk: Risk;
  saves: number;
  places: readonly { name: string; file: string }[];
  view(): TwinView;
}

export interface TwinFilter {
  /** Words in the name or file of a place. */
  text?: string;
  kind?: TwinKind;
  /** What saves most first, instead of what is likeliest to be wrong by now. */
  order?: 'saves';
  limit: number;
  /** Key of a group that is wanted whether or not it is among the first. */
  group?: string;
}

/** A group with a key that stays from scan to scan, as long as its places have their names. */
export type KeyedTwins = TwinView & { key: string };

export interface TwinPage {
  /** Of all kinds, and those that are wanted. */
  all: number;
  total: number;
  groups: KeyedTwins[];
  opened?: KeyedTwins;
}
