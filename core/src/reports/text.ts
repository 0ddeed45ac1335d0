import { itemAt } from '../helpers/at.js';
import { plain, type Finding } from '../model/finding.js';
import type { Readiness } from '../readiness/readiness.js';

/** More of one finding would push the others out of sight; they are in the other forms of the report. */
const MOST_EVIDENCE = 8;

/** Findings as lines for a terminal, with the verdict last. */
export function toText(findings: Finding[], readiness: Readiness): string {
  const lines = findings.flatMap((finding) => [
    `${finding.severity.padEnd(7)} ${plain(finding.sentence)}`,
    ...finding.evidence
      .slice(0, MOST_EVIDENCE)
      .map(({ file, range, shows }) => `        ${file}:${range.line}:${range.column}  ${shows}`),
    ...(finding.evidence.length > MOST_EVIDENCE ? [`        and more: ${finding.places} places in all`] : []),
    `        ${finding.check}${finding.repairs.length > 0 ? ` · ${itemAt(finding.repairs, 0).title}` : ''}`,
    '',
  ]);
  const { error, warning, note } = readiness.bySeverity;
  return [
    ...lines,
    `${readiness.verdict}.`,
    `${count(error, 'error')}, ${count(warning, 'warning')}, ${count(note, 'note')}`,
    '',
  ].join('\n');
}

function count(number: number, word: string): string {
  return `${number} ${word}${number === 1 ? '' : 's'}`;
}
