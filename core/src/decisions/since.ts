/** What came since: findings of a scan beside those of an earlier one, or of a baseline. */
import Joi from 'joi';
import { cellAt, itemAt } from '../helpers/at.js';
import { SEVERITIES, type Severity } from '../model/finding.js';
import { keyOf, type Graph } from '../model/graph.js';
import { GRIPS, VERBS } from '../model/link.js';
import type { FindingView } from '../trace/finding-view.js';
import { readDocument } from './documents.js';

/** What is kept of a finding to know it again and to tell of it when it is gone. */
export interface Remembered {
  fingerprint: string;
  check: string;
  severity: Severity;
  file: string;
  line: number;
  text: string;
  /** It was accepted on purpose. */
  isWaived?: boolean;
}

/** How findings stand to the time before. What is accepted on purpose has neither come nor gone. */
export interface Since<Now extends Remembered = Remembered> {
  appeared: Now[];
  /** Found before as well; `moved` are those of them that stand in another file now. */
  same: Now[];
  moved: Now[];
  gone: Remembered[];
  /** Counted before, and accepted on purpose now. */
  waived: Now[];
}

export function sinceThen<Now extends Remembered>(now: readonly Now[], before: readonly Remembered[]): Since<Now> {
  const known = new Map(before.map((one) => [one.fingerprint, one]));
  const here = new Set(now.map(({ fingerprint }) => fingerprint));
  const open = now.filter(({ isWaived }) => isWaived !== true);
  const same = open.filter(({ fingerprint }) => known.has(fingerprint));
  return {
    appeared: open.filter(({ fingerprint }) => !known.has(fingerprint)),
    same,
    moved: same.filter(({ fingerprint, file }) => known.get(fingerprint)?.file !== file),
    gone: before.filter(({ fingerprint, isWaived }) => !here.has(fingerprint) && isWaived !== true),
    waived: now.filter(({ fingerprint, isWaived }) => isWaived === true && known.get(fingerprint)?.isWaived !== true),
  };
}

/** Fingerprints of those that were not found before, accepted on purpose or not. */
export function newSince(
  now: readonly Pick<Remembered, 'fingerprint'>[],
  before: readonly Remembered[],
): ReadonlySet<string> {
  const known = new Set(before.map(({ fingerprint }) => fingerprint));
  return new Set(now.flatMap(({ fingerprint }) => (known.has(fingerprint) ? [] : [fingerprint])));
}

export function remembered(
  finding: Pick<FindingView, 'fingerprint' | 'check' | 'severity' | 'evidence' | 'text' | 'waived'>,
): Remembered {
  const { file, range } = itemAt(finding.evidence, 0);
  const { fingerprint, check, severity, text } = finding;
  return { fingerprint, check, severity, file, line: range.line, text, ...(finding.waived && { isWaived: true }) };
}

interface Baseline {
  baseline: 1;
  findings: Remembered[];
}

export const baselineSchema = Joi.object<Baseline>({
  baseline: Joi.number().valid(1).default(1).description('the version of this form'),
  findings: Joi.array()
    .items(
      Joi.object({
        fingerprint: Joi.string().min(1).max(100).required().description('what a finding is known by'),
        check: Joi.string().max(100).default('').description('the check that found it'),
        severity: Joi.string()
          .valid(...SEVERITIES)
          .default('error')
          .description('how grave it is'),
        file: Joi.string().max(4096).allow('').default('').description('where it stands'),
        line: Joi.number().integer().min(1).default(1).description('the line, from 1'),
        text: Joi.string().max(10_000).allow('').default('').description('what was found'),
        isWaived: Joi.boolean().description('whether it was accepted on purpose'),
      }).unknown(true),
    )
    .default([])
    .description('what is known and no longer new'),
}).unknown(true);

/**
 * Reads a baseline: one that was written as such, or findings written with `--format json`.
 * @param name of the file, for what is wrong with it
 * @throws GlueError `baseline/invalid`
 */
