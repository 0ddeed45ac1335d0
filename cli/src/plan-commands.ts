import { existsSync } from 'node:fs';
import { resolve } from 'node:path';
import {
  builtInRules,
  itemAt,
  PLAN_FILE,
  ruleSamples,
  SURE_ENOUGH,
  withProposals,
  type RuleSample,
} from '@glue-trace/core';
import {
  checkFolder,
  coverageBy,
  endingOf,
  folderOf,
  learnBeside,
  learnFolder,
  planPath,
  scanFolder,
  STATUSES,
  writeInside,
  writePlan,
  type Coverage,
  type LearnedFolder,
} from '@glue-trace/server';
import { give, remark, tell } from './terminal.js';

export interface LearnFlags {
  write?: boolean;
  /** Only where there is no plan yet. */
  isFirst?: boolean;
  print?: boolean;
  sure: number;
  format: 'text' | 'json';
}

/**
 * Learns a plan from the files of a folder: shows its rules with the evidence, prints the plan, or writes it. Where one stands
 * already it is what that does not say.
 */
export async function planLearn(dir: string, { isFirst, ...flags }: LearnFlags): Promise<void> {
  checkFolder(dir);
  const folder = resolve(dir);
  if (!isFirst && existsSync(planPath(folder))) return learnMore(dir, folder, flags);
  const { write, print, sure, format } = flags;
  const learned = await learnFolder(folder, sure);
  if (print) return give(learned.text);
  if (write) {
    const path = writePlan(folder, learned.text);
    return tell(`Wrote ${path}: ${learnedShare(learned)}. Look through it, then run “glue scan ${dir}”.\n`);
  }
  if (format === 'json') {
    const { text, ...rest } = learned;
    return give(`${JSON.stringify({ ...rest, plan: text }, null, 2)}\n`);
  }
  const rows = learned.rules.map(({ key, sure: how, of, leads, says }) => [percent(how), leads, of, key, says]);
  return tell(
    [
      table([['sure', 'lead', 'of', 'rule', 'in words'], ...rows], [3, 4]),
      '',
      `${learnedShare(learned)}. --write writes the plan, --print prints it.`,
      '',
    ].join('\n'),
  );
}

async function learnMore(dir: string, folder: string, { write, print, sure, format }: LearnFlags): Promise<void> {
  const { fresh: all, failing, text } = await learnBeside(folder);
  const fresh = all.filter((one) => one.sure >= sure);
  const plan = withProposals(text, fresh);
  if (print) return give(plan);
  if (write) {
    if (fresh.length === 0) return tell(`Nothing was learned that ${PLAN_FILE} does not say. It stays as it is.\n`);
    writeInside(folder, PLAN_FILE, plan);
    const rules = fresh.length === 1 ? '1 rule' : `${fresh.length} rules`;
    return tell(`Added ${rules} to ${planPath(folder)}, under “learned” as well. Look through them.\n`);
  }
  if (format === 'json') return give(`${JSON.stringify({ new: fresh, failing, plan }, null, 2)}\n`);
  const news = fresh.map(({ key, sure: how, of, leads, says }) => [percent(how), leads, of, key, says]);
  const fails = failing.map(({ key, of, leads, instead }) => [
    percent(of === 0 ? 0 : leads / of),
    leads,
    of,
    key,
    instead
      ? `stands in the plan and does not hold; learned now: ${instead.says}`
      : 'stands in the plan and does not hold',
  ]);
  if (news.length + fails.length === 0) return tell(`Nothing was learned that ${PLAN_FILE} does not say.\n`);
  return tell(
    [
      table([['sure', 'lead', 'of', 'rule', 'in words'], ...news, ...fails], [3, 4]),
      '',
      `${fresh.length} new, ${failing.length} of the plan that do not hold. --write adds what is new to ${dir}/${PLAN_FILE}.`,
      '',
    ].join('\n'),
  );
}

/** That a scan went by a plan that was learned just now. */
export function learnedWords(dir: string, learned: LearnedFolder): string {
  return `glue: read by a plan learned just now: ${learnedShare(learned)}. “glue plan learn ${dir}” shows it.`;
}

function learnedShare({ rules, textFiles, readFiles }: LearnedFolder): string {
  const share = textFiles === 0 ? 0 : readFiles / textFiles;
  const open = rules.filter(({ sure }) => sure < SURE_ENOUGH).length;
  return `${percent(share)} of the text files read, ${rules.length} rules, ${open} of them worth a look`;
}

const percent = (share: number): string => `${Math.round(100 * share)} %`;

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
/** @param left columns of words, which begin at the left; those of numbers end at the right */
function table(rows: (string | number)[][], left: readonly number[] = [0, 7]): string {
  const widths = itemAt(rows, 0).map((_, column) => Math.max(...rows.map((row) => String(row[column]).length)));
  return rows
    .map((row) =>
      row
        .map((cell, column) =>
          left.includes(column)
            ? String(cell).padEnd(itemAt(widths, column))
            : String(cell).padStart(itemAt(widths, column)),
        )
        .join('  ')
        .trimEnd(),
    )
    .join('\n');
}
