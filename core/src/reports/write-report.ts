/** Findings in any of the forms in which they leave the tool. */
import { CHECK_IDS } from '../checks/registry.js';
import { baselineText, remembered } from '../decisions/since.js';
import type { Severity } from '../model/finding.js';
import { toCsv } from './csv.js';
import { toHtml } from './html.js';
import { toJunit } from './junit.js';
import { toMarkdown } from './markdown.js';
import type { Report } from './report.js';
import { toSarif, type Fix } from './sarif.js';
import { toText, type TextOptions } from './text.js';

export const REPORT_FORMATS = ['text', 'json', 'sarif', 'junit', 'markdown', 'csv', 'html', 'baseline'] as const;
export type ReportFormat = (typeof REPORT_FORMATS)[number];

export interface ReportOptions extends TextOptions {
  /** For JUnit: the least grave severity that fails. */
  failOn?: Severity | 'never';
  /** For SARIF: repairs that were tried, by the fingerprint of their finding. */
  fixes?: ReadonlyMap<string, Fix>;
  /** For JSON: what else is told. */
  more?: object;
}

export function writeReport(report: Report, format: ReportFormat, options: ReportOptions = {}): string {
  switch (format) {
    case 'text':
      return toText(report, options);
    case 'json':
      return jsonOf(report, options.more);
    case 'sarif':
      return `${JSON.stringify(toSarif(report, options.fixes), null, 2)}\n`;
    case 'junit':
      return toJunit(report, options.failOn ?? 'error', CHECK_IDS);
    case 'markdown':
      return toMarkdown(report);
    case 'csv':
      return toCsv(report);
    case 'html':
      return toHtml(report);
    case 'baseline':
      return baselineText(report.findings.filter(({ waived }) => !waived).map(remembered));
  }
}

function jsonOf({ version, readiness, findings, since }: Report, more: object = {}): string {
  const told = since ? findings.map((one) => ({ ...one, isNew: since.appeared.has(one.fingerprint) })) : findings;
  const measured = since && { since: { name: since.name, gone: since.gone } };
  return `${JSON.stringify({ version, readiness, ...measured, ...more, findings: told }, null, 2)}\n`;
}
