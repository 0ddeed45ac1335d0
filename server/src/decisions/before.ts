/** What findings are measured against: a revision, a scan that is kept, or a baseline file. */
import { existsSync } from 'node:fs';
import { basename, join } from 'node:path';
import { GlueError, readBaseline, remembered, type Plan, type Remembered } from '@glue-trace/core';
import { realFolder } from '../files/discover.js';
import { readRegular } from '../files/regular.js';
import { findingsAt } from '../git/revision.js';
import { STORE_NAME } from '../store/name.js';
import { openStore, type Store } from '../store/store.js';

/** In bytes. */
const LARGEST_BASELINE = 256 * 1024 * 1024;

/** The time before: its name as people read it, and what was found then. */
export interface Before {
  name: string;
  findings: Remembered[];
}

/**
 * What was found at another time.
 * @param what a revision, `scan:12`, or `file:baseline.json`
 * @param data the folder in which scans are kept
 * @throws GlueError `revision/unknown`, `scan/unknown`, `baseline/invalid`
 */
export async function findingsBefore(folder: string, what: string, plan: Plan, data: string): Promise<Before> {
  if (what.startsWith('file:')) return fromFile(what.slice('file:'.length));
  if (what.startsWith('scan:')) return fromStore(folder, what.slice('scan:'.length), data);
  const { findings } = await findingsAt(folder, what, plan);
  return { name: what, findings };
}

function fromFile(path: string): Before {
  let text: string;
  try {
    text = readRegular(path, LARGEST_BASELINE).toString('utf8');
  } catch (error) {
    throw new GlueError('baseline/invalid', `${path} cannot be read: ${(error as Error).message}.`);
  }
  return { name: basename(path), findings: readBaseline(text, basename(path)) };
}

function fromStore(folder: string, number: string, data: string): Before {
  const path = join(data, STORE_NAME);
  const unknown = new GlueError(
    'scan/unknown',
    `There is no finished scan ${number} of this project in ${data}. The page “Scans” lists those that are kept.`,
  );
  if (!existsSync(path) || !/^\d+$/.test(number)) throw unknown;
  const store = openStore(path);
  try {
    const project = store.projects().find((one) => one.folder === realFolder(folder));
    const findings = project && rememberedIn(store, project.id, Number(number));
    if (!findings) throw unknown;
    return { name: `scan ${number}`, findings };
  } finally {
    store.close();
  }
}

/** What a finished scan of a project found; undefined when there is no such scan. */
export function rememberedIn(store: Store, projectId: number, scanId: number): Remembered[] | undefined {
  if (store.doneScan(projectId, scanId) === undefined) return undefined;
  return store.allFindings(scanId).map(remembered);
}
