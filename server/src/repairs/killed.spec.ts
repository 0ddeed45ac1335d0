/** A repair that is killed in the middle: all of it is there after the next start, or nothing. */
import { spawn, spawnSync } from 'node:child_process';
import { once } from 'node:events';
import { mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { openStore } from '../store/store.js';
import { clearLeftOver } from '../writing/write.js';
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

/** Writes and takes back, or saves a plan, over and over until it is killed. */
const UNTIL_KILLED = `
const [modules, folder, store, what] = process.argv.slice(1);
const { openStore } = await import(modules + '/store/store.js');
const { undoRepair, writeRepair } = await import(modules + '/repairs/repairs.js');
const { writeInside } = await import(modules + '/writing/write.js');
const kept = openStore(store);
const files = ${JSON.stringify(FILES)}.map((file) => ({ file, bytesBefore: Buffer.from('old'), bytesAfter: Buffer.from('new') }));
process.stdout.write('ready');
for (let at = 0; ; at++) {
  if (what === 'plan') writeInside(folder, 'glue-trace.json', String(at % 10).repeat(100_000));
  else undoRepair(kept, 1, folder, writeRepair(kept, 1, folder, 'Write it', { files, taken: [], left: [] }));
}
`;
/** How often it is killed at some moment: with each test run, and in a siege. */
const KILLS = process.env['GLUE_SIEGE'] === 'long' ? 100 : 3;

/** Writes a repair where no file may grow beyond a number of kilobytes, as on a full disk. */
const FULL = `
const [modules, folder, store] = process.argv.slice(1);
const { openStore } = await import(modules + '/store/store.js');
const { writeRepair } = await import(modules + '/repairs/repairs.js');
try {
  const kept = openStore(store);
  const files = ${JSON.stringify(FILES)}.map((file, at) => ({ file, bytesBefore: Buffer.from('old'), bytesAfter: Buffer.alloc(20_000 * (at + 1), 'n') }));
  writeRepair(kept, 1, folder, 'Write it', { files, taken: [], left: [] });
} catch (error) {
  if (!error.code?.includes('/')) throw error;
  process.stdout.write(error.code);
}
`;

const modules = new URL('..', import.meta.url).href.replace(/\/$/, '');

describe('a repair that is killed', () => {
  let base: string;
  let folder: string;
  let path: string;
  const run = (what: 'write' | 'undo', last: number): boolean => {
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

  for (const what of ['repairs', 'plan'])
    it(`at any moment while ${what} are written is whole or not there: ${KILLS} times`, async () => {
      writeFileSync(join(folder, 'glue-trace.json'), '0'.repeat(100_000));
      for (let kill = 0; kill < KILLS; kill++) {
        const child = spawn(process.execPath, [
          ...['--input-type=module', '-e', UNTIL_KILLED],
          ...[modules, folder, path, what],
        ]);
        await once(child.stdout, 'data');
        await new Promise((resolve) => setTimeout(resolve, (kill * 37) % 120));
        child.kill('SIGKILL');
        await once(child, 'exit');
        const store = openStore(path);
        recoverRepairs(store, 1, folder);
        store.close();
        clearLeftOver([folder]);
        expect([OLD, NEW].map(String)).toContain(String(held()));
        if (held()[0] === 'new') for (const file of FILES) writeFileSync(join(folder, file), 'old');
        expect(readFileSync(join(folder, 'glue-trace.json'), 'utf8')).toMatch(/^(\d)\1{99999}$/);
        expect(leftOver()).toEqual([]);
      }
    });

  it('by a full disk is told, and changes nothing', () => {
    const outcomes = new Set<string>();
    for (const kilobytes of [1, 8, 24, 48, 72, 96, 128, 200, 400, 4000]) {
      // Files that may not grow are what a full disk is to whoever writes; a disk of its own needs more rights.
      const limited = `trap '' XFSZ; ulimit -f ${kilobytes * 2}; exec "$0" --input-type=module -e "$1" "$2" "$3" "$4"`;
      const { stdout, stderr } = spawnSync('sh', ['-c', limited, process.execPath, FULL, modules, folder, path], {
        encoding: 'utf8',
      });
      expect(stderr).toBe('');
      const store = openStore(path);
      recoverRepairs(store, 1, folder);
      store.close();
      outcomes.add(stdout);
      if (stdout) expect(held()).withContext(String(kilobytes)).toEqual(OLD);
      else {
        expect(held().map((text) => text.length)).toEqual([20_000, 40_000, 60_000]);
        for (const file of FILES) writeFileSync(join(folder, file), 'old');
      }
      expect(leftOver()).toEqual([]);
    }
    expect([...outcomes].sort()).toEqual(['', 'file/unwritable', 'store/unwritable']);
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
