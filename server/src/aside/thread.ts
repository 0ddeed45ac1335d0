/** The thread that does {@link WORK}. */
import { workerData } from 'node:worker_threads';
import { GlueError, type ErrorCode, type Mistake } from '@glue-trace/core';
import { openStore, type Store } from '../store/store.js';
import { WORK, type Answered, type Asked, type WorkName } from './work.js';

/** An error of ours keeps its code on the way between threads only when it is told apart. */
export type Outcome<Name extends WorkName> =
  { is: 'done'; answer: Answered<Name> } | { is: 'refused'; code: ErrorCode; detail: string; mistakes: Mistake[] };

const { storePath } = workerData as { storePath: string };
const store: Store = openStore(storePath);

export default async function work<Name extends WorkName>({
  name,
  asked,
}: {
  name: Name;
  asked: Asked<Name>;
}): Promise<Outcome<Name>> {
  const run = WORK[name] as (store: Store, asked: Asked<Name>) => Answered<Name> | Promise<Answered<Name>>;
  try {
    return { is: 'done', answer: await run(store, asked) };
  } catch (error) {
    if (!(error instanceof GlueError)) throw error;
    return { is: 'refused', code: error.code, detail: error.detail, mistakes: error.mistakes };
  }
}
