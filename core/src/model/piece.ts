/**
 * Pieces: everything that stands on the map.
 *
 * Lines and columns are 1-based everywhere in the model; columns count UTF-16 units.
 */

/** Every kind of piece, in the order used for compact storage: append only. */
export const PIECE_KINDS = [
  'file',
  'scene',
  'prefab',
  'object',
  'part',
  'script',
  'type',
  'field',
  'function',
  'event',
  'flag',
  'data asset',
  'record',
  'media',
  'label',
  'graph',
  'step',
  'variable',
  'input action',
  'text',
  'package',
] as const;
export type PieceKind = (typeof PIECE_KINDS)[number];

/** A range in a text file; the end is exclusive. */
export interface Range {
  /** 1-based. */
  line: number;
  /** 1-based, in UTF-16 units. */
  column: number;
  endLine: number;
  endColumn: number;
}

/** A piece as the interface and the reports see it. */
export interface Piece {
  /** Position in the map of one scan; not stable between scans. */
  index: number;
  /** Stable name of the piece between scans: kind, file and the way to it inside the file. */
  key: string;
  kind: PieceKind;
  name: string;
  /** Identity given in the project's own files, or empty. */
  id: string;
  /** Names from the scene or prefab down to this piece, e.g. `Upper Flight / Boats / Tender 2`. */
  title: string;
  /** Index of the piece that contains this one, or -1. */
  parent: number;
  /** Project-relative path with forward slashes, or empty for pieces that stand in no file (an event named by text). */
  file: string;
  range: Range;
  /** Switched off at the start. */
  isOff: boolean;
  /** Its mode bars scripting. */
  isBarred: boolean;
}
