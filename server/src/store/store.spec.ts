import {
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  rmSync,
  statSync,
  truncateSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { GlueError, type FindingView, type Plan, type Readiness } from '@glue-trace/core';
import Database from 'better-sqlite3';
import { factsKey } from '../scan/facts-cache.js';
import { openStore, type Store } from './store.js';

const SAVED = {
  ...{ milliseconds: 1, reused: 0, readiness: {} as Readiness, rules: [], findings: [], idleWaivers: [] },
  ...{ plan: {} as Plan, planHash: 'p' },
};

describe('what the store finds by words', () => {
  let folder: string;
  let store: Store;
  let scan: number;

  beforeEach(() => {
    folder = mkdtempSync(join(tmpdir(), 'glue-store-'));
    store = openStore(join(folder, 'glue.db'));
    scan = store.beginScan(store.addProject(folder, 'Small', null).id);
    const file = (path: string): Parameters<Store['finishScan']>[1]['files'][number] => ({
      path,
      status: 'read',
      rule: '',
      reason: '',
      size: 1,
      hash: path,
      modified: 0,
    });
    const finding = (text: string, path: string): FindingView =>
      ({
        check: 'broken/missing-file',
        severity: 'error',
        text,
        fingerprint: text,
        sentence: [],
        places: 1,
        files: [path],
        evidence: [{ file: path, range: { line: 1, column: 1, endLine: 1, endColumn: 2 } }],
      }) as unknown as FindingView;
    // The second name is written in the other way: the letter, then its marks.
    const paths = ['data/Übung.json', 'data/O\u0308l.json', 'data/gate.json'];
    store.finishScan(scan, {
      ...SAVED,
      findings: paths.map((path) => finding(`${path} is MISSING`, path)),
      files: paths.map(file),
    });
  });
  afterEach(() => {
    store.close();
    rmSync(folder, { recursive: true, force: true });
  });

  for (const { words, found } of [
    { words: 'übung', found: ['data/Übung.json'] },
    { words: 'ÜBUNG', found: ['data/Übung.json'] },
    { words: 'u\u0308bung', found: ['data/Übung.json'] },
    { words: 'öl', found: ['data/O\u0308l.json'] },
    { words: 'GATE', found: ['data/gate.json'] },
    { words: 'ubung', found: [] },
  ])
    it(`in files and findings: ${words}`, () => {
      const page = { text: words, offset: 0, limit: 10 };
      expect(store.files(scan, page).rows.map(({ path }) => path)).toEqual(found);
      expect(store.findings(scan, page).rows.map(({ file }) => file)).toEqual(found);
      expect(store.findings(scan, { ...page, text: `${words} missing` }).total).toBe(found.length);
    });
});

describe('a store that is at fault', () => {
  let folder: string;
  beforeEach(() => (folder = mkdtempSync(join(tmpdir(), 'glue-store-'))));
  afterEach(() => rmSync(folder, { recursive: true, force: true }));
  const codeOf = (run: () => unknown): [string, string] => {
    try {
      run();
    } catch (error) {
      if (error instanceof GlueError) return [error.code, error.detail];
      throw error;
    }
    return ['', ''];
  };

  it('by being newer than we are is refused by name, and left as it was', () => {
    const path = join(folder, 'glue.db');
    openStore(path).close();
    const db = new Database(path);
    db.pragma('user_version = 99');
    db.pragma('journal_mode = DELETE');
    db.close();
    const before = readFileSync(path);
    const [code, detail] = codeOf(() => openStore(path));
    expect(code).toBe('store/newer');
    expect(detail).toContain(`${path} has the version 99`);
    expect([readFileSync(path).equals(before), readdirSync(folder)]).toEqual([true, ['glue.db']]);
  });
  it('by being something else is refused by name, and left as it was', () => {
    const path = join(folder, 'glue.db');
    writeFileSync(path, 'this is no store, but a text of some length\n'.repeat(100));
    const [code, detail] = codeOf(() => openStore(path));
    expect(code).toBe('store/spoilt');
    expect(detail).toContain(`${path} is no store any more`);
    expect(readFileSync(path, 'utf8')).toContain('this is no store');
  });
  it('by being cut off tells it when that is met', () => {
    const path = join(folder, 'glue.db');
    const store = openStore(path);
    for (let at = 0; at < 200; at++) store.addProject(`/projects/${at}`, `Project ${at}`, null);
    store.close();
    truncateSync(path, Math.floor(statSync(path).size / 2));
    const codes = ['store/spoilt', 'store/unwritable'];
    expect(codes).toContain(codeOf(() => openStore(path).projects())[0]);
  });
  it('by being served already is told with the place, and free again when that server is gone', () => {
    const path = join(folder, 'glue.db');
    const store = openStore(path);
    const db = new Database(path);
    const servedBy = (pid: number): void =>
      void db.prepare("INSERT OR REPLACE INTO server VALUES (1, ?, 'http://127.0.0.1:4860')").run(pid);
    servedBy(process.ppid);
    const [code, detail] = codeOf(() => store.beginServing(path));
    expect(code).toBe('store/busy');
    expect(detail).toContain(`at http://127.0.0.1:4860 (process ${process.ppid})`);
    servedBy(4_000_000);
    expect(codeOf(() => store.beginServing(path))).toEqual(['', '']);
    store.endServing();
    db.close();
    store.close();
  });
  it('keeps a scan that was saved before it was stopped', () => {
    const store = openStore(join(folder, 'glue.db'));
    const project = store.addProject(folder, 'Small', null).id;
    const scan = store.beginScan(project);
    const saved = { ...SAVED, files: [] };
    store.finishScan(scan, saved);
    store.failScan(scan, 'stopped', null);
    const other = store.beginScan(project);
    store.failScan(other, 'stopped', null);
    expect([store.lastDoneScan(project)!.id, store.lastScan(project)!.state]).toEqual([scan, 'stopped']);
    store.close();
  });
  it('keeps what scans that are kept were read by, however long ago, and drops what none needs', () => {
    const path = join(folder, 'glue.db');
    const store = openStore(path);
    const project = store.addProject(folder, 'Small', null).id;
    const file = {
      path: 'a.json',
      hash: 'h',
      status: 'read' as const,
      rule: 'files.a',
      reason: '',
      size: 1,
      modified: 0,
    };
    store.finishScan(store.beginScan(project), { ...SAVED, files: [file] });
    const [needed, idle] = [factsKey(file, SAVED.planHash), factsKey({ ...file, hash: 'former' }, SAVED.planHash)];
    const cache = store.factsCache(project);
    cache.put(needed, 'needed');
    cache.put(idle, 'idle');
    cache.save();
    const db = new Database(path);
    db.prepare("UPDATE facts SET used_at = '2020-01-01'").run();
    db.close();
    cache.save();
    expect([store.factsKept(needed), store.factsKept(idle)]).toEqual(['needed', undefined]);
    store.close();
  });
  it('by standing in the place of a folder is refused by name', () => {
    mkdirSync(join(folder, 'glue.db'));
    expect(codeOf(() => openStore(join(folder, 'glue.db')))[0]).toBe('file/unwritable');
  });
});
