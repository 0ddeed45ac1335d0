/** What stands in a file, and what comes to it. */
import { createReadStream, statSync } from 'node:fs';
import { setTimeout as pause } from 'node:timers/promises';

/** In milliseconds: a file is looked at so often. */
const LOOKED_EVERY = 200;

/**
 * Gives what a file holds and what is added to it, until it is told to stop or the file is gone. One that has become
 * shorter was begun anew, and is read from its beginning.
 */
export async function* growing(file: string, stop: AbortSignal): AsyncGenerator<Buffer> {
  for (let at = 0; !stop.aborted;) {
    const size = statSync(file, { throwIfNoEntry: false })?.size;
    if (size === undefined) return;
    if (size < at) at = 0;
    if (size > at) {
      for await (const chunk of createReadStream(file, { start: at, end: size - 1 })) yield chunk as Buffer;
      at = size;
    }
    await pause(LOOKED_EVERY, undefined, { signal: stop }).catch(() => undefined);
  }
}
