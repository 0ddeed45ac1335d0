/** Findings as a table (RFC 4180), a row each; no cell is taken for a formula by what opens it. */
import { stringify } from 'csv-stringify/sync';
import { itemAt } from '../helpers/at.js';
import { newness, waivedWords, type Report } from './report.js';

const COLUMNS = [
  'severity',
  'check',
  'finding',
  'file',
  'line',
  'column',
  'places',
  'new',
  'waived',
  'why it is sure',
  'repair',
  'fingerprint',
];

export function toCsv(report: Report): string {
  const rows = report.findings.map((finding) => {
    const { file, range } = itemAt(finding.evidence, 0);
    return [
      finding.severity,
      finding.check,
      finding.text,
      file,
      range.line,
      range.column,
      finding.places,
      newness(report, finding),
      waivedWords(finding),
      finding.sure,
      finding.repairs[0]?.title ?? '',
      finding.fingerprint,
    ];
  });
  return csvRows([COLUMNS, ...rows]);
}

/** Rows of a table, of which no cell is taken for a formula. */
export function csvRows(rows: readonly (readonly (string | number)[])[]): string {
  return stringify(rows as (string | number)[][], { escape_formulas: true, record_delimiter: '\r\n' });
}
