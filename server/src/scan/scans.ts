import { EventEmitter } from 'node:events';
import { ERRORS, GlueError, type Graph, type Losses } from '@glue-trace/core';
import type { FastifyBaseLogger } from 'fastify';
import type { Progress, ScanError, ScanEvent } from '../api.js';
import type { ProjectRow, Store } from '../store/store.js';
import { whenFree } from '../store/when-free.js';
import type { Failure, LossOf, MapAnswers, MapQuestion, QuestionOf, ScanOrder } from './messages.js';
import { createThreads, type ThreadOwner } from './threads.js';

/** The map of a project's last scan, in memory. */
export interface OpenMap {
  scanId: number;
  graph: Graph;
  losses: Losses;
}

interface Running {
  /** 0 until the store has a number for it. */
  scanId: number;
  progress: Progress;
  /** The number, as soon as there is one. */
  begun: Promise<number>;
  /** As far as it was handed over. */
  map?: OpenMap & { losses: Map<LossOf[0], LossOf[1]> };
}

export interface StartedScan {
  scanId: number;
  /** False when one was running already. */
  isNew: boolean;
}

/** Somebody asked for it. */
const ASKED = { isOwnAccord: false, readsAll: false };
/** Nobody asked for it: it is dropped when no file has changed. */
export const OWN_ACCORD = { isOwnAccord: true, readsAll: false };
/** What looks unchanged is read all the same. */
export const THOROUGH = { isOwnAccord: false, readsAll: true };

export type Scans = ReturnType<typeof createScans>;

/** Runs scans on a thread for each project, one at a time. One closure: all it gives away works on the same few maps. */
export function createScans(store: Store, storePath: string, log: FastifyBaseLogger) {
  const running = new Map<number, Running>();
  const maps = new Map<number, OpenMap>();
  const events = new EventEmitter();
  events.setMaxListeners(0);
  const tell = (projectId: number, event: ScanEvent): void => void events.emit(String(projectId), event);
  /** Writes whose outcome nobody waits for: closing waits for them. */
  const writes = new Set<Promise<void>>();
  const write = (run: () => void, then: () => void): void => {
    const done = whenFree(run)
      .catch((error: unknown) => log.error({ error }, 'the store could not be told of a scan'))
      .then(then)
      .finally(() => writes.delete(done));
    writes.add(done);
  };

  const end = (projectId: number, scanId: number, event: ScanEvent): void => {
    if (running.get(projectId)?.scanId !== scanId) return;
    running.delete(projectId);
    tell(projectId, event);
  };

  const fail = (projectId: number, scanId: number, { code, detail, mistakes }: Failure): void => {
    if (code === 'fault/ours') log.error({ scanId, detail }, 'a scan failed');
    // What went wrong inside is for the log; the user is told what to do.
    const told =
      code === 'fault/ours'
        ? 'The scan could not be finished. The log of the server says more; your files were only read.'
        : detail;
    const error: ScanError = { code, title: ERRORS[code].title, detail: told, mistakes };
    write(
      () => store.failScan(scanId, 'failed', error),
      () => end(projectId, scanId, { is: 'failed', scanId, error }),
    );
  };

  const receive: ThreadOwner['receive'] = (projectId, message) => {
    const mine = running.get(projectId);
    if (!mine) return;
    const { scanId } = mine;
    switch (message.is) {
      case 'progress':
        mine.progress = message.progress;
        return tell(projectId, { is: 'progress', scanId, progress: message.progress });
      case 'unchanged':
        return end(projectId, scanId, { is: 'unchanged', scanId });
      case 'decided':
        return write(
          () => undefined,
          () =>
            end(projectId, scanId, {
              is: 'done',
              scanId: message.scanId,
              change: store.changeOf(projectId, message.scanId),
            }),
        );
      case 'failed':
        return fail(projectId, scanId, message);
      case 'map':
        mine.map = { scanId, graph: message.graph, losses: new Map() };
        return threads.askForMore(projectId);
      case 'part':
        mine.map?.graph.texts.push(...message.texts);
        for (const [link, loss] of message.losses) mine.map?.losses.set(link, loss);
        return threads.askForMore(projectId);
      case 'done':
        if (mine.map) maps.set(projectId, mine.map);
        return write(
          () => store.renameProject(projectId, message.name),
          () => end(projectId, scanId, { is: 'done', scanId, change: store.changeOf(projectId, scanId) }),
        );
    }
  };

  const threads = createThreads(storePath, {
    receive,
    lose(projectId, failure) {
      const current = running.get(projectId);
      if (current) fail(projectId, current.scanId, failure);
    },
    isBusy: (projectId) => running.has(projectId),
  });

  return {
    /**
     * Starts a scan; while one is running for the project, gives that one.
     * @throws GlueError `store/busy`
     */
    async start(project: ProjectRow, order: Omit<ScanOrder, 'scanId'> = ASKED): Promise<StartedScan> {
      const current = running.get(project.id);
      if (current) return { scanId: await current.begun, isNew: false };
      const begun = whenFree(() => store.beginScan(project.id));
      const mine: Running = { scanId: 0, progress: { phase: 'looking', done: 0, total: 0 }, begun };
      running.set(project.id, mine);
      try {
        mine.scanId = await begun;
      } catch (error) {
        end(project.id, 0, { is: 'stopped', scanId: 0 });
        throw error;
      }
      threads.scan(project, { scanId: mine.scanId, ...order });
      return { scanId: mine.scanId, isNew: true };
    },

    /** Stops a running scan; the last finished one stays in force. */
    async stop(projectId: number): Promise<void> {
      const current = running.get(projectId);
      if (!current) return;
      const scanId = await current.begun;
      // The thread first: it may be saving. What it has saved counts; its map is then made again.
      await threads.drop(projectId);
      if (current.map) maps.delete(projectId);
      await whenFree(() => store.failScan(scanId, 'stopped', null));
      end(projectId, scanId, { is: 'stopped', scanId });
    },

    /** Forgets a project: its number may be given to another one. */
    async forget(projectId: number): Promise<void> {
      await this.stop(projectId);
      maps.delete(projectId);
      await threads.drop(projectId);
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
      let outcome = await threads.ask(project.id, question);
      if (outcome.is === 'no map') {
        await this.start(project, OWN_ACCORD);
        await this.settled(project.id);
        outcome = await threads.ask(project.id, question);
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
          if (!running.has(project.id)) await threads.drop(project.id);
          await this.start(project, OWN_ACCORD);
          throw new GlueError(
            'fault/ours',
            'The map could not tell that. It is made again; the log of the server says more. Your files were only read.',
          );
      }
    },

    /** The scan that runs, if one does. */
    progressOf(projectId: number): { scanId: number; progress: Progress } | undefined {
      const current = running.get(projectId);
      return current && current.scanId > 0 ? current : undefined;
    },
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
      await threads.close();
      await Promise.all(writes);
    },
  };
}
