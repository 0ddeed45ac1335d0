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
  /** Resolves when all of the folder is watched: what changed before is not seen. */
  ready: Promise<void>;
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
    const ready = new Promise<void>((resolve) => watcher.once('ready', resolve));
    return { watcher, holders: 0, ready };
  };

  return {
    /** Watches a project until `release` is called. */
    hold(project: ProjectRow): { release: () => void; ready: Promise<void> } {
      let mine = watched.get(project.id);
      if (!mine) watched.set(project.id, (mine = begin(project)));
      mine.holders++;
      let isHeld = true;
      const release = (): void => {
        if (!isHeld) return;
        isHeld = false;
        mine.holders--;
        if (mine.holders > 0) return;
        clearTimeout(mine.timer);
        watched.delete(project.id);
        void mine.watcher.close();
      };
      return { release, ready: mine.ready };
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
