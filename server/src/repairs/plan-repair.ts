/** Works out what repairs come to in the files of a project, without writing anything. */
import { createHash } from 'node:crypto';
import { join } from 'node:path';
import {
  byFile,
  GlueError,
  isCode,
  repairedText,
  toPatch,
  writingOf,
  type Change,
  type ChangedFile,
  type Plan,
} from '@glue-trace/core';
import { encode, readText } from '../files/read-text.js';
import { prepareLanguages } from '../scan/read-one.js';

/** One repair that is asked for. */
export interface Wanted {
  /** How it is called when it is left out. */
  name: string;
  changes: Change[];
  oneOf?: string;
}

/** A file as it is and as it would be. */
export interface PlannedFile extends ChangedFile {
  bytesBefore: Buffer;
  bytesAfter: Buffer;
}

export interface PlannedRepair {
  files: PlannedFile[];
  /** Names of the repairs that are part of it. */
  taken: string[];
  /** Those that are not, with the reason: they change the same place otherwise. */
  left: { name: string; reason: string }[];
}

/** Hash of a file when it was scanned; undefined when it was not. */
export type HashOf = (file: string) => string | undefined;

/**
 * @param hashOf a file that is not as it was when it was scanned is not changed
 * @throws GlueError `repair/changed`, `repair/impossible`, `file/unreadable`; with several repairs, one that cannot be
 *   written is left out
 */
export async function planRepair(folder: string, plan: Plan, wanted: Wanted[], hashOf: HashOf): Promise<PlannedRepair> {
  const touched = new Set(wanted.flatMap(({ changes }) => changes.map(({ file }) => file)));
  await prepareLanguages([...touched].map((file) => writingOf(plan, file)).filter(isCode));
  const files = new Map<string, { text: string; bytes: Buffer; changes: Change[] }>();
  const open = (file: string): { text: string; bytes: Buffer; changes: Change[] } => {
    let found = files.get(file);
    if (!found) files.set(file, (found = { ...readUnchanged(folder, file, hashOf), changes: [] }));
    return found;
  };
  const taken: string[] = [];
  const left: PlannedRepair['left'] = [];
  const done = new Set<string>();
  for (const { name, changes, oneOf } of wanted) {
    if (oneOf !== undefined && done.has(oneOf)) {
      left.push({ name, reason: 'The other end is repaired instead: one of the two is enough.' });
      continue;
    }
    try {
      for (const [file, own] of byFile(changes)) {
        const { text, changes: before } = open(file);
        repairedText(file, text, writingOf(plan, file), [...before, ...own]);
      }
      for (const change of changes) open(change.file).changes.push(change);
      taken.push(name);
      if (oneOf !== undefined) done.add(oneOf);
    } catch (error) {
      if (!(error instanceof GlueError) || wanted.length === 1) throw error;
      left.push({ name, reason: error.detail });
    }
  }
  const planned = [...files].flatMap(([file, { text, bytes, changes }]): PlannedFile[] => {
    if (changes.length === 0) return [];
    const after = repairedText(file, text, writingOf(plan, file), changes);
    const bytesAfter = encode(after, bytes);
    if (bytesAfter.equals(bytes)) return [];
    // A byte order mark is part of the first line.
    const mark = bytes[0] === 0xef && bytes[1] === 0xbb && bytes[2] === 0xbf ? '\uFEFF' : '';
    return [{ file, before: mark + text, after: mark + after, bytesBefore: bytes, bytesAfter }];
  });
  return { files: planned, taken, left };
}

/** What the repair comes to as a unified diff. */
export function patchOf({ files }: PlannedRepair): string {
  return toPatch(files);
}

function readUnchanged(folder: string, file: string, hashOf: HashOf): { text: string; bytes: Buffer } {
  const hash = hashOf(file);
  const content = readText(join(folder, file), 0);
  if ('reason' in content) throw new GlueError('file/unreadable', `${file}: ${content.reason}.`);
  if (!hash || createHash('sha256').update(content.bytes).digest('hex') !== hash)
    throw new GlueError(
      'repair/changed',
      `${file} is no longer as it was when it was scanned. Scan again, then repair.`,
    );
  return content;
}
