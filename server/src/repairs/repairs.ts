/** Repairs of a project: looked at first, written, and taken back. */
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { GlueError } from '@glue-trace/core';
import type { Store, WrittenFile } from '../store/store.js';
import type { PlannedRepair } from './plan-repair.js';
import { hashOfBytes, writeAll } from './write-files.js';

/**
 * Writes a planned repair and keeps what was there before.
 * @returns the number under which it can be taken back
 * @throws GlueError `file/unwritable`
 */
export function writeRepair(
  store: Store,
  projectId: number,
  folder: string,
  title: string,
  planned: PlannedRepair,
): number {
  writeAll(
    planned.files.map(({ file, bytesBefore, bytesAfter }) => ({
      path: join(folder, file),
      before: bytesBefore,
      after: bytesAfter,
    })),
  );
  const files = planned.files.map(({ file, bytesBefore, bytesAfter }): WrittenFile => ({
    file,
    before: bytesBefore.toString('base64'),
    hash: hashOfBytes(bytesAfter),
  }));
  return store.addRepair(projectId, title, files);
}

/**
 * Takes a repair back.
 * @throws GlueError `repair/unknown`, `repair/undone` when a file was changed since, `file/unwritable`
 */
export function undoRepair(store: Store, projectId: number, folder: string, id: number): void {
  const repair = store.repair(projectId, id);
  if (!repair) throw new GlueError('repair/unknown', `Repair ${id} was not written here.`);
  if (repair.undoneAt) throw new GlueError('repair/undone', 'It was taken back before.');
  const contents = repair.files.map(({ file, before, hash }) => {
    const path = join(folder, file);
    const now = readIfThere(path);
    if (!now || hashOfBytes(now) !== hash)
      throw new GlueError(
        'repair/undone',
        `${file} was changed since the repair. Take the change back by hand, or by version control.`,
      );
    return { path, before: now, after: Buffer.from(before, 'base64') };
  });
  writeAll(contents);
  store.markUndone(id);
}

function readIfThere(path: string): Buffer | undefined {
  try {
    return readFileSync(path);
  } catch {
    return undefined;
  }
}
