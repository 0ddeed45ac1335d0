/** Findings as Markdown, for notes and reviews. */
import { grouped } from '../helpers/grouped.js';
import type { FindingView } from '../trace/finding-view.js';
import { newness, waivedWords, type Report } from './report.js';

const NAMED: Record<string, string> = { '<': '&lt;', '>': '&gt;', '&': '&amp;' };

/** A text in which no sign means anything, on one line. */
function markdownText(text: string): string {
  return (
    text
      .replace(/\s*[\r\n]+\s*/g, ' ')
      .replace(/[\\`*_[\]<>|~&]/g, (sign) => NAMED[sign] ?? `\\${sign}`)
      // What opens a heading or a list where a line begins.
      .replace(/^(\d*)([#+\-.)])/, '$1\\$2')
  );
}

/** A text as code, whatever it holds. */
function code(text: string): string {
  const line = text.replace(/[\r\n]+/g, ' ');
  const longest = Math.max(0, ...[...line.matchAll(/`+/g)].map(([run]) => run.length));
  const fence = '`'.repeat(longest + 1);
  const gap = line.startsWith('`') || line.endsWith('`') ? ' ' : '';
  return `${fence}${gap}${line}${gap}${fence}`;
}

const HEADS = { error: 'Errors', warning: 'Warnings', note: 'Notes' } as const;

export function toMarkdown(report: Report): string {
  const { project, at, readiness, findings, since, chosen } = report;
  const open = findings.filter(({ waived }) => !waived);
  const waived = findings.filter((one) => one.waived);
  const parts = [
    `# ${markdownText(project)}\n`,
    `**${markdownText(readiness.verdict)}.**${at ? ` Scanned ${markdownText(at)}.` : ''}${chosen ? ` ${markdownText(chosen)}` : ''}\n`,
    ...(since ? [`Since ${markdownText(since.name)}: ${since.appeared.size} new, ${since.gone.length} gone.\n`] : []),
    ...grouped(open, ({ severity }) => severity).flatMap((all) => [
      `## ${HEADS[all[0].severity]} (${all.length})\n`,
      ...all.map((one) => entry(one, newness(report, one))),
    ]),
    ...(waived.length > 0
      ? [
          `## Waived (${waived.length})\n`,
          ...waived.map((one) => `- ${markdownText(one.text)} – ${markdownText(waivedWords(one))}\n`),
        ]
      : []),
    ...(since && since.gone.length > 0
      ? [
          `## Gone since ${markdownText(since.name)} (${since.gone.length})\n`,
          ...since.gone.map(({ text }) => `- ${markdownText(text)}\n`),
        ]
      : []),
  ];
  return parts.join('\n');
}

function entry(finding: FindingView, isNew: string): string {
  return [
    `- ${isNew === 'new' ? '**new** ' : ''}${markdownText(finding.text)} (${code(finding.check)})`,
    ...finding.evidence.map(({ file, range, shows }) => `  - ${code(`${file}:${range.line}`)} ${markdownText(shows)}`),
    `  - ${markdownText(finding.sure)}`,
    ...finding.repairs.map(({ title, words }) => `  - ${markdownText(title)}: ${markdownText(words)}`),
    '',
  ].join('\n');
}
