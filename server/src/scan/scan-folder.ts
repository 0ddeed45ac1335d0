import { createHash } from 'node:crypto';
import { existsSync, readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { join } from 'node:path';
import {
  analyse,
  CHECK_IDS,
  FACTS_VERSION,
  factsOfName,
  GlueError,
  PLAN_FILE,
  prepareGrammars,
  readFile,
  readPlan,
  readsText,
  ruleFor,
  type Analysis,
  type FileFacts,
  type Plan,
} from '@glue-trace/core';
import { checkFolder, discover } from '../files/discover.js';
import type { FileView, Progress } from '../api.js';
import { readText } from '../files/read-text.js';

/** What became of one file, with what tells whether it has changed since. */
export interface FileEntry extends FileView {
  /** SHA-256 of the content as scanned, empty if it was not read. */
  hash: string;
}

/** Facts kept from earlier scans, by a key made of content, path and plan. */
export interface FactsCache {
  get(key: string): FileFacts | undefined;
  put(key: string, facts: FileFacts): void;
}

export interface ScanOptions {
  folder: string;
  /** Defaults to the plan in the folder. */
  planFile?: string;
  cache?: FactsCache;
  onProgress?: (progress: Progress) => void;
}

export interface ScanResult {
  plan: Plan;
  analysis: Analysis;
  files: FileEntry[];
  milliseconds: number;
  /** Files whose facts came from the cache. */
  reused: number;
}

/** Progress is told at most once for so many files. */
const FILES_PER_STEP = 25;

/** Where a project's plan stands. */
export function planPath(folder: string, planFile?: string): string {
  return planFile ?? join(folder, PLAN_FILE);
}

/**
 * Reads and validates a project's plan.
 * @throws GlueError `plan/missing`, `plan/not-json`, `plan/invalid`, `file/unreadable`
 */
export function loadPlan(folder: string, planFile?: string): { plan: Plan; text: string } {
  const path = planPath(folder, planFile);
  if (!existsSync(path)) {
    throw new GlueError(
      'plan/missing',
      `There is no ${planFile ?? PLAN_FILE} in ${folder}. “glue plan init” writes one to start from.`,
    );
  }
  let text: string;
  try {
    text = readFileSync(path, 'utf8').replace(/^\uFEFF/, '');
  } catch {
    throw new GlueError('file/unreadable', `The plan ${path} cannot be read.`);
  }
  return { plan: readPlan(text, CHECK_IDS), text };
}

const require = createRequire(import.meta.url);

/** Makes the script grammars ready that a plan needs. */
export async function prepareFor(plan: Plan): Promise<void> {
  const languages = new Set(Object.values(plan.scripts).map((rule) => rule.language));
  if (languages.size > 0) await prepareGrammars(languages, async (path) => readFileSync(require.resolve(path)));
}

/** Files → facts → links → findings for a folder. Reads only; what it cannot read is listed with the reason. */
export async function scanFolder(options: ScanOptions): Promise<ScanResult> {
  const started = performance.now();
  const tell = options.onProgress ?? (() => undefined);
  tell({ phase: 'looking', done: 0, total: 0 });
  checkFolder(options.folder);
  const { plan, text: planText } = loadPlan(options.folder, options.planFile);
  const { files: found, passedOver } = discover(options.folder, plan.ignore);
  await prepareFor(plan);

  const facts: FileFacts[] = [];
  const entries: FileEntry[] = passedOver.map(({ path, reason }) => ({
    path,
    reason,
    status: 'unread',
    rule: '',
    size: 0,
    hash: '',
  }));
  const planHash = hashOf(`${FACTS_VERSION}\n${planText}`);
  let reused = 0;
  found.forEach(({ path, size }, at) => {
    if (at % FILES_PER_STEP === 0) tell({ phase: 'reading', done: at, total: found.length });
    const { entry, fact, isReused } = readOne(options, plan, planHash, path, size);
    entries.push(entry);
    if (fact) facts.push(fact);
    if (isReused) reused++;
  });
  tell({ phase: 'linking', done: found.length, total: found.length });
  const read = new Set(facts.map((fact) => fact.file));
  const otherPaths = found.map((file) => file.path).filter((path) => !read.has(path));
  const analysis = analyse(facts, otherPaths, plan);
  return { plan, analysis, files: entries, milliseconds: Math.round(performance.now() - started), reused };
}

interface ReadOne {
  entry: FileEntry;
  fact?: FileFacts;
  isReused?: boolean;
}

function readOne({ folder, cache }: ScanOptions, plan: Plan, planHash: string, path: string, size: number): ReadOne {
  const entry: FileEntry = { path, status: 'unread', rule: '', reason: '', size, hash: '' };
  const rule = ruleFor(plan, path);
  if (!rule)
    return { entry: { ...entry, reason: 'no rule of the plan matches it', hash: path === PLAN_FILE ? planHash : '' } };
  entry.rule = `${rule.of}.${rule.name}`;
  if (!readsText(rule, path)) {
    // The plan's own text counts as its content: a changed plan is a changed project.
    return {
      entry: { ...entry, status: 'listed', hash: path === PLAN_FILE ? planHash : '' },
      fact: factsOfName(path, rule),
    };
  }
  const content = readText(join(folder, path), size);
  if ('reason' in content)
    return { entry: { ...entry, status: 'listed', reason: content.reason }, fact: factsOfName(path, rule) };
  const hash = createHash('sha256').update(content.bytes).digest('hex');
  const key = hashOf(`${hash}\n${path}\n${planHash}`);
  const known = cache?.get(key);
  const fact = known ?? readFile(path, content.text, rule, plan);
  if (!known) cache?.put(key, fact);
  const [problem] = fact.problems;
  const reason = content.note ?? (problem ? `line ${problem.range.line}: ${problem.message}` : '');
  return { entry: { ...entry, hash, status: reason ? 'partly' : 'read', reason }, fact, isReused: known !== undefined };
}

function hashOf(text: string): string {
  return createHash('sha256').update(text).digest('hex');
}
