import { join, relative, sep } from 'node:path';
import { subscribe, type AsyncSubscription, type Event } from '@parcel/watcher';
import type { FastifyBaseLogger } from 'fastify';
import type { Watching } from '../api.js';
import { isNeverPart, NEVER_PART_FOLDERS } from '../files/discover.js';
import type { ProjectRow } from '../store/store.js';
import { OWN_ACCORD, type Scans } from './scans.js';

/** Changes that come together make one scan: editors and version control write many files at once. */
const PAUSE = 400;
/** How often a folder is looked through that the system cannot watch, in milliseconds. */
const POLL = 30_000;

interface Watched {
  /** How many are looking at the project. */
  holders: number;
  /** Resolves when all of the folder is watched, or looked through from time to time: what changed before is not seen. */
  ready: Promise<Watching>;
  subscription?: AsyncSubscription;
  poll?: NodeJS.Timeout;
  timer?: NodeJS.Timeout;
}

export type Watches = ReturnType<typeof createWatches>;

/**
 * Watches the folders of projects that somebody looks at, and scans them again when a file changes. The system tells of
 * folders, not of each file, and is asked on a thread of its own: there may be hundreds of thousands.
 */
export function createWatches(scans: Scans, log: FastifyBaseLogger) {
  const watched = new Map<number, Watched>();

  const scan = (project: ProjectRow): void => {
    // A change during a scan waits for its end: that scan may have read the file before.
    void scans
      .settled(project.id)
      .then(async () => {
        if (watched.has(project.id)) await scans.start(project, OWN_ACCORD);
      })
      .catch((error: unknown) => log.warn({ error, folder: project.folder }, 'a change could not be looked at'));
  };
  const scanSoon = (project: ProjectRow): void => {
    const mine = watched.get(project.id);
    if (!mine) return;
    clearTimeout(mine.timer);
    mine.timer = setTimeout(() => scan(project), PAUSE);
  };
  const counts = (folder: string, { path }: Event): boolean => !relative(folder, path).split(sep).some(isNeverPart);

  const watch = async (project: ProjectRow, mine: Watched): Promise<Watching> => {
    const { folder } = project;
    try {
      const subscription = await subscribe(
        folder,
        (error, events) => {
          // Also when too much has changed at once for all of it to be told.
          if (error || events.some((event) => counts(folder, event))) scanSoon(project);
        },
        { ignore: NEVER_PART_FOLDERS.map((name) => join(folder, name)) },
      );
      if (mine.holders === 0) await subscription.unsubscribe();
      else mine.subscription = subscription;
      return { everySeconds: null };
    } catch (error) {
      log.warn({ error, folder }, 'the folder cannot be watched: it is looked through from time to time');
      if (mine.holders > 0) mine.poll = setInterval(() => scan(project), POLL);
      return { everySeconds: POLL / 1000 };
    }
  };
  const end = async ({ timer, poll, subscription }: Watched): Promise<void> => {
    clearTimeout(timer);
    clearInterval(poll);
    await subscription?.unsubscribe();
  };

  return {
    /** Watches a project until `release` is called. */
    hold(project: ProjectRow): { release: () => void; ready: Promise<Watching> } {
      let mine = watched.get(project.id);
      if (!mine) {
        mine = { holders: 1, ready: Promise.resolve({ everySeconds: null }) };
        watched.set(project.id, mine);
        mine.ready = watch(project, mine);
      } else mine.holders++;
      const held = mine;
      let isHeld = true;
      const release = (): void => {
        if (!isHeld) return;
        isHeld = false;
        held.holders--;
        if (held.holders > 0) return;
        watched.delete(project.id);
        void end(held);
      };
      return { release, ready: held.ready };
    },
    async close(): Promise<void> {
      const all = [...watched.values()];
      watched.clear();
      for (const mine of all) {
        mine.holders = 0;
        await end(mine);
      }
    },
  };
}
