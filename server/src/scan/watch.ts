import { relative, sep } from 'node:path';
import { watch, type FSWatcher } from 'chokidar';
import type { FastifyBaseLogger } from 'fastify';
import type { ProjectRow } from '../store/store.js';
import type { Scans } from './scans.js';

/** Changes that come together make one scan: editors and version control write many files at once. */
const PAUSE = 400;
const IGNORED = /(^|[\\/])(\.git|node_modules)([\\/]|$)/;

interface Watched {
  watcher: FSWatcher;
  /** How many are looking at the project. */
  holders: number;
  timer?: NodeJS.Timeout;
}

export type Watches = ReturnType<typeof createWatches>;

/** Watches the folders of projects that somebody looks at, and scans them again when a file changes. */
export function createWatches(scans: Scans, log: FastifyBaseLogger) {
  const watched = new Map<number, Watched>();

  const scanSoon = (project: ProjectRow): void => {
    const mine = watched.get(project.id);
    if (!mine) return;
    clearTimeout(mine.timer);
    mine.timer = setTimeout(() => {
      // A change during a scan waits for its end: that scan may have read the file before.
      void scans.settled(project.id).then(() => {
        if (watched.has(project.id)) scans.start(project, true);
      });
    }, PAUSE);
  };

  const begin = (project: ProjectRow): Watched => {
    const watcher = watch(project.folder, {
      ignoreInitial: true,
      followSymlinks: false,
      ignored: (path) => IGNORED.test(relative(project.folder, path).split(sep).join('/')),
    });
    watcher.on('all', (event) => {
      if (event !== 'addDir') scanSoon(project);
    });
    watcher.on('error', (error) => log.warn({ error, folder: project.folder }, 'the folder cannot be watched'));
    return { watcher, holders: 0 };
  };

  return {
    /** Watches a project until the function given back is called. */
    hold(project: ProjectRow): () => void {
      let mine = watched.get(project.id);
      if (!mine) watched.set(project.id, (mine = begin(project)));
      mine.holders++;
      let isHeld = true;
      return () => {
        if (!isHeld) return;
        isHeld = false;
        mine.holders--;
        if (mine.holders > 0) return;
        clearTimeout(mine.timer);
        watched.delete(project.id);
        void mine.watcher.close();
      };
    },
    async close(): Promise<void> {
      for (const { watcher, timer } of watched.values()) {
        clearTimeout(timer);
        await watcher.close();
      }
      watched.clear();
    },
  };
}
