/** Who last touched lines of a project's files, as the version history knows it. */
import { createHash } from 'node:crypto';
import { join } from 'node:path';
import { readText } from '../files/read-text.js';
import { commitOf, filesOf, lineOrigins, type LineOrigin } from './repository.js';

export interface Place {
  file: string;
  line: number;
}

/** Files whose lines are asked for at most: git takes its time for each. */
const MOST_FILES = 150;

/** Said of a line that is otherwise than in the last commit. */
const NOT_COMMITTED = 'not committed yet';

/**
 * Who last touched each place, in their order; undefined where nobody knows. Only files that are as in the last commit are
 * asked for: in others, lines have moved.
 */
export function lastTouched(folder: string, places: readonly Place[]): (string | undefined)[] {
  const head = commitOf(folder, 'HEAD');
  const blobs = head === undefined ? undefined : filesOf(folder, head);
  if (head === undefined || !blobs) return places.map(() => undefined);
  const origins = new Map<string, LineOrigin[] | string | undefined>();
  for (const { file } of places) {
    if (origins.has(file) || origins.size >= MOST_FILES) continue;
    origins.set(file, isAsIn(folder, file, blobs.get(file)) ? lineOrigins(folder, head, file) : NOT_COMMITTED);
  }
  return places.map(({ file, line }) => {
    const known = origins.get(file);
    return typeof known === 'string' ? known : known?.[line - 1]?.author;
  });
}

/** Whether a file holds what a blob of git does. */
function isAsIn(folder: string, file: string, blob: string | undefined): boolean {
  if (blob === undefined) return false;
  const content = readText(join(folder, file), 0);
  if ('reason' in content) return false;
  const { bytes } = content;
  const name = createHash(blob.length === 40 ? 'sha1' : 'sha256')
    .update(`blob ${bytes.length}\0`)
    .update(bytes);
  return name.digest('hex') === blob;
}
