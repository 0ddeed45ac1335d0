/** Findings that a team accepts on purpose: what it wrote of them, and what that comes to for the findings of a scan. */
import Joi from 'joi';
import { itemAt } from '../helpers/at.js';
import { push } from '../helpers/push.js';
import type { Finding, Waived } from '../model/finding.js';
import { compileGlob } from '../reading/glob.js';
import { isMatch } from '../reading/match.js';
import type { FileFacts, WaiverMark } from '../reading/facts.js';
import { readDocument } from './documents.js';

/** Where a project's waivers stand. */
export const WAIVERS_FILE = 'glue-trace.waivers.json';

/** One entry of the file: a finding by its fingerprint, or all of a check at a place. */
export interface Waiver {
  finding?: string;
  /** With a finding for people to read; without, what is waived: the check or, as `fragile/*`, its family. */
  check?: string;
  /** Without a finding: a glob of the files in which it is waived. */
  in?: string;
  /** The finding’s sentence when it was waived, for people to read. */
  says?: string;
  reason: string;
  by?: string;
  /** Days as 2026-03-02: when it was written, and the last one on which it counts. */
  on?: string;
  until?: string;
}

export interface Waivers {
  waivers: Waiver[];
}

const DAY = /^\d{4}-(?:0[1-9]|1[0-2])-(?:0[1-9]|[12]\d|3[01])$/;
const day = Joi.string().pattern(DAY, 'day, such as 2026-03-02');

const waiverSchema = Joi.object<Waiver>({
  finding: Joi.string()
    .pattern(/^[0-9a-f]{8,64}$/, 'fingerprint')
    .description('fingerprint of the finding that is accepted'),
  check: Joi.string()
    .max(100)
    .description('without a finding: the check of which all is accepted, or its family as `fragile/*`'),
  in: Joi.string()
    .max(4096)
    .custom((glob: string, helpers) => {
      try {
        compileGlob(glob);
        return glob;
      } catch {
        return helpers.message({ custom: '{{#label}} is no glob' });
      }
    })
    .description('without a finding: a glob of the files in which it is accepted; everywhere when left out'),
  says: Joi.string().max(2000).allow('').description('the sentence of the finding, for people to read'),
  reason: Joi.string().trim().min(1).max(2000).required().description('why it is accepted'),
  by: Joi.string().max(200).allow('').description('who decided it'),
  on: day.description('when that was'),
  until: day.description('the last day on which it counts; for good when left out'),
}).or('finding', 'check');

export const waiversSchema = Joi.object<Waivers & { $schema?: string }>({
  $schema: Joi.string().description('where this schema stands, for editors'),
  waivers: Joi.array().items(waiverSchema).default([]).description('findings that are accepted on purpose'),
});

/** @throws GlueError `waivers/invalid` with every mistake and its line */
export function readWaivers(text: string): Waiver[] {
  return readDocument(text, WAIVERS_FILE, waiversSchema, 'waivers/invalid').waivers;
}

/** Keys in the order in which people read them. */
const KEYS = ['check', 'in', 'finding', 'says', 'reason', 'by', 'on', 'until'] as const;

/**
 * Waivers as text: one key a line and in an order that does not depend on when they were written, so that two people who
 * add some touch different lines.
 */
export function waiversText(waivers: readonly Waiver[]): string {
  const sortKey = ({ check = '', in: where = '', finding = '' }: Waiver): string => `${check}\n${where}\n${finding}`;
  const ordered = [...waivers].sort((a, b) => (sortKey(a) < sortKey(b) ? -1 : sortKey(a) > sortKey(b) ? 1 : 0));
  const clean = ordered.map((one) =>
    Object.fromEntries(KEYS.flatMap((key) => (one[key] === undefined || one[key] === '' ? [] : [[key, one[key]]]))),
  );
  return `${JSON.stringify({ waivers: clean }, null, 2)}\n`;
}

/** What waivers come to in a scan. */
export interface Decided {
  /** The same findings, those that are accepted with the reason, those that were with when that ended. */
  findings: Finding[];
  /** Waivers that match nothing any more. */
  idle: Waiver[];
}

/**
 * Tells which findings are accepted today.
 * @param today as 2026-03-02
 */
export function decided(
  findings: readonly Finding[],
  waivers: readonly Waiver[],
  facts: readonly FileFacts[],
  today: string,
): Decided {
  const byFinding = new Map<string, Waiver[]>();
  const general: Waiver[] = [];
  for (const one of waivers) {
    if (one.finding !== undefined) push(byFinding, one.finding, one);
    else general.push(one);
  }
  const marks = new Map(facts.flatMap(({ file, waivers: own }) => (own ? [[file, own] as const] : [])));
  const used = new Set<Waiver>();
  const told = findings.map(({ waived: _waived, waiverEnded: _ended, ...finding }): Finding => {
    const matching = [...(byFinding.get(finding.fingerprint) ?? []), ...general.filter((one) => covers(one, finding))];
    for (const one of matching) used.add(one);
    const all: Waived[] = [...matching.map(waivedBy), ...marksOf(finding, marks)];
    const inForce = all.find(({ until }) => until === undefined || until >= today);
    if (inForce) return { ...finding, waived: inForce };
    const ended = all.sort((a, b) => ((a.until ?? '') < (b.until ?? '') ? 1 : -1))[0];
    return ended ? { ...finding, waiverEnded: ended } : finding;
  });
  return { findings: told, idle: waivers.filter((one) => !used.has(one)) };
}

function waivedBy({ reason, by, until, on }: Waiver): Waived {
  return { reason, ...(by && { by }), ...(on && { on }), ...(until && { until }) };
}

/** Whether a waiver without a finding is about this one: by its check, and where all of its places may be. */
export function covers({ check, in: where }: Waiver, finding: Pick<Finding, 'check' | 'files'>): boolean {
  if (check === undefined || !(check === finding.check || isFamily(check, finding.check))) return false;
  return where === undefined || (finding.files.length > 0 && finding.files.every((file) => isMatch(file, [where])));
}

const isFamily = (pattern: string, check: string): boolean =>
  pattern.endsWith('/*') && check.startsWith(pattern.slice(0, -1));

function marksOf({ check, evidence }: Finding, marks: ReadonlyMap<string, readonly WaiverMark[]>): Waived[] {
  const { file, range } = itemAt(evidence, 0);
  return (marks.get(file) ?? [])
    .filter((one) => one.line === range.line && (one.check === undefined || one.check === check))
    .map(({ reason, until }) => ({ reason, ...(until !== undefined && { until }), isInFile: true as const }));
}
