/** Ordinary files, read whole: nothing that waits (a pipe), has no end (a device) or is larger than it may be. */
import { closeSync, constants, fstatSync, openSync, readFileSync } from 'node:fs';

/**
 * Reads a file.
 * @param largest in bytes
 * @throws Error with the reason in words
 */
export function readRegular(path: string, largest: number): Buffer {
  // Opening a pipe would wait for somebody who writes into it.
  const file = openSync(path, constants.O_RDONLY | (constants.O_NONBLOCK ?? 0));
  try {
    const stat = fstatSync(file);
    if (!stat.isFile()) throw new Error('it is no ordinary file');
    if (stat.size > largest) throw new Error(`it is larger than ${largest / 1024 / 1024} MB`);
    return readFileSync(file);
  } finally {
    closeSync(file);
  }
}
