import { basename, join } from 'node:path';
import { Worker } from 'node:worker_threads';
import {
  GlueError,
  LANGUAGES,
  isGathered,
  Learning,
  LEAST_SURE,
  planOf,
  planText,
  type Evidence,
  type Gathered,
} from '@glue-trace/core';
import { discover, IS_LINK, type FoundFile } from '../files/discover.js';
import { readText } from '../files/read-text.js';
import { prepareLanguages } from '../scan/read-one.js';
import { isWorthThreads } from '../scan/read-pool.js';
import { writeNew } from '../writing/write.js';
import type { GatherData, ScriptToGather } from './gather-thread.js';
import { parsePlan, planPath } from './plan-files.js';

/** A plan that was learned from the files of a folder. */
export interface LearnedFolder {
  /** The plan as it would be written, with comments that carry the evidence. */
  text: string;
  /** Its rules with how they fare, the most used first. */
  rules: LearnedRuleView[];
  /** Text files, and of them those that some rule reads. */
  textFiles: number;
  readFiles: number;
}

/** A learned rule, as it is shown. */
export type LearnedRuleView = Omit<Evidence, 'reading'>;

/**
 * Learns a plan from the files of a folder.
 * @param least rules that are less sure are left out, from 0 to 1
 * @throws GlueError as `discover`
 */
export async function learnFolder(folder: string, least = LEAST_SURE): Promise<LearnedFolder> {
  const { files, passedOver } = discover(folder, []);
  // Data may hold code of a language of which there is no script.
  await prepareLanguages(new Set(LANGUAGES));
  const scripts = firstScripts(files);
  const apart = isWorthThreads(scripts) ? gatheredApart(folder, scripts) : undefined;
  const isApart = new Set(apart ? scripts.map(({ path }) => path) : []);
  const learning = new Learning();
  let textFiles = 0;
  for (const { path, size } of files) {
    const content = readText(join(folder, path), size);
    if ('text' in content) textFiles++;
    learning.add('text' in content && !isApart.has(path) ? { path, text: content.text } : { path });
  }
  // What stands behind a link is not read; that it is there counts.
  for (const { path, reason } of passedOver) if (reason === IS_LINK) learning.add({ path });
  const learned = learning.finish(await apart);
  const written = planOf(basename(folder) || 'Unnamed project', learned);
  const kept = written.evidence.filter(({ sure }) => sure >= least);
  return {
    text: planText(written, least),
    rules: kept.map(({ reading: _, ...rule }) => rule).sort((a, b) => b.of - a.of),
    textFiles,
    readFiles:
      learned.code.files.size + learned.kinds.reduce((sum, kind) => sum + (kind.table ? 0 : kind.files.length), 0),
  };
}

/** A byte of a script takes about so many times as long as one of data. */
const SCRIPTS_TAKE = 7;

/** So many of the scripts, from the first on, that another thread is done with them when this one is with all else. */
function firstScripts(files: readonly FoundFile[]): ScriptToGather[] {
  const scripts = files.flatMap(({ path, size }, at) => (isGathered(path) ? [{ at, path, size }] : []));
  const all = (some: readonly { size: number }[]): number => some.reduce((sum, { size }) => sum + size, 0);
  const inScripts = all(scripts) * SCRIPTS_TAKE;
  const half = (inScripts + (all(files) - all(scripts))) / 2;
  let sum = 0;
  return scripts.filter(({ size }) => (sum += size * SCRIPTS_TAKE) <= half);
}

/** What scripts say, gathered on a thread of its own while this one reads the rest. */
function gatheredApart(folder: string, files: GatherData['files']): Promise<Gathered> {
  const workerData: GatherData = { folder, files };
  const thread = new Worker(new URL('./gather-thread.js', import.meta.url), { workerData });
  return new Promise<Gathered>((resolve, reject) => {
    thread.once('message', resolve);
    thread.once('error', reject);
  }).finally(() => thread.terminate());
}

/**
 * Writes a plan where there is none.
 * @returns its path
 * @throws GlueError `plan/exists`, `plan/invalid`, `file/unwritable`
 */
export function writePlan(folder: string, text: string): string {
  const path = planPath(folder);
  parsePlan(text, path);
  if (!writeNew(folder, basename(path), text))
    throw new GlueError('plan/exists', `${path} stands already and was left as it is.`);
  return path;
}
