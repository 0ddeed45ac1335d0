/** What a check is. One file per check, each written like its neighbours; `registry.ts` lists them all. */
import { cellAt, itemAt } from '../helpers/at.js';
import { kindOf, nameOf, titleOf, type Graph } from '../model/graph.js';
import type { Finding, Run, Severity } from '../model/finding.js';
import type { PieceKind, Range } from '../model/piece.js';
import type { Fault, MissingMember } from '../linking/faults.js';
import type { Linked } from '../linking/linked.js';

/** Scripts; everything else; prefabs and data assets alone. */
export type Ground = 'scripts' | 'data' | 'assets';

export interface Check {
  /** Public; never changes its meaning. */
  id: string;
  title: string;
  severity: Severity;
  /** Why it matters in play. */
  why: string;
  /** How it decides, and when it stays silent. */
  decides: string;
  /** What it rests on, when that is less than everything: then it runs again only after a file of that kind changed. */
  restsOn?: Ground;
  run(linked: Linked): Draft[];
}

/** A finding before the registry adds what is the same for all findings of a check. */
export type Draft = Omit<Finding, 'check' | 'severity' | 'fingerprint' | 'files'> & {
  /** Where it is not the file of the first evidence alone. */
  files?: string[];
  /** Names that make this finding the same one in the next scan: no lines, no numbers. */
  sameBy: string[];
  /** Names of what one mend would mend: drafts that have them in common are one finding, known by them. */
  cause?: string[];
  /** When this one weighs less or more than the check's others. */
  severity?: Severity;
};

/** A piece's name in a sentence. */
export function named(graph: Graph, piece: number): Run {
  return { name: nameOf(graph, piece) || '(no name)', piece };
}

/** A piece's name with the way down to it. */
export function titled(graph: Graph, piece: number): Run {
  return { name: titleOf(graph, piece), piece };
}

/** Links in the order of their places: in which order files were linked must not show. */
export function byLinkPlace({ links, texts }: Graph, a: number, b: number): number {
  const [one, other] = [itemAt(texts, cellAt(links.file, a)), itemAt(texts, cellAt(links.file, b))];
  if (one !== other) return one < other ? -1 : 1;
  const { line, column, from } = links;
  return (
    cellAt(line, a) - cellAt(line, b) || cellAt(column, a) - cellAt(column, b) || cellAt(from, a) - cellAt(from, b)
  );
}

/** Where a piece is written, as evidence. */
export function placeOf(graph: Graph, piece: number, shows: string): { file: string; range: Range; shows: string }[] {
  const file = graph.texts[cellAt(graph.pieces.file, piece)];
  if (!file) return [];
  const { line, column, endLine, endColumn } = graph.pieces;
  return [
    {
      file,
      range: {
        line: cellAt(line, piece),
        column: cellAt(column, piece),
        endLine: cellAt(endLine, piece),
        endColumn: cellAt(endColumn, piece),
      },
      shows,
    },
  ];
}

/**
 * What a piece is known by in fingerprints: its identity, or else its name, with the object, record or type that it
 * belongs to. Never its way through the tree: that changes when a group is renamed or an object wrapped.
 */
export function sameKey(graph: Graph, piece: number): string {
  if (piece < 0) return '';
  const steps: string[] = [];
  let at = piece;
  for (; at >= 0; at = cellAt(graph.pieces.parent, at)) {
    const id = itemAt(graph.texts, cellAt(graph.pieces.id, at));
    steps.push(id ? `#${id}` : nameOf(graph, at));
    if (STANDS_ALONE.has(kindOf(graph, at))) break;
  }
  return [kindOf(graph, piece), itemAt(graph.texts, cellAt(graph.pieces.file, piece)), ...steps].join('\u0001');
}

const STANDS_ALONE = new Set<PieceKind>(['object', 'record']);

/** What linking noted of one kind. */
export function faultsOf<K extends Fault['is']>({ faults }: Linked, kind: K): (Fault & { is: K })[] {
  return faults.filter((fault): fault is Fault & { is: K } => fault.is === kind);
}

/** Members that are surely missing: of some languages only those whose name no script mentions. */
export function missingMembers(linked: Linked): MissingMember[] {
  return faultsOf(linked, 'missing member').filter(
    ({ unlessMentioned, isHidden, member }) => !unlessMentioned || isHidden || !linked.mentions.has(member),
  );
}

/** “one step”, “two steps”, “12 steps”. */
export function steps(count: number): string {
  const words = ['no', 'one', 'two', 'three', 'four', 'five', 'six'];
  return `${words[count] ?? count} ${count === 1 ? 'step' : 'steps'}`;
}
