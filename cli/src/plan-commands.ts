import { resolve } from 'node:path';
import { builtInRules, ruleSamples, type RuleSample, itemAt } from '@glue-trace/core';
import {
  checkFolder,
  coverageBy,
  endingOf,
  folderOf,
  proposePlan,
  scanFolder,
  STATUSES,
  writePlan,
  type Coverage,
} from '@glue-trace/server';
import { give, remark, tell } from './terminal.js';

/** Writes a starter plan, or prints it. */
export function planInit(dir: string, flags: { print?: boolean }): Promise<void> {
  checkFolder(dir);
  const text = proposePlan(resolve(dir));
  if (flags.print) return give(text);
  const path = writePlan(resolve(dir), text);
  return tell(`Wrote ${path}. Correct it, then run “glue plan check ${dir}”.\n`);
}

/** Prints a line for each rule of the plan with a sample, coverage by folder and ending, and the files nothing reads. */
export async function planCheck(dir: string, flags: { plan?: string; allowEmpty?: boolean }): Promise<void> {
  const { analysis, files, plan } = await scanFolder({ folder: dir, planFile: flags.plan });
  const { rules, facts } = analysis.linked;
  const samples = ruleSamples(facts, plan);
  const rows = [...rules].map(([rule, { files: count, pieces, uses, links, lost }]) => [
    rule,
    count,
    pieces,
    uses ?? '',
    links,
    lost,
    lost > 0 ? `${Math.round((100 * lost) / (links + lost))}%` : '',
    sampleWords(samples.get(rule)),
  ]);
  const idle = [...rules]
    .filter(([, { files: count, pieces, uses = 0, links, lost }]) => count + pieces + uses + links + lost === 0)
    .map(([rule]) => rule);
  // A row of the call table may wait for scripts to come; a rule for files that finds nothing is most likely misspelt.
  const given = builtInRules(plan);
  const empty = idle.filter((rule) => EMPTY_IS_WRONG.test(rule) && !given.has(rule.split('.')[1] ?? ''));
  const unread = files.filter((file) => file.status === 'unread');
  const troubled = files.filter((file) => file.status !== 'unread' && file.reason);
  const lines = [
    table([['rule', 'files', 'pieces', 'calls', 'links', 'lost', 'share', '  for example'], ...rows]),
    '',
    coverage('folder', coverageBy(files, folderOf)),
    '',
    coverage('ending', coverageBy(files, endingOf)),
    '',
    ...(idle.length > 0 ? [`Rules that found nothing: ${idle.join(', ')}`, ''] : []),
    `${plan.name}: ${files.length} files, ${files.filter((file) => file.status === 'read').length} read, ${unread.length} that nothing reads`,
    ...[...unread, ...troubled].map((file) => `  ${file.path}: ${file.reason}`),
  ];
  await tell(lines.join('\n') + '\n');
  if (empty.length === 0 || flags.allowEmpty) return;
  remark('glue: a rule for files, pieces or references found nothing; --allow-empty lets that pass.');
  process.exitCode = 1;
}

/** Kinds of steps of a graph may well not be used: their rules have a colon in their name. */
const EMPTY_IS_WRONG = /^files\.[^.]+(\.(pieces|references)\.[^:]+)?$/;

const LONGEST_SAMPLE = 40;

function sampleWords(sample: RuleSample | undefined): string {
  if (!sample) return '';
  const { text, file, line } = sample;
  const short = text.length > LONGEST_SAMPLE ? `${text.slice(0, LONGEST_SAMPLE)}…` : text;
  return `  “${short}” ${file}:${line}`;
}

/** How many files of each folder or ending were read, and how many not. */
function coverage(what: string, rows: Coverage[]): string {
  const heads = ['read', 'with faults', 'by name', 'by nothing'];
  return table([
    [what, ...heads],
    ...rows.map(({ name, counts }) => [name || '(at the root)', ...STATUSES.map((one) => counts[one])]),
  ]);
}

/** Columns side by side; the first to the left, numbers to the right. */
function table(rows: (string | number)[][]): string {
  const widths = itemAt(rows, 0).map((_, column) => Math.max(...rows.map((row) => String(row[column]).length)));
  return rows
    .map((row) =>
      row
        .map((cell, column) =>
          column === 0 || column === 7
            ? String(cell).padEnd(itemAt(widths, column))
            : String(cell).padStart(itemAt(widths, column)),
        )
        .join('  ')
        .trimEnd(),
    )
    .join('\n');
}
