import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { FindingView, Readiness } from '@glue-trace/core';
import { openStore, type Store } from './store.js';

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
        cause: text,
        sentence: [],
        places: 1,
        evidence: [{ file: path, range: { line: 1, column: 1, endLine: 1, endColumn: 2 } }],
      }) as unknown as FindingView;
    // The second name is written in the other way: the letter, then its marks.
    const paths = ['data/Übung.json', 'data/O\u0308l.json', 'data/gate.json'];
    store.finishScan(scan, {
      milliseconds: 1,
      reused: 0,
      readiness: {} as Readiness,
      rules: [],
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
