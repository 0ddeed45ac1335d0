/**
 * Repairs of a project: looked at first, written, and taken back. What a repair changes is kept in the store before the
 * first file is written, so that one that was stopped in the middle can be finished or taken back as a whole.
 */
import { readFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { GlueError } from '@glue-trace/core';
import { isAtWork } from '../store/processes.js';
import type { RepairRow, Store, WrittenFile } from '../store/store.js';
import { clearLeftOver, hashOfBytes, placeIn, writeAll, type NewContent, type Seam } from '../writing/write.js';
import type { PlannedRepair } from './plan-repair.js';

/**
 * Writes a planned repair and keeps what was there before.
 * @returns the number under which it can be taken back
 * @throws GlueError `file/unwritable`, `repair/changed`, `store/unwritable`: then nothing was written, unless it says so
 */
export function writeRepair(
  store: Store,
  projectId: number,
  folder: string,
  title: string,
  planned: PlannedRepair,
  seam?: Seam,
): number {
  const files = planned.files.map(({ file, bytesBefore, bytesAfter }): WrittenFile => ({
    file,
    before: bytesBefore.toString('base64'),
    hash: hashOfBytes(bytesAfter),
  }));
  seam?.('keep');
  const id = store.addRepair(projectId, title, files);
  try {
    writeAll(
      folder,
      planned.files.map(({ file, bytesBefore, bytesAfter }) => ({ file, before: bytesBefore, after: bytesAfter })),
      seam,
    );
  } catch (error) {
    // What was taken back leaves no trace; what was not is finished or taken back at the next start.
    if (isAsBefore(folder, files)) store.dropRepair(id);
    throw error;
  }
  seam?.('done');
  store.markWritten(id);
  return id;
}

/**
 * Takes a repair back.
 * @throws GlueError `repair/unknown`, `repair/undone` when a file was changed since, `file/unwritable`
 */
export function undoRepair(store: Store, projectId: number, folder: string, id: number, seam?: Seam): void {
  const repair = store.repair(projectId, id);
  if (!repair) throw new GlueError('repair/unknown', `Repair ${id} was not written here.`);
  if (repair.undoneAt) throw new GlueError('repair/undone', 'It was taken back before.');
  const contents = repair.files.map(({ file, before, hash }): NewContent => {
    const now = readIfThere(folder, file);
    if (!now || hashOfBytes(now) !== hash)
      throw new GlueError(
        'repair/undone',
        `${file} was changed since the repair. Take the change back by hand, or by version control.`,
      );
    return { file, before: now, after: Buffer.from(before, 'base64') };
  });
  seam?.('keep');
  store.markUndoing(id);
  try {
    writeAll(folder, contents, seam);
  } catch (error) {
    if (isAsAfter(folder, repair.files)) store.markWritten(id);
    throw error;
  }
  seam?.('done');
  store.markUndone(id);
}

/**
 * Finishes or takes back what was stopped in the middle: a repair is there when all its files were written, and gone
 * otherwise; one that was being taken back is taken back. Files that somebody changed since are left as they are.
 * @returns titles of the repairs that were found half done
 */
export function recoverRepairs(store: Store, projectId: number, folder: string): string[] {
  const open = store.unfinishedRepairs(projectId).filter(({ writer }) => !isAtWork(writer));
  clearLeftOver(open.flatMap(({ files }) => files.map(({ file }) => dirname(join(folder, file)))));
  for (const repair of open) recover(store, folder, repair);
  return open.map(({ title }) => title);
}

function recover(store: Store, folder: string, { id, state, files }: RepairRow): void {
  if (state === 'writing' && isAsAfter(folder, files)) return store.markWritten(id);
  const written = files.flatMap(({ file, before, hash }): NewContent[] => {
    const now = readIfThere(folder, file);
    return now && hashOfBytes(now) === hash ? [{ file, before: now, after: Buffer.from(before, 'base64') }] : [];
  });
  writeAll(folder, written);
  if (state === 'undoing') store.markUndone(id);
  else store.dropRepair(id);
}

function isAsBefore(folder: string, files: readonly WrittenFile[]): boolean {
  return files.every(({ file, before }) => readIfThere(folder, file)?.equals(Buffer.from(before, 'base64')) === true);
}

function isAsAfter(folder: string, files: readonly WrittenFile[]): boolean {
  return files.every(({ file, hash }) => {
    const now = readIfThere(folder, file);
    return now !== undefined && hashOfBytes(now) === hash;
  });
}

function readIfThere(folder: string, file: string): Buffer | undefined {
  try {
    return readFileSync(placeIn(folder, file));
  } catch {
    return undefined;
  }
}
