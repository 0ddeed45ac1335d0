import { EventEmitter } from 'node:events';
import { Worker } from 'node:worker_threads';
import { ERRORS, type ErrorCode, type Graph, type Losses } from '@glue-trace/core';
import type { FastifyBaseLogger } from 'fastify';
import type { Progress, ScanError, ScanEvent } from '../api.js';
import type { ProjectRow, Store } from '../store/store.js';
import type { Answer, FromWorker, Question, ToWorker, WorkerData } from './messages.js';

/** The map of a project's last scan, in memory. */
export interface OpenMap {
  scanId: number;
  graph: Graph;
  losses: Losses;
}

interface Running {
  scanId: number;
  worker: Worker;
  progress: Progress;
}

/** Projects whose thread stays, so that what it read need not be read again. */
const THREADS_KEPT = 3;
/** A map of a large project is built from millions of small things, few of which go again. */
const YOUNG_MEGABYTES = 64;
const OLD_MEGABYTES = 4096;

export type Scans = ReturnType<typeof createScans>;

/** Runs scans on a thread for each project, one at a time. */
export function createScans(store: Store, storePath: string, log: FastifyBaseLogger) {
  const running = new Map<number, Running>();
  const maps = new Map<number, OpenMap>();
  /** Threads by project, the one used last at the end. */
  const threads = new Map<number, { worker: Worker; planFile: string | null }>();
  /** Who waits for an answer, by the number of the question. */
  const questions = new Map<number, (answer: Answer | null) => void>();
  let lastQuestion = 0;
  const events = new EventEmitter();
  events.setMaxListeners(0);
  const tell = (projectId: number, event: ScanEvent): void => void events.emit(String(projectId), event);

  const end = (projectId: number, scanId: number, event: ScanEvent): void => {
    if (running.get(projectId)?.scanId !== scanId) return;
    running.delete(projectId);
    tell(projectId, event);
  };

  const fail = (
    projectId: number,
    scanId: number,
    code: ErrorCode,
    detail: string,
    mistakes: ScanError['mistakes'],
  ): void => {
    if (code === 'fault/ours') log.error({ scanId, detail }, 'a scan failed');
    // What went wrong inside is for the log; the user is told what to do.
    const told =
      code === 'fault/ours'
        ? 'The scan could not be finished. The log of the server says more; your files were only read.'
        : detail;
    const error: ScanError = { code, title: ERRORS[code].title, detail: told, mistakes };
    store.failScan(scanId, 'failed', error);
    end(projectId, scanId, { is: 'failed', scanId, error });
  };

  const receive = (projectId: number, message: FromWorker): void => {
    if (message.is === 'answer') {
      questions.get(message.id)?.(message.answer);
      questions.delete(message.id);
      return;
    }
    const mine = running.get(projectId);
    if (!mine) return;
    const { scanId } = mine;
    if (message.is === 'progress') {
      mine.progress = message.progress;
      tell(projectId, { is: 'progress', scanId, progress: message.progress });
    } else if (message.is === 'unchanged') end(projectId, scanId, { is: 'unchanged', scanId });
    else if (message.is === 'failed') fail(projectId, scanId, message.code, message.detail, message.mistakes);
    else {
      maps.set(projectId, { scanId, graph: message.graph, losses: message.losses });
      store.renameProject(projectId, message.name);
      end(projectId, scanId, { is: 'done', scanId, change: store.changeOf(projectId, scanId) });
    }
  };

  const threadFor = (project: ProjectRow): Worker => {
    const held = threads.get(project.id);
    threads.delete(project.id);
    const isSame = held?.planFile === project.planFile;
    if (held && !isSame) held.worker.postMessage('close');
    const thread = held && isSame ? held : { worker: beginThread(project), planFile: project.planFile };
    threads.set(project.id, thread);
    for (const [id, idle] of threads) {
      if (threads.size <= THREADS_KEPT) break;
      if (running.has(id) || id === project.id) continue;
      threads.delete(id);
      idle.worker.postMessage('close');
    }
    return thread.worker;
  };

  const beginThread = ({ id, folder, planFile }: ProjectRow): Worker => {
    const data: WorkerData = { projectId: id, folder, planFile: planFile ?? undefined, storePath };
    const worker = new Worker(new URL('./worker.js', import.meta.url), {
      workerData: data,
      resourceLimits: { maxYoungGenerationSizeMb: YOUNG_MEGABYTES, maxOldGenerationSizeMb: OLD_MEGABYTES },
    });
    const isMine = (): boolean => threads.get(id)?.worker === worker;
    const lose = (detail: string): void => {
      if (!isMine()) return;
      threads.delete(id);
      const current = running.get(id);
      if (current) fail(id, current.scanId, 'fault/ours', detail, []);
    };
    worker.on('message', (message: FromWorker) => isMine() && receive(id, message));
    worker.on('error', (error) => lose(error.stack ?? error.message));
    worker.on('exit', (code) => lose(`the project's thread ended with ${code}`));
    return worker;
  };

  return {
    /**
     * Starts a scan; while one is running for the project, gives that one.
     * @param isOwnAccord nobody asked for it: it is dropped when no file has changed
     */
    start(project: ProjectRow, isOwnAccord = false): { scanId: number; isNew: boolean } {
      const current = running.get(project.id);
      if (current) return { scanId: current.scanId, isNew: false };
      const scanId = store.beginScan(project.id);
      const worker = threadFor(project);
      running.set(project.id, { scanId, worker, progress: { phase: 'looking', done: 0, total: 0 } });
      worker.postMessage({ scanId, isOwnAccord } satisfies ToWorker);
      return { scanId, isNew: true };
    },

    /** Stops a running scan; the last finished one stays in force. */
    async stop(projectId: number): Promise<void> {
      const current = running.get(projectId);
      if (!current) return;
      store.failScan(current.scanId, 'stopped', null);
      end(projectId, current.scanId, { is: 'stopped', scanId: current.scanId });
      threads.delete(projectId);
      await current.worker.terminate();
    },

    /** Asks the thread of a project about the map that it holds; null when it holds none, or is gone. */
    ask(projectId: number, question: Omit<Question, 'is' | 'id'>): Promise<Answer | null> {
      const worker = threads.get(projectId)?.worker;
      if (!worker) return Promise.resolve(null);
      const id = ++lastQuestion;
      return new Promise((resolve) => {
        questions.set(id, resolve);
        const gone = (): void => {
          questions.delete(id);
          resolve(null);
        };
        worker.once('exit', gone);
        questions.set(id, (answer) => {
          worker.off('exit', gone);
          resolve(answer);
        });
        worker.postMessage({ ...question, is: 'question', id } satisfies Question);
      });
    },

    progressOf: (projectId: number): { scanId: number; progress: Progress } | undefined => running.get(projectId),
    mapOf: (projectId: number): OpenMap | undefined => maps.get(projectId),

    /** Resolves when the running scan of a project has ended; at once when none runs. */
    settled(projectId: number): Promise<void> {
      if (!running.has(projectId)) return Promise.resolve();
      return new Promise((resolve) => {
        const listen = (event: ScanEvent): void => {
          if (event.is === 'progress') return;
          events.off(String(projectId), listen);
          resolve();
        };
        events.on(String(projectId), listen);
      });
    },

    listen(projectId: number, listener: (event: ScanEvent) => void): () => void {
      events.on(String(projectId), listener);
      return () => events.off(String(projectId), listener);
    },

    async close(): Promise<void> {
      for (const [projectId] of running) await this.stop(projectId);
      for (const { worker } of threads.values()) {
        worker.postMessage('close');
        await new Promise((resolve) => worker.once('exit', resolve));
      }
    },
  };
}
