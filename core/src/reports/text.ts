import { itemAt } from '../helpers/at.js';
import type { FindingView } from '../trace/finding-view.js';
import type { Waiver } from '../decisions/waivers.js';
import { newness, waivedWords, type Report } from './report.js';

/** More of one finding would push the others out of sight; they are in the other forms of the report. */
const MOST_EVIDENCE = 8;

export interface TextOptions {
  /** Waived findings are shown as well. */
  withWaived?: boolean;
  /** Waivers that match nothing any more. */
  idle?: readonly Waiver[];
}

/** Findings as lines for a terminal, with the verdict last; measured against an earlier time, only what is new. */
export function toText(report: Report, { withWaived = false, idle = [] }: TextOptions = {}): string {
  const { readiness, since, findings } = report;
  const shown = findings.filter((one) => (withWaived || !one.waived) && newness(report, one) !== 'known');
  const lines = shown.flatMap((one) => [...linesOf(one, since !== undefined), '']);
  const { error, warning, note } = readiness.bySeverity;
  const waived = readiness.waived > 0 ? `, ${readiness.waived} waived` : '';
  return [
    ...lines,
    ...sinceLines(report),
    ...(report.chosen ? [report.chosen] : []),
    ...idle.map((one) => `A waiver matches nothing any more: ${idleWords(one)}`),
    `${readiness.verdict}.`,
    `${count(error, 'error')}, ${count(warning, 'warning')}, ${count(note, 'note')}${waived}`,
    '',
  ].join('\n');
}

function linesOf(finding: FindingView, isMeasured: boolean): string[] {
  const { severity, text, evidence, places, check, repairs, waived, waiverEnded, sure } = finding;
  return [
    `${severity.padEnd(7)} ${text}`,
    ...evidence
      .slice(0, MOST_EVIDENCE)
      .map(({ file, range, shows }) => `        ${file}:${range.line}:${range.column}  ${shows}`),
    ...(evidence.length > MOST_EVIDENCE ? [`        and more: ${places} places in all`] : []),
    ...(isMeasured ? [`        ${sure}`] : []),
    ...(waived ? [`        waived: ${waivedWords(finding)}`] : []),
    ...(waiverEnded ? [`        its waiver ended on ${waiverEnded.until ?? ''}: ${waiverEnded.reason}`] : []),
    `        ${check}${repairs.length > 0 ? ` · ${itemAt(repairs, 0).title}` : ''}`,
  ];
}

function sinceLines({ since, findings }: Report): string[] {
  if (!since) return [];
  const open = findings.filter(({ waived }) => !waived);
  const fresh = open.filter(({ fingerprint }) => since.appeared.has(fingerprint)).length;
  const known = open.length - fresh;
  const gone = since.gone.length;
  return [`Since ${since.name}: ${fresh === 0 ? 'nothing' : fresh} new, ${known} known before, ${gone} gone.`];
}

function idleWords({ check, in: where, says, finding, reason }: Waiver): string {
  const what = says ?? [check, where && `in ${where}`].filter(Boolean).join(' ');
  return `${what || (finding ?? '')} (${reason})`;
}

function count(number: number, word: string): string {
  return `${number} ${word}${number === 1 ? '' : 's'}`;
}
