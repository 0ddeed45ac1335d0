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
  /** Findings that are accepted on purpose: they count nowhere else. */
  waived: number;
  /** Keys of the pieces that play begins with when nobody says otherwise. */
  starts?: string[];
  /** How much of the project the verdict rests on; undefined where nobody looked. */
  known?: Known;
  /** Rules of the plan that were learned and that nobody has looked at, and findings that rest on them. */
  learned?: { rules: number; unsure: number; findings: number };
}

const MOST_HURTING = 5;
const MEDIA = PIECE_KINDS.indexOf('media');
/** A map of nothing but files that are listed speaks of the plan, not of the project. */
const NOTHING_READ = 'Nothing can be said: the plan reads none of the files here';

/** What was read of a project. */
export interface ReadShare {
  /** Text files, and of them those that a rule reads. */
  texts: number;
  read: number;
  /** Scripts, and whether the plan says of any call in them what it means. */
  scripts: number;
  areCallsKnown: boolean;
}

export interface Known extends ReadShare {
  /** So little is known that nothing is promised. */
  isLittle: boolean;
}

/** What a verdict needs to know of a finding. */
export type Counted = Pick<Finding, 'check' | 'severity' | 'waived' | 'isLearned'>;

export interface VerdictOptions {
  learned?: Plan['learned']['rules'];
  known?: Known;
  /** Pieces that count: those marked 1; all unless given. */
  route?: Uint8Array;
  starts?: string[];
}

/** Unless the house says otherwise. */
const LEAST_READ = 0.5;
/** Fewer scripts may well call nothing of the engine. */
const FEWEST_SCRIPTS = 3;

/** The verdict on what was found, waived findings apart. */
export function readinessOf(
  graph: Graph,
  all: readonly Counted[],
  { learned = {}, known, route, starts }: VerdictOptions = {},
): Readiness {
  const findings = all.filter(({ waived }) => waived === undefined);
  const bySeverity = countSeverities(findings);
  const houseErrors = findings.filter(({ severity, check }) => severity === 'error' && HOUSE_CHECKS.has(check)).length;
  // Files that are known by their names alone say nothing.
  const isRead = graph.pieces.kind.some((kind) => kind !== MEDIA);
  const isMeant = (link: number): boolean => !route || route[cellAt(graph.links.from, link)] === 1;
  const grips = counts(graph.links.grip, GRIPS.length, isMeant);
  const verbs = counts(graph.links.verb, VERBS.length, isMeant);
  return {
    isReady: bySeverity.error === 0 && isRead && known?.isLittle !== true,
    verdict: isRead
      ? (known?.isLittle ? `${littleWords(known)}. ` : '') + verdictOf(bySeverity, houseErrors, known?.isLittle)
      : NOTHING_READ,
    bySeverity,
    houseErrors,
    byFamily: byFamily(findings),
    byGrip: Object.fromEntries(GRIPS.map((grip, at) => [grip, itemAt(grips, at)])) as Record<Grip, number>,
    byVerb: Object.fromEntries(
      VERBS.map((verb, at) => [verb, itemAt(verbs, at)] as const).filter(([, found]) => found > 0),
    ),
    wouldHurt: wouldHurt(graph, route),
    pieces: route ? onlyOn(route, graph.pieceCount, (piece) => piece) : graph.pieceCount,
    links: route ? onlyOn(route, graph.linkCount, (link) => cellAt(graph.links.from, link)) : graph.linkCount,
    waived: all.length - findings.length,
    ...(starts && { starts }),
    ...(known && { known }),
    ...learnedIn(learned, findings),
  };
}

/** How many of so many pieces or links lie on a route. */
function onlyOn(route: Uint8Array, count: number, pieceOf: (at: number) => number): number {
  let found = 0;
  for (let at = 0; at < count; at++) if (route[pieceOf(at)] === 1) found++;
  return found;
}

/** @param least the share of text files that must be read for a verdict, from 0 to 1 */
export function knownBy(share: ReadShare, least = LEAST_READ): Known {
  const { texts, read, scripts, areCallsKnown } = share;
  const isLittle = read < texts * least || (scripts >= FEWEST_SCRIPTS && !areCallsKnown && least > 0);
  return { ...share, isLittle };
}

function littleWords({ texts, read, scripts, areCallsKnown }: Known): string {
  const files = `${read} of ${texts} text files are read`;
  const calls = `the plan says of no call in ${scripts} scripts what it means`;
  return `Nothing is promised: ${scripts >= FEWEST_SCRIPTS && !areCallsKnown ? calls : `only ${files}`}`;
}

function learnedIn(rules: Plan['learned']['rules'], findings: readonly Counted[]): Pick<Readiness, 'learned'> {
  const all = Object.values(rules);
  if (all.length === 0) return {};
  const unsure = all.filter(({ sure }) => sure < SURE_ENOUGH).length;
  return { learned: { rules: all.length, unsure, findings: findings.filter(({ isLearned }) => isLearned).length } };
}

/** What these checks find, the team has ruled out; play does not fail by it. */
const HOUSE_CHECKS: ReadonlySet<string> = new Set(['broken/file-type-mismatch', 'broken/wrong-place']);

/** @param house how many of the errors break a rule of the house alone */
export function verdictOf({ error, warning, note }: Record<Severity, number>, house = 0, isLittle = false): string {
  const fail = error - house;
  const rules = house === 1 ? 'one breaks a rule of the house' : `${house} break a rule of the house`;
  if (fail > 0)
    return `Not ready to play: ${fail} ${fail === 1 ? 'thing' : 'things'} will fail${house > 0 ? `, and ${rules}` : ''}`;
  if (house > 0) return `Not ready by the rules of the house: ${house} ${house === 1 ? 'is' : 'are'} broken`;
  // What is read may be fine; what is not read nobody knows.
  if (isLittle && error + warning + note > 0) return `What is read comes to ${error + warning + note} findings`;
  if (isLittle) return 'Nothing was found in what is read';
  if (warning > 0) return `Ready to play, but ${warning} ${warning === 1 ? 'thing depends' : 'things depend'} on luck`;
  if (note > 0) return `Ready to play, with ${note} ${note === 1 ? 'note' : 'notes'} for later`;
  return 'Ready to play: nothing was found that would fail';
}

function noSeverities(): Record<Severity, number> {
  return Object.fromEntries(SEVERITIES.map((severity) => [severity, 0])) as Record<Severity, number>;
}

function countSeverities(findings: readonly Counted[]): Record<Severity, number> {
  const counted = noSeverities();
  for (const { severity } of findings) counted[severity]++;
  return counted;
}

function byFamily(findings: readonly Counted[]): Readiness['byFamily'] {
  const families = new Map(['broken', 'twin', 'fragile'].map((family) => [family, noSeverities()]));
  for (const { check, severity } of findings) knownIn(families, check.slice(0, check.indexOf('/')))[severity]++;
  return [...families]
    .map(([family, counted]) => ({ family, counts: counted }))
    .filter(({ counts: counted }) => SEVERITIES.some((severity) => counted[severity] > 0));
}

/** How often each value from 0 up stands in a column, for the links that are meant. */
function counts(column: Int32Array, values: number, isMeant: (link: number) => boolean): number[] {
  const found = new Array<number>(values).fill(0);
  for (const [link, value] of column.entries()) if (isMeant(link)) found[value] = (found[value] ?? 0) + 1;
  return found;
}

function wouldHurt(graph: Graph, route?: Uint8Array): Readiness['wouldHurt'] {
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
    if (route && route[piece] !== 1) continue;
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
