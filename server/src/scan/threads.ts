/** Threads that hold the maps of projects: begun when needed, ended when others are needed more. */
import { once } from 'node:events';
import { setTimeout as pause } from 'node:timers/promises';
import { Worker } from 'node:worker_threads';
import type { ProjectRow } from '../store/store.js';
import type { Failure, FromWorker, MapQuestion, Outcome, ScanOrder, ToWorker, WorkerData } from './messages.js';

/** Projects whose thread stays, so that what it read need not be read again. */
const THREADS_KEPT = 3;
/** A map of a large project is built from millions of small things, few of which go again. */
const YOUNG_MEGABYTES = 64;
const MEGABYTES_SETTING = 'GLUE_TRACE_MEGABYTES';
const OLD_MEGABYTES = Number(process.env[MEGABYTES_SETTING]) || 4096;
/** In milliseconds. */
const LONGEST_CLOSE = 1500;

/** Who is told what the threads say. */
export interface ThreadOwner {
  /** What a thread tells of a scan. */
  receive(projectId: number, message: Exclude<FromWorker, { is: 'outcome' }>): void;
  /** A thread has ended that nobody has ended. */
  lose(projectId: number, failure: Failure): void;
  /** Whether a project's thread must stay. */
  isBusy(projectId: number): boolean;
}

/** Keeps a thread for each of the few projects used last. */
export function createThreads(storePath: string, owner: ThreadOwner) {
  /** By project, the one used last at the end. */
  const threads = new Map<number, { worker: Worker; planFile: string | null }>();
  /** Who waits for an answer, by the number of the question. */
  const questions = new Map<number, (outcome: Outcome) => void>();
  let lastQuestion = 0;

  const begin = ({ id, folder, planFile }: ProjectRow): Worker => {
    const data: WorkerData = { projectId: id, folder, planFile: planFile ?? undefined, storePath };
    const worker = new Worker(new URL('./worker.js', import.meta.url), {
      workerData: data,
      resourceLimits: { maxYoungGenerationSizeMb: YOUNG_MEGABYTES, maxOldGenerationSizeMb: OLD_MEGABYTES },
    });
    // Each question listens for its end.
    worker.setMaxListeners(0);
    const isMine = (): boolean => threads.get(id)?.worker === worker;
    const lose = (failure: Failure): void => {
      if (!isMine()) return;
      threads.delete(id);
      owner.lose(id, failure);
    };
    worker.on('message', (message: FromWorker) => {
      if (!isMine()) return;
      if (message.is === 'outcome') questions.get(message.id)?.(message.outcome);
      else owner.receive(id, message);
    });
    worker.on('error', (error) => lose(failureOf(error)));
    worker.on('exit', (code) => lose(failureOf(new Error(`the project's thread ended with ${code}`))));
    return worker;
  };

  const threadFor = (project: ProjectRow): Worker => {
    const held = threads.get(project.id);
    threads.delete(project.id);
    const isSame = held?.planFile === project.planFile;
    if (held && !isSame) send(held.worker, { is: 'close' });
    const thread = held && isSame ? held : { worker: begin(project), planFile: project.planFile };
    threads.set(project.id, thread);
    for (const [id, idle] of threads) {
      if (threads.size <= THREADS_KEPT) break;
      if (owner.isBusy(id) || id === project.id) continue;
      threads.delete(id);
      send(idle.worker, { is: 'close' });
    }
    return thread.worker;
  };

  return {
    /** Has a project's thread scan it; a thread of another plan is replaced. */
    scan(project: ProjectRow, order: ScanOrder): void {
      send(threadFor(project), { is: 'scan', ...order });
    },

    /** Has a project's thread send the next part of its map, once whatever else waits was done. */
    askForMore(projectId: number): void {
      const worker = threads.get(projectId)?.worker;
      if (worker) setImmediate(() => send(worker, { is: 'more' }));
    },

    /** Asks a project's thread, if there is one; it may end before it answers. */
    ask(projectId: number, question: MapQuestion): Promise<Outcome> {
      const worker = threads.get(projectId)?.worker;
      if (!worker) return Promise.resolve({ is: 'no map' });
      const id = ++lastQuestion;
      return new Promise((resolve) => {
        const end = (outcome: Outcome): void => {
          questions.delete(id);
          worker.off('exit', gone);
          resolve(outcome);
        };
        const gone = (): void => end({ is: 'no map' });
        worker.once('exit', gone);
        questions.set(id, end);
        send(worker, { is: 'question', id, question });
      });
    },

    /** Ends a project's thread at once, whatever it does. */
    async drop(projectId: number): Promise<void> {
      const worker = threads.get(projectId)?.worker;
      threads.delete(projectId);
      await worker?.terminate();
    },

    async close(): Promise<void> {
      for (const { worker } of threads.values()) {
        const gone = once(worker, 'exit');
        send(worker, { is: 'close' });
        // A long question is not waited for: nobody reads its answer any more.
        await Promise.race([gone, pause(LONGEST_CLOSE, undefined, { ref: false })]);
        await worker.terminate();
      }
    },
  };
}

function failureOf(error: Error): Failure {
  if ((error as NodeJS.ErrnoException).code !== 'ERR_WORKER_OUT_OF_MEMORY')
    return { code: 'fault/ours', detail: error.stack ?? error.message, mistakes: [] };
  const detail = `It took more than ${OLD_MEGABYTES} MB and was ended; the last finished scan stays in force. Leave out with “ignore” in the plan what need not be read, or raise the limit with ${MEGABYTES_SETTING}.`;
  return { code: 'scan/too-large', detail, mistakes: [] };
}

function send(worker: Worker, message: ToWorker): void {
  worker.postMessage(message);
}
