import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import Fastify from 'fastify';
import type { ProjectRow } from '../store/store.js';
import type { Scans } from './scans.js';
import { createWatches, type Watches } from './watch.js';

describe('watching a folder', () => {
  let folder: string;
  let watches: Watches;
  /** Resolves with each scan that is asked for. */
  let scanned: () => Promise<void>;

  beforeEach(() => {
    folder = mkdtempSync(join(tmpdir(), 'glue-watch-'));
    let tell: () => void = () => undefined;
    scanned = () => new Promise((resolve) => (tell = resolve));
    const start = (): Promise<{ scanId: number; isNew: boolean }> => {
      tell();
      return Promise.resolve({ scanId: 1, isNew: true });
    };
    watches = createWatches({ start, settled: () => Promise.resolve() } as unknown as Scans, Fastify().log);
  });
  afterEach(async () => {
    await watches.close();
    rmSync(folder, { recursive: true, force: true });
  });
  const project = (at = folder): ProjectRow => ({ id: 1, folder: at, planFile: null, name: '', openedAt: '' });

  it('tells of changed and new files, in new folders as well', async () => {
    expect(await watches.hold(project()).ready).toEqual({ everySeconds: null });
    const first = scanned();
    mkdirSync(join(folder, 'data'));
    await first;
    const second = scanned();
    writeFileSync(join(folder, 'data', 'a.json'), '{}');
    await second;
    expect().nothing();
  });

  it('says nothing of what never belongs to a project', async () => {
    for (const name of ['.git', 'deep/node_modules', 'deep']) mkdirSync(join(folder, name), { recursive: true });
    await watches.hold(project()).ready;
    let scans = 0;
    void scanned().then(() => scans++);
    for (const name of ['.git/index', 'deep/node_modules/a.js', 'deep/glue-trace.db-wal', 'glue-trace.db'])
      writeFileSync(join(folder, name), 'x');
    await new Promise((resolve) => setTimeout(resolve, 1500));
    expect(scans).toBe(0);
  });

  it('looks through what the system cannot watch, and says how often', async () => {
    const { release, ready } = watches.hold(project(join(folder, 'nowhere')));
    expect(await ready).toEqual({ everySeconds: 30 });
    release();
  });
});
