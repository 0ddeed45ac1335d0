/** Has work done aside, and ends what takes longer or more than it may. */
import { GlueError } from '@glue-trace/core';
import type { FastifyBaseLogger } from 'fastify';
import { Piscina } from 'piscina';
import type { Outcome } from './thread.js';
import type { Answered, Asked, WorkName } from './work.js';

/** Two, so that one project that takes its time does not keep the others waiting. */
const THREADS = 2;
const LIMIT_SECONDS = 20;
const LIMIT_MEGABYTES = 1024;
/** In milliseconds: how long the server's end waits for what is being written. */
const LONGEST_CLOSE = 2000;

export type Aside = ReturnType<typeof createAside>;

/** @param limitSeconds how long what only reads may take */
export function createAside(storePath: string, log: FastifyBaseLogger, limitSeconds = LIMIT_SECONDS) {
  const pool = new Piscina<unknown, unknown>({
    filename: new URL('./thread.js', import.meta.url).href,
    minThreads: 1,
    maxThreads: THREADS,
    idleTimeout: 60_000,
    closeTimeout: LONGEST_CLOSE,
    workerData: { storePath },
    resourceLimits: { maxOldGenerationSizeMb: LIMIT_MEGABYTES },
  });
  // Outside of what was asked: when a thread had to be ended at the close, say.
  pool.on('error', (error) => log.warn({ error }, 'a thread for single requests ended'));
  const run = async <Name extends WorkName>(
    name: Name,
    asked: Asked<Name>,
    signal?: AbortSignal,
  ): Promise<Answered<Name>> => {
    const outcome = (await pool.run({ name, asked }, { signal })) as Outcome<Name>;
    if (outcome.is === 'done') return outcome.answer;
    throw new GlueError(outcome.code, outcome.detail, outcome.mistakes);
  };

  return {
    /**
     * Does what only reads.
     * @param seconds how long it may take, where it reads all files of a project
     * @throws GlueError what the work throws; `request/too-long` when it takes more time or memory than it may
     */
    async reading<Name extends WorkName>(
      name: Name,
      asked: Asked<Name>,
      seconds = limitSeconds,
    ): Promise<Answered<Name>> {
      try {
        return await run(name, asked, AbortSignal.timeout(seconds * 1000));
      } catch (error) {
        const why = limitMet(error, seconds);
        if (!why) throw error;
        throw new GlueError('request/too-long', `It took more than ${why}, and was stopped. Nothing was changed.`);
      }
    },

    /** Does what writes: it is never stopped half way. @throws GlueError what the work throws */
    writing: <Name extends WorkName>(name: Name, asked: Asked<Name>): Promise<Answered<Name>> => run(name, asked),

    close: (): Promise<void> => pool.close({ force: true }),
  };
}

function limitMet(error: unknown, limitSeconds: number): string | undefined {
  const { name, code } = error as { name?: string; code?: string };
  if (name === 'AbortError') return `${limitSeconds} seconds`;
  return code === 'ERR_WORKER_OUT_OF_MEMORY' ? `${LIMIT_MEGABYTES} MB of memory` : undefined;
}