export function readBaseline(text: string, name: string): Remembered[] {
  return readDocument(text, name, baselineSchema, 'baseline/invalid').findings;
}

/** What is found now as a baseline: in an order and with a line each, so that version control shows what came and went. */
export function baselineText(findings: readonly Remembered[]): string {
  const lines = [...findings]
    .sort((a, b) => (`${a.check} ${a.fingerprint}` < `${b.check} ${b.fingerprint}` ? -1 : 1))
    .map((one) => `    ${JSON.stringify(one)}`);
  return `{\n  "baseline": 1,\n  "findings": [${lines.length > 0 ? `\n${lines.join(',\n')}\n  ` : ''}]\n}\n`;
}

/** A link as people read it: keys of its ends, and what it does. */
export interface LinkName {
  from: string;
  verb: string;
  /** Left out when it leads nowhere, or when it is not known where it leads. */
  to?: string;
  isLost?: true;
  label?: string;
}

/** What came and what went: the first ones, and how many there are. */
export interface CameAndWent<What> {
  came: What[];
  went: What[];
  cameCount: number;
  wentCount: number;
}

/** What of a map came and went. Copies in instances go with what they are copies of. */
export interface MapChange {
  /** By their keys. */
  pieces: CameAndWent<string>;
  links: CameAndWent<LinkName>;
}

/** Pieces and links that are told at most. */
const MOST_TOLD = 200;
/** Between the parts of a link's sign: no name of a file or of a thing in one holds it. */
const BETWEEN = '\0';

export function mapChange(now: Graph, then: Graph): MapChange {
  const links = cameAndWent(linksIn(now), linksIn(then));
  return {
    pieces: cameAndWent(keysIn(now), keysIn(then)),
    links: { ...links, came: links.came.map(linkNamed), went: links.went.map(linkNamed) },
  };
}

function cameAndWent(now: ReadonlyMap<string, number>, then: ReadonlyMap<string, number>): CameAndWent<string> {
  const only = (one: ReadonlyMap<string, number>, other: ReadonlyMap<string, number>): [string[], number] => {
    const told: string[] = [];
    let count = 0;
    for (const [sign, times] of one) {
      const more = times - (other.get(sign) ?? 0);
      if (more <= 0) continue;
      count += more;
      if (told.length < MOST_TOLD) told.push(sign);
    }
    return [told, count];
  };
  const [came, cameCount] = only(now, then);
  const [went, wentCount] = only(then, now);
  return { came, went, cameCount, wentCount };
}

function keysIn(graph: Graph): Map<string, number> {
  const keys = new Map<string, number>();
  for (let piece = 0; piece < graph.pieceCount; piece++)
    if (cellAt(graph.pieces.origin, piece) < 0) keys.set(keyOf(graph, piece), 1);
  return keys;
}

/** Links by what they lead from and to, with how often there is such a one. */
function linksIn(graph: Graph): Map<string, number> {
  const { from, to, verb, label, grip } = graph.links;
  const found = new Map<string, number>();
  for (let link = 0; link < graph.linkCount; link++) {
    if (cellAt(graph.pieces.origin, cellAt(from, link)) >= 0) continue;
    const end = cellAt(to, link) < 0 ? '' : keyOf(graph, cellAt(to, link));
    const parts = [
      keyOf(graph, cellAt(from, link)),
      VERBS[cellAt(verb, link)] ?? '',
      end,
      GRIPS[cellAt(grip, link)] === 'lost' ? 'lost' : '',
      itemAt(graph.texts, cellAt(label, link)),
    ];
    const sign = parts.join(BETWEEN);
    found.set(sign, (found.get(sign) ?? 0) + 1);
  }
  return found;
}

function linkNamed(sign: string): LinkName {
  const [from = '', verb = '', to = '', lost = '', ...label] = sign.split(BETWEEN);
  const words = label.join(BETWEEN);
  return { from, verb, ...(to && { to }), ...(lost && { isLost: true }), ...(words && { label: words }) };
}
