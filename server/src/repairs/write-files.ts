import { createHash } from 'node:crypto';
import { renameSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { basename, dirname, join } from 'node:path';
import { GlueError } from '@glue-trace/core';

/** A file to be written. */
export interface NewContent {
  path: string;
  before: Buffer;
  after: Buffer;
}

/**
 * Writes several files, all or none: first beside each, then into its place. When one cannot be put there, those
 * before it get their old content back.
 * @throws GlueError `file/unwritable`
 */
export function writeAll(files: NewContent[]): void {
  const beside = (path: string): string => join(dirname(path), `.${basename(path)}.glue-new`);
  const written: NewContent[] = [];
  const done: NewContent[] = [];
  let at = '';
  try {
    for (const file of files) {
      at = file.path;
      writeFileSync(beside(file.path), file.after, { mode: statSync(file.path).mode });
      written.push(file);
    }
    for (const file of files) {
      at = file.path;
      renameSync(beside(file.path), file.path);
      done.push(file);
    }
  } catch (error) {
    for (const { path } of written) rmSync(beside(path), { force: true });
    for (const { path, before } of done) writeFileSync(path, before);
    throw new GlueError('file/unwritable', `${at}: ${(error as Error).message}. Nothing was changed.`);
  }
}

export function hashOfBytes(bytes: Buffer): string {
  return createHash('sha256').update(bytes).digest('hex');
}
