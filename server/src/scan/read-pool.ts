import { itemAt, must } from '@glue-trace/core';
import { availableParallelism } from 'node:os';
import { Worker } from 'node:worker_threads';
import type { FileEntry } from './read-one.js';
import type { ReadAnswer, ReadThreadData } from './read-thread.js';

/** Fewer files or bytes than this are read sooner than threads are started. */
const WORTH_THREADS = { files: 24, bytes: 1_000_000 };
/** What one thread is given at a time: enough to be worth the way, little enough that all end together. */
const BATCH = { files: 64, bytes: 400_000 };
const MOST_THREADS = 8;
/** Trees of whole files are made and dropped: room for them spares copying what will soon be gone. */
const YOUNG_MEGABYTES = 48;

export function isWorthThreads(files: readonly { size: number }[]): boolean {
  const bytes = files.reduce((sum, file) => sum + file.size, 0);
  return availableParallelism() > 1 && files.length >= WORTH_THREADS.files && bytes >= WORTH_THREADS.bytes;
}

/**
 * Reads files on all cores. Threads live for this call only: their memory is given back before linking needs it.
 * @param onRead is called for each file, in no order, with its position
 */
export function readOnThreads(
  data: ReadThreadData,
  files: FileEntry[],
  onRead: (position: number, answer: ReadAnswer) => void,
): Promise<void> {
  const batches = batchesOf(files);
  const count = Math.min(availableParallelism(), MOST_THREADS, batches.length);
  const threads: Worker[] = [];
  let open = batches.length;
  return new Promise<void>((resolve, reject) => {
    const next = (thread: Worker): number[] | undefined => {
      const batch = batches.pop();
      if (batch) thread.postMessage(batch.map((position) => files[position]));
      return batch;
    };
    for (let at = 0; at < count; at++) {
      const thread = new Worker(new URL('./read-thread.js', import.meta.url), {
        workerData: data,
        resourceLimits: { maxYoungGenerationSizeMb: YOUNG_MEGABYTES },
      });
      threads.push(thread);
      // One batch is read while the next one waits, so that a thread never waits for this one.
      const waiting = [next(thread), next(thread)];
      thread.on('message', (answers: ReadAnswer[]) => {
        const batch = must(waiting.shift());
        waiting.push(next(thread));
        answers.forEach((answer, inBatch) => onRead(itemAt(batch, inBatch), answer));
        if (--open === 0) resolve();
      });
      thread.on('error', reject);
    }
  }).finally(() => Promise.all(threads.map((thread) => thread.terminate())));
}

/** Positions in batches, the largest files to be taken (from the end) first. */
function batchesOf(files: FileEntry[]): number[][] {
  const order = files.map((_, at) => at).sort((a, b) => itemAt(files, a).size - itemAt(files, b).size);
  const batches: number[][] = [];
  let batch: number[] = [];
  let bytes = 0;
  for (const position of order) {
    batch.push(position);
    bytes += itemAt(files, position).size;
    if (batch.length >= BATCH.files || bytes >= BATCH.bytes) {
      batches.push(batch);
      [batch, bytes] = [[], 0];
    }
  }
  if (batch.length > 0) batches.push(batch);
  return batches;
}
