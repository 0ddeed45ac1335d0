import { EventEmitter } from 'node:events';
import { Worker } from 'node:worker_threads';
import { ERRORS, type ErrorCode, type Graph, type Losses } from '@glue-trace/core';
import type { FastifyBaseLogger } from 'fastify';
import type { Progress, ScanError, ScanEvent } from '../api.js';
import type { ProjectRow, Store } from '../store/store.js';
import type { FromWorker, ToWorker } from './messages.js';

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

export type Scans = ReturnType<typeof createScans>;

/** Runs scans on worker threads, one at a time for each project. */
export function createScans(store: Store, storePath: string, log: FastifyBaseLogger) {
  const running = new Map<number, Running>();
  const maps = new Map<number, OpenMap>();
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

  return {
    /**
     * Starts a scan; while one is running for the project, gives that one.
     * @param isOwnAccord nobody asked for it: it is dropped when no file has changed
     */
    start(project: ProjectRow, isOwnAccord = false): { scanId: number; isNew: boolean } {
      const current = running.get(project.id);
      if (current) return { scanId: current.scanId, isNew: false };
      const scanId = store.beginScan(project.id);
      const data: ToWorker = {
        folder: project.folder,
        planFile: project.planFile ?? undefined,
        storePath,
        scanId,
        isOwnAccord,
      };
      const worker = new Worker(new URL('./worker.js', import.meta.url), { workerData: data });
      running.set(project.id, { scanId, worker, progress: { phase: 'looking', done: 0, total: 0 } });
      worker.on('message', (message: FromWorker) => {
        const mine = running.get(project.id);
        if (mine?.scanId !== scanId) return;
        if (message.is === 'progress') {
          mine.progress = message.progress;
          tell(project.id, { is: 'progress', scanId, progress: message.progress });
        } else if (message.is === 'unchanged') end(project.id, scanId, { is: 'unchanged', scanId });
        else if (message.is === 'failed') fail(project.id, scanId, message.code, message.detail, message.mistakes);
        else {
          maps.set(project.id, { scanId, graph: message.graph, losses: message.losses });
          store.renameProject(project.id, message.name);
          end(project.id, scanId, { is: 'done', scanId, change: store.changeOf(project.id, scanId) });
        }
      });
      worker.on('error', (error) => fail(project.id, scanId, 'fault/ours', error.stack ?? error.message, []));
      worker.on('exit', (code) => {
        if (running.get(project.id)?.scanId === scanId)
          fail(project.id, scanId, 'fault/ours', `the scan's thread ended with ${code}`, []);
      });
      return { scanId, isNew: true };
    },

    /** Stops a running scan; the last finished one stays in force. */
    async stop(projectId: number): Promise<void> {
      const current = running.get(projectId);
      if (!current) return;
      store.failScan(current.scanId, 'stopped', null);
      end(projectId, current.scanId, { is: 'stopped', scanId: current.scanId });
      await current.worker.terminate();
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
    },
  };
}
