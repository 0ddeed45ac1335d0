import { basename, join } from 'node:path';
import {
  GlueError,
  LANGUAGES,
  learn,
  LEAST_SURE,
  planOf,
  planText,
  type Evidence,
  type LearnFile,
} from '@glue-trace/core';
import { discover } from '../files/discover.js';
import { readText } from '../files/read-text.js';
import { prepareLanguages } from '../scan/read-one.js';
import { writeNew } from '../writing/write.js';
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
  const { files } = discover(folder, []);
  // Data may hold code of a language of which there is no script.
  await prepareLanguages(new Set(LANGUAGES));
  let textFiles = 0;
  const texts = function* (): Generator<LearnFile> {
    for (const { path, size } of files) {
      const content = readText(join(folder, path), size);
      if ('text' in content) textFiles++;
      yield 'text' in content ? { path, text: content.text } : { path };
    }
  };
  const learned = learn(texts());
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
