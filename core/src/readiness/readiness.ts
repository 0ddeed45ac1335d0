/** The verdict: whether the project is ready to be played, in one sentence, with what speaks against it. */
import { cellAt, itemAt, knownIn } from '../helpers/at.js';
import { SURE_ENOUGH } from '../checks/learned.js';
import type { Plan } from '../reading/plan/plan.js';
import { GRIPS, VERBS, type Grip, type Verb } from '../model/link.js';
import { SEVERITIES, type Finding, type Severity } from '../model/finding.js';
import { keyOf, kindOf, titleOf, type Graph } from '../model/graph.js';
import { PIECE_KINDS, type PieceKind } from '../model/piece.js';

export interface Readiness {
  isReady: boolean;
  /** `Not ready to play: 4 things will fail`. */
  verdict: string;
  bySeverity: Record<Severity, number>;
  /** How many of the errors break a rule of the house alone: play does not fail by them. */
  houseErrors: number;
  /** Findings by family (`broken`, `fragile`) and severity. */
  byFamily: { family: string; counts: Record<Severity, number> }[];
  byGrip: Record<Grip, number>;
  byVerb: Partial<Record<Verb, number>>;
  /** Pieces on which most hangs by name or path: what would hurt most if touched. */
  wouldHurt: { key: string; kind: PieceKind; title: string; loose: number; all: number }[];
  pieces: number;
  links: number;
  /** Rules of the plan that were learned and that nobody has looked at, and findings that rest on them. */
  learned?: { rules: number; unsure: number; findings: number };
}

const MOST_HURTING = 5;
const MEDIA = PIECE_KINDS.indexOf('media');
/** A map of nothing but files that are listed speaks of the plan, not of the project. */
const NOTHING_READ = 'Nothing can be said: the plan reads none of the files here';

export function readinessOf(graph: Graph, findings: Finding[], learned: Plan['learned']['rules'] = {}): Readiness {
  const bySeverity = countSeverities(findings);
  const houseErrors = findings.filter(({ severity, check }) => severity === 'error' && HOUSE_CHECKS.has(check)).length;
  // Files that are known by their names alone say nothing.
  const isRead = graph.pieces.kind.some((kind) => kind !== MEDIA);
  const grips = counts(graph.links.grip, GRIPS.length);
  const verbs = counts(graph.links.verb, VERBS.length);
  return {
    isReady: bySeverity.error === 0 && isRead,
    verdict: isRead ? verdictOf(bySeverity, houseErrors) : NOTHING_READ,
    bySeverity,
    houseErrors,
    byFamily: byFamily(findings),
    byGrip: Object.fromEntries(GRIPS.map((grip, at) => [grip, itemAt(grips, at)])) as Record<Grip, number>,
    byVerb: Object.fromEntries(
      VERBS.map((verb, at) => [verb, itemAt(verbs, at)] as const).filter(([, found]) => found > 0),
    ),
    wouldHurt: wouldHurt(graph),
    pieces: graph.pieceCount,
    links: graph.linkCount,
    ...learnedIn(learned, findings),
  };
}

function learnedIn(rules: Plan['learned']['rules'], findings: Finding[]): Pick<Readiness, 'learned'> {
  const all = Object.values(rules);
  if (all.length === 0) return {};
  const unsure = all.filter(({ sure }) => sure < SURE_ENOUGH).length;
  return { learned: { rules: all.length, unsure, findings: findings.filter(({ isLearned }) => isLearned).length } };
}

/** What these checks find, the team has ruled out; play does not fail by it. */
const HOUSE_CHECKS: ReadonlySet<string> = new Set(['broken/file-type-mismatch', 'broken/wrong-place']);

/** @param house how many of the errors break a rule of the house alone */
export function verdictOf({ error, warning, note }: Record<Severity, number>, house = 0): string {
  const fail = error - house;
  const rules = house === 1 ? 'one breaks a rule of the house' : `${house} break a rule of the house`;
  if (fail > 0)
    return `Not ready to play: ${fail} ${fail === 1 ? 'thing' : 'things'} will fail${house > 0 ? `, and ${rules}` : ''}`;
  if (house > 0) return `Not ready by the rules of the house: ${house} ${house === 1 ? 'is' : 'are'} broken`;
  if (warning > 0) return `Ready to play, but ${warning} ${warning === 1 ? 'thing depends' : 'things depend'} on luck`;
  if (note > 0) return `Ready to play, with ${note} ${note === 1 ? 'note' : 'notes'} for later`;
  return 'Ready to play: nothing was found that would fail';
}

function noSeverities(): Record<Severity, number> {
  return Object.fromEntries(SEVERITIES.map((severity) => [severity, 0])) as Record<Severity, number>;
}

function countSeverities(findings: Finding[]): Record<Severity, number> {
  const counted = noSeverities();
  for (const { severity } of findings) counted[severity]++;
  return counted;
}

function byFamily(findings: Finding[]): Readiness['byFamily'] {
  const families = new Map(['broken', 'twin', 'fragile'].map((family) => [family, noSeverities()]));
  for (const { check, severity } of findings) knownIn(families, check.slice(0, check.indexOf('/')))[severity]++;
  return [...families]
    .map(([family, counted]) => ({ family, counts: counted }))
    .filter(({ counts: counted }) => SEVERITIES.some((severity) => counted[severity] > 0));
}

/** How often each value from 0 up stands in a column. */
function counts(column: Int32Array, values: number): number[] {
  const found = new Array<number>(values).fill(0);
  for (const value of column) found[value] = (found[value] ?? 0) + 1;
  return found;
}

function wouldHurt(graph: Graph): Readiness['wouldHurt'] {
  const path = GRIPS.indexOf('path');
  const name = GRIPS.indexOf('name');
  const runs = VERBS.indexOf('runs');
  const { grip, verb, to } = graph.links;
  const { starts } = graph.incoming;
  const loose = new Int32Array(graph.pieceCount);
  for (let link = 0; link < graph.linkCount; link++) {
    if (cellAt(to, link) >= 0 && (grip[link] === path || grip[link] === name) && verb[link] !== runs)
      loose[cellAt(to, link)] = cellAt(loose, cellAt(to, link)) + 1;
  }
  const all = (piece: number): number => cellAt(starts, piece + 1) - cellAt(starts, piece);
  const hurtsMore = (a: number, b: number): number => cellAt(loose, b) - cellAt(loose, a) || all(b) - all(a) || a - b;
  const most: number[] = [];
  for (let piece = 0; piece < graph.pieceCount; piece++) {
    if (
      cellAt(loose, piece) < 2 ||
      (most.length === MOST_HURTING && hurtsMore(piece, itemAt(most, MOST_HURTING - 1)) > 0)
    )
      continue;
    most.push(piece);
    most.sort(hurtsMore);
    most.length = Math.min(most.length, MOST_HURTING);
  }
  return most.map((piece) => ({
    key: keyOf(graph, piece),
    kind: kindOf(graph, piece),
    title: titleOf(graph, piece),
    loose: cellAt(loose, piece),
    all: all(piece),
  }));
}
