/** A repair that is killed in the middle: all of it is there after the next start, or nothing. */
import { spawnSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { openStore } from '../store/store.js';
import type { PlannedRepair } from './plan-repair.js';
import { recoverRepairs, undoRepair, writeRepair } from './repairs.js';

const FILES = ['a.txt', 'data/b.txt', 'data/c.txt'];
const PLANNED = {
  files: FILES.map((file) => ({ file, bytesBefore: Buffer.from('old'), bytesAfter: Buffer.from('new') })),
} as PlannedRepair;
/** Before each file twice, and around all of them. */
const STEPS = 2 * FILES.length + 2;

/** Writes a repair, or takes it back, and dies before the step of a number. */
const KILLED = `
const [modules, folder, store, what, last] = process.argv.slice(1);
const { openStore } = await import(modules + '/store/store.js');
const { undoRepair, writeRepair } = await import(modules + '/repairs/repairs.js');
let at = 0;
const seam = () => { if (at++ === Number(last)) process.kill(process.pid, 'SIGKILL'); };
const kept = openStore(store);
if (what === 'write') {
  const files = ${JSON.stringify(FILES)}.map((file) => ({ file, bytesBefore: Buffer.from('old'), bytesAfter: Buffer.from('new') }));
  writeRepair(kept, 1, folder, 'Write it', { files, taken: [], left: [] }, seam);
} else undoRepair(kept, 1, folder, 1, seam);
kept.close();
`;

describe('a repair that is killed', () => {
  let base: string;
  let folder: string;
  let path: string;
  const run = (what: 'write' | 'undo', last: number): boolean => {
    const modules = new URL('..', import.meta.url).href.replace(/\/$/, '');
    const args = ['--input-type=module', '-e', KILLED, modules, folder, path, what, String(last)];
    const { signal, status, stderr } = spawnSync(process.execPath, args, { encoding: 'utf8' });
    if (signal === null && status !== 0) throw new Error(stderr);
    return signal === 'SIGKILL';
  };
  const held = (): string[] => FILES.map((file) => readFileSync(join(folder, file), 'utf8'));
  const [OLD, NEW] = [FILES.map(() => 'old'), FILES.map(() => 'new')];
  const leftOver = (): string[] =>
    readdirSync(folder, { recursive: true, encoding: 'utf8' }).filter((name) => name.endsWith('.glue-new'));

  beforeEach(() => {
    base = mkdtempSync(join(tmpdir(), 'glue-killed-'));
    folder = join(base, 'project');
    path = join(base, 'data', 'glue.db');
    mkdirSync(join(folder, 'data'), { recursive: true });
    for (const file of FILES) writeFileSync(join(folder, file), 'old');
    const store = openStore(path);
    store.addProject(folder, 'Small', null);
    store.close();
  });
  afterEach(() => rmSync(base, { recursive: true, force: true }));

  for (let last = 0; last < STEPS; last++)
    it(`before step ${last + 1} of ${STEPS} is there as a whole or not at all, and can be taken back`, () => {
      expect(run('write', last)).toBeTrue();
      const store = openStore(path);
      recoverRepairs(store, 1, folder);
      const repairs = store.repairs(1);
      expect(repairs.every(({ state }) => state === 'written')).toBeTrue();
      expect(held()).toEqual(repairs.length > 0 ? NEW : OLD);
      expect(repairs.length > 0).toBe(last === STEPS - 1);
      for (const { id } of repairs) undoRepair(store, 1, folder, id);
      expect([held(), leftOver()]).toEqual([OLD, []]);
      store.close();
    });

  for (let last = 0; last < STEPS; last++)
    it(`while it is taken back, before step ${last + 1} of ${STEPS}, is taken back or there as before`, () => {
      const store = openStore(path);
      writeRepair(store, 1, folder, 'Write it', PLANNED);
      expect(held()).toEqual(NEW);
      expect(run('undo', last)).toBeTrue();
      recoverRepairs(store, 1, folder);
      const [repair] = store.repairs(1);
      expect([repair!.state, held()]).toEqual(['written', repair!.undoneAt === null ? NEW : OLD]);
      expect(repair!.undoneAt === null).toBe(last === 0);
      expect(leftOver()).toEqual([]);
      store.close();
    });

  it('leaves alone what somebody changed since', () => {
    run('write', STEPS - 2);
    writeFileSync(join(folder, 'a.txt'), 'mine');
    const store = openStore(path);
    expect(recoverRepairs(store, 1, folder)).toEqual(['Write it']);
    expect([held(), store.repairs(1)]).toEqual([['mine', 'old', 'old'], []]);
    store.close();
  });
});
