import { EventEmitter } from 'node:events';
import { Worker } from 'node:worker_threads';
import { ERRORS, GlueError, type ErrorCode, type Graph, type Losses } from '@glue-trace/core';
import type { FastifyBaseLogger } from 'fastify';
import type { Progress, ScanError, ScanEvent } from '../api.js';
import type { ProjectRow, Store } from '../store/store.js';
import type { FromWorker, MapAnswers, MapQuestion, Outcome, QuestionOf, ToWorker, WorkerData } from './messages.js';

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
  const questions = new Map<number, (outcome: Outcome) => void>();
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
    if (message.is === 'outcome') {
      questions.get(message.id)?.(message.outcome);
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
    if (held && !isSame) send(held.worker, { is: 'close' });
    const thread = held && isSame ? held : { worker: beginThread(project), planFile: project.planFile };
    threads.set(project.id, thread);
    for (const [id, idle] of threads) {
      if (threads.size <= THREADS_KEPT) break;
      if (running.has(id) || id === project.id) continue;
      threads.delete(id);
      send(idle.worker, { is: 'close' });
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

  /** Asks the thread, if there is one; it may end before it answers. */
  const outcomeOf = (projectId: number, question: MapQuestion): Promise<Outcome> => {
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
  };

  const replaceThread = async (projectId: number): Promise<void> => {
    const worker = threads.get(projectId)?.worker;
    if (!worker || running.has(projectId)) return;
    threads.delete(projectId);
    await worker.terminate();
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
      send(worker, { is: 'scan', scanId, isOwnAccord });
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

    /**
     * Asks the thread of a project about the map that it holds. A thread that is gone, or of which a question showed
     * a fault of ours, is replaced, and the map is made again.
     * @throws GlueError what the question is refused with; `fault/ours`; `scan/none` when no map can be made
     */
    async ask<Kind extends MapQuestion['ask']>(
      project: ProjectRow,
      question: QuestionOf<Kind>,
    ): Promise<MapAnswers[Kind]> {
      let outcome = await outcomeOf(project.id, question);
      if (outcome.is === 'no map') {
        this.start(project, true);
        await this.settled(project.id);
        outcome = await outcomeOf(project.id, question);
      }
      switch (outcome.is) {
        case 'answered':
          return outcome.answer as MapAnswers[Kind];
        case 'refused':
          throw new GlueError(outcome.code, outcome.detail);
        case 'no map':
          throw new GlueError('scan/none', 'The project cannot be scanned as it is. See Projects for the reason.');
        case 'fault':
          log.error({ project: project.id, question, detail: outcome.detail }, 'a question to the map failed');
          await replaceThread(project.id);
          this.start(project, true);
          throw new GlueError(
            'fault/ours',
            'The map could not tell that. It is made again; the log of the server says more. Your files were only read.',
          );
      }
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
        send(worker, { is: 'close' });
        await new Promise((resolve) => worker.once('exit', resolve));
      }
    },
  };
}

function send(worker: Worker, message: ToWorker): void {
  worker.postMessage(message);
}
