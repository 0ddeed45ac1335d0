/** Writes of the server's own thread: while a scan is saved they wait, and nobody else waits with them. */
import { setTimeout as pause } from 'node:timers/promises';
import { GlueError } from '@glue-trace/core';

/** In milliseconds: saving the scan of a large project takes seconds. */
const LONGEST = 20_000;
const PAUSE = 25;

/**
 * Writes as soon as no other thread or program does.
 * @throws GlueError `store/busy` after 20 seconds
 */
export async function whenFree<Result>(write: () => Result): Promise<Result> {
  const started = Date.now();
  for (;;) {
    try {
      return write();
    } catch (error) {
      const isBusy = error instanceof GlueError && error.code === 'store/busy';
      if (!isBusy || Date.now() - started > LONGEST) throw error;
    }
    await pause(PAUSE);
  }
}
