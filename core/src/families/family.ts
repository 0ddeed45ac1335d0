/** What a family shows: a grid of members and what they hold. */
import type { Range } from '../model/piece.js';

export interface FamilySummary {
  /** Piece of the parent type, the prefab, or the record. */
  piece: number;
  kind: 'type' | 'prefab' | 'record';
  name: string;
  file: string;
  /** Children, or instances. */
  members: number;
  /** Objects of scenes that run one of its types, or that are made from the prefab, by way of others too. */
  objects: number;
  /** Members of the parent that a child has replaced, those by nothing among them; values that instances save over it. */
  replaced: number;
  byNothing: number;
}

/**
 * `own`: declared here; `inherited`: the parent's; `calls through`: own, and the parent's runs as well; `masks`: what
 * the prefab said before it was changed, saved over what it says now.
 */
export type Holds =
  'own' | 'inherited' | 'calls through' | 'replaced' | 'by nothing' | 'value' | 'same' | 'masks' | 'never set' | 'none';

export interface FamilyCell {
  is: Holds;
  /** A value, as written; of what calls through, when the parent's runs: `before` its own code, `after` or `amid` it. */
  text: string;
  file: string;
  range: Range | null;
  /** What an edit made here reaches, itself included. Not told of records, and of what is not written here. */
  reach?: { members: number; objects: number };
}

export interface FamilyRow {
  piece: number;
  name: string;
  /** How far below the parent. */
  depth: number;
  objects: number;
  cells: FamilyCell[];
  replaced: number;
}

export interface Family extends FamilySummary {
  columns: { name: string; kind: 'function' | 'field' }[];
  /** The parent first. */
  rows: FamilyRow[];
}

export const MOST_COLUMNS = 60;

/** `Gauge 9` before `Gauge 10`. */
export const byName = new Intl.Collator('en', { numeric: true });

export const NONE: FamilyCell = { is: 'none', text: '', file: '', range: null };

/** The parent, then each child below the one it descends from, those that replace most first. */
export function inOrder(rows: FamilyRow[]): FamilyRow[] {
  const [parent, ...others] = rows;
  return [
    ...(parent ? [parent] : []),
    ...others.sort((a, b) => b.replaced - a.replaced || byName.compare(a.name, b.name)),
  ];
}

export function sum(counts: Iterable<number>): number {
  let all = 0;
  for (const count of counts) all += count;
  return all;
}
