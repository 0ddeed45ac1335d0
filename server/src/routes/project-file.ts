import { realpathSync } from 'node:fs';
import { join, sep } from 'node:path';
import { GlueError } from '@glue-trace/core';
import { readText } from '../files/read-text.js';
import type { FileEntry } from '../scan/read-one.js';
import type { ProjectRow } from '../store/store.js';
import { doneScanOf, type Context } from './context.js';

/**
 * A file of the last scan as text. Only such files are shown, so that no address can name a file outside of the
 * project.
 * @throws GlueError `scan/none`, `file/missing`, `file/unreadable`
 */
export function projectFile(
  context: Context,
  project: ProjectRow,
  file: string,
): { entry: FileEntry; content: { text: string; bytes: Buffer } } {
  const entry = context.store.file(doneScanOf(context, project).id, file);
  if (!entry) throw new GlueError('file/missing', `“${file}” is no file of the last scan.`);
  const path = join(project.folder, file);
  if (!isInside(path, project.folder)) throw new GlueError('file/missing', `“${file}” leads out of the project.`);
  const content = readText(path, entry.size);
  if ('reason' in content) throw new GlueError('file/unreadable', `${file}: ${content.reason}.`);
  return { entry, content };
}

/** A file may have been replaced by a link since the scan. */
function isInside(path: string, folder: string): boolean {
  try {
    return realpathSync(path).startsWith(realpathSync(folder) + sep);
  } catch {
    return true;
  }
}
