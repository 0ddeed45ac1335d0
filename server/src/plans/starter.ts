import { basename, join } from 'node:path';
import { formatOf, GlueError, starterPlan, type SampleFile } from '@glue-trace/core';
import { discover } from '../files/discover.js';
import { readText } from '../files/read-text.js';
import { writeNew } from '../writing/write.js';
import { planPath } from './plan-files.js';

/** Larger files are not looked into for a starter plan. */
const LARGEST_SAMPLE = 512 * 1024;

/** A first plan for a folder, from what it finds. @throws GlueError as `discover` */
export function proposePlan(folder: string): string {
  const { files } = discover(folder, []);
  const samples = files.map(({ path, size }): SampleFile => {
    if (!formatOf(path) || size > LARGEST_SAMPLE) return { path };
    const content = readText(join(folder, path), size);
    return 'text' in content ? { path, text: content.text } : { path };
  });
  return starterPlan(basename(folder), samples);
}

/**
 * Writes a plan where there is none.
 * @returns its path
 * @throws GlueError `plan/exists`, `file/unwritable`
 */
export function writePlan(folder: string, text: string): string {
  const path = planPath(folder);
  if (!writeNew(folder, basename(path), text))
    throw new GlueError('plan/exists', `${path} stands already and was left as it is.`);
  return path;
}
