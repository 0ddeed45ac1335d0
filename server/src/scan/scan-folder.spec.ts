import {
  chmodSync,
  cpSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  rmSync,
  symlinkSync,
  utimesSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { GlueError, plain, itemAt } from '@glue-trace/core';
import type { Progress } from '../api.js';
import type { FileEntry } from './read-one.js';
import type { FactsCache } from './facts-cache.js';
import { openSession, scanFolder, type ScanResult } from './scan-folder.js';

const SAMPLE = fileURLToPath(new URL('../../../samples/sluicekeeper', import.meta.url));
const PLAN =
  '{"version":1,"name":"Small","files":{"data":{"match":"**/*.json","as":"data asset"},"more":{"match":"**/*.yaml","as":"data asset"}},"scripts":{"ts":{"match":"**/*.ts","language":"typescript"}}}';

describe('scanning a folder', () => {
  let folder: string;
  beforeEach(() => (folder = mkdtempSync(join(tmpdir(), 'glue-scan-'))));
  afterEach(() => rmSync(folder, { recursive: true, force: true }));

  const write = (files: Record<string, string | Buffer>): void => {
    for (const [path, content] of Object.entries({ 'glue-trace.json': PLAN, ...files })) {
      mkdirSync(dirname(join(folder, path)), { recursive: true });
      writeFileSync(join(folder, path), content);
    }
  };
  const entry = ({ files }: ScanResult, path: string): string => {
    const found = files.find((file) => file.path === path)!;
    return `${found.status}: ${found.reason}`;
  };
  const code = async (promise: Promise<unknown>): Promise<string> => {
    try {
      await promise;
    } catch (error) {
      if (error instanceof GlueError) return error.code;
      throw error;
    }
    return 'none';
  };

  it('reads code inside other files though no script is there', async () => {
    const plan = {
      version: 1,
      name: 'Small',
      files: { data: { match: '*.json', as: 'data asset', embedded: { code: { at: '$.run', script: 'lua' } } } },
      scripts: { lua: { match: '*.lua', language: 'lua' } },
      calls: [{ call: 'need($id)', means: 'refer', target: { by: 'id' } }],
    };
    write({ 'glue-trace.json': JSON.stringify(plan), 'a.json': '{ "run": "need(\'coal\')" }' });
    const { analysis } = await scanFolder({ folder });
    expect(analysis.findings.map((finding) => plain(finding.sentence))).toEqual([
      'a refers to coal; the project has nothing of that name or identity',
    ]);
  });

  it('accounts for every file, with the reason where it was not read', async () => {
    write({
      'good.json': '{}',
      'broken.json': '{"a": }',
      'broken.yaml': 'a: [1\nb: "',
      'broken.ts': 'class A { f( { }',
      'latin.json': Buffer.from('{"name": "Schl\xe4use"}', 'latin1'),
      'wide.json': Buffer.from('\ufeff{"name": "x"}', 'utf16le'),
      'bytes.json': Buffer.from([1, 0, 2]),
      'empty.json': '',
      'notes.txt': 'x',
    });
    const result = await scanFolder({ folder });
    expect(entry(result, 'good.json')).toBe('read: ');
    expect(entry(result, 'wide.json')).toBe('read: ');
    expect(entry(result, 'broken.json')).toContain('partly: line 1');
    expect(entry(result, 'broken.yaml')).toContain('partly: line');
    expect(entry(result, 'broken.ts')).toContain('partly: line 1');
    expect(entry(result, 'latin.json')).toContain('partly: not valid UTF-8');
    expect(entry(result, 'bytes.json')).toBe('listed: not a text file');
    expect(entry(result, 'notes.txt')).toBe('unread: no rule of the plan matches it');
    expect(result.files.length).toBe(10);
  });

  it('never follows links, and says so', async () => {
    write({ 'good.json': '{}' });
    symlinkSync(SAMPLE, join(folder, 'elsewhere'));
    symlinkSync(folder, join(folder, 'circle'));
    const result = await scanFolder({ folder });
    expect(entry(result, 'elsewhere')).toContain('a link');
    expect(result.files.filter((file) => file.path.startsWith('circle/'))).toEqual([]);
  });

  it('does not tell that a file is missing where a link stands in its place', async () => {
    write({ 'pictures/gate.svg': '<svg/>', 'good.json': '{ "pictures": ["pictures/gate.svg", "pictures/bell.svg"] }' });
    const missing = async (): Promise<string[]> =>
      (await scanFolder({ folder, planFile: paths })).analysis.findings.map(({ check }) => check);
    const paths = join(folder, 'paths.json');
    writeFileSync(
      paths,
      JSON.stringify({
        ...{ version: 1, name: 'Links' },
        files: {
          all: { match: 'good.json', as: 'data asset', references: { pictures: { at: '$.pictures[*]', by: 'path' } } },
        },
      }),
    );
    expect(await missing()).toEqual(['broken/missing-file']);
    symlinkSync(join(folder, 'pictures/gate.svg'), join(folder, 'pictures/bell.svg'));
    expect(await missing()).toEqual([]);
    // Nobody looked into a folder that is a link.
    symlinkSync(join(folder, 'pictures'), join(folder, 'sketches'));
    write({ 'good.json': '{ "pictures": ["sketches/gate.svg", "sketch/gate.svg"] }' });
    expect(await missing()).toEqual(['broken/missing-file']);
  });

  it('minds ignore files and what the plan ignores', async () => {
    write({
      '.gitignore': 'out/\n*.log',
      'out/a.json': '{}',
      'x.log': '',
      'sub/.glueignore': 'b.json',
      'sub/b.json': '{}',
      'sub/c.json': '{}',
    });
    expect((await scanFolder({ folder })).files.map((file) => file.path)).toEqual([
      '.gitignore',
      'glue-trace.json',
      'sub/.glueignore',
      'sub/c.json',
    ]);
  });

  it('tells its progress', async () => {
    write({ 'a.json': '{}' });
    const told: Progress[] = [];
    await scanFolder({ folder, onProgress: (progress) => told.push(progress) });
    expect(told.map((one) => one.phase)).toEqual(['looking', 'reading', 'linking']);
  });

  const told = ({ analysis }: ScanResult): string[] =>
    analysis.findings.map((finding) => `${finding.fingerprint} ${plain(finding.sentence)}`);

  it('reads only what changed when the folder is scanned again, to the same result', async () => {
    cpSync(SAMPLE, folder, { recursive: true });
    const session = openSession({ folder });
    const first = await session.scan();
    expect(first.reused).toBe(0);
    writeFileSync(join(folder, 'data/crew.yaml'), 'rows: []\n');
    const second = await session.scan();
    expect(second.reused).toBe(
      first.files.filter((file) => file.status === 'read' || file.status === 'partly').length - 1,
    );
    expect(entry(second, 'data/crew.yaml')).toBe('read: ');
    expect(told(second)).toEqual(told(await scanFolder({ folder })));
    // A plan with other rules makes every file be read anew.
    writeFileSync(join(folder, 'glue-trace.json'), PLAN);
    expect((await session.scan()).reused).toBe(0);
  });

  it('reads what keeps its size and time when it is asked to look into all', async () => {
    write({ 'data/a.json': '{"path": "data/b"}' });
    const path = join(folder, 'data/a.json');
    const longAgo = new Date(Date.now() - 60_000);
    utimesSync(path, longAgo, longAgo);
    const session = openSession({ folder });
    const hashIn = ({ files }: ScanResult): string => files.find((file) => file.path === 'data/a.json')!.hash;
    const first = hashIn(await session.scan());
    writeFileSync(path, '{"path": "data/c"}');
    utimesSync(path, longAgo, longAgo);
    expect(hashIn(await session.scan())).toBe(first);
    expect(hashIn(await session.scan(undefined, true))).not.toBe(first);
  });

  it('leaves out its own store, wherever it stands', async () => {
    write({ 'data/glue-trace.db': 'x', 'glue-trace.db-wal': 'x', 'glue-trace.db.json': '{}' });
    const { files } = await scanFolder({ folder });
    expect(files.map(({ path }) => path)).toEqual(['glue-trace.db.json', 'glue-trace.json']);
  });

  it('takes facts kept by an earlier run for files that are as they were', async () => {
    cpSync(SAMPLE, folder, { recursive: true });
    const kept = new Map<string, string>();
    let entries: FileEntry[] = [];
    const cache: FactsCache = {
      entries: () => entries,
      get: (key) => kept.get(key),
      formerHash: () => undefined,
      put: (key, packed) => void kept.set(key, packed),
    };
    const first = await scanFolder({ folder, cache });
    entries = first.files;
    writeFileSync(join(folder, 'data/crew.yaml'), 'rows: []\n');
    const second = await scanFolder({ folder, cache });
    expect(second.reused).toBe(kept.size - 2);
    expect(told(second)).toEqual(told(first));
  });

  it('reads a large folder on several threads to the same result as on one', async () => {
    const files: Record<string, string> = {};
    for (let at = 0; at < 60; at++) {
      files[`f${at}.json`] = JSON.stringify({ at, text: 'x'.repeat(20_000) });
      files[`f${at}.ts`] = `export class F${at} { begin() { return ${at}; } }`;
    }
    write({ ...files, 'broken.ts': 'class A { f( { }' });
    const progress: Progress[] = [];
    const result = await scanFolder({ folder, onProgress: (one) => progress.push(one) });
    expect(result.analysis.linked.facts.filter((fact) => fact.script?.types.length).length).toBe(60);
    expect(result.files.map((file) => file.path)).toEqual(
      [...Object.keys(files), 'broken.ts', 'glue-trace.json'].sort(),
    );
    expect(entry(result, 'broken.ts')).toContain('partly: line 1');
    expect(result.files.every((file) => file.status !== 'read' || file.hash.length === 64)).toBeTrue();
  });

  it('reads glue facts of any length, line by line, wherever letters and lines are cut', async () => {
    const lines = Array.from({ length: 20_000 }, (_, at) =>
      JSON.stringify({
        fact: 'piece',
        id: `o${at}`,
        kind: 'object',
        name: `Schleuse № ${at} – größer`,
        in: at ? 'o0' : undefined,
      }),
    );
    const plan = { version: 1, name: 'Exported', files: { facts: { match: '*.ndjson', as: 'glue facts' } } };
    write({ 'glue-trace.json': JSON.stringify(plan), 'a.facts.ndjson': `${lines.join('\n')}\nnot json\n` });
    const result = await scanFolder({ folder });
    expect(entry(result, 'a.facts.ndjson')).toBe('partly: line 20001: this line is not valid JSON');
    const { pieces } = itemAt(
      result.analysis.linked.facts.filter((fact) => fact.pieces.length > 0),
      0,
    );
    expect(pieces.length).toBe(20_000);
    expect(pieces.every((piece, at) => piece.name === `Schleuse № ${at} – größer`)).toBeTrue();
  });

  it('takes plans that build on another file, and on a standard', async () => {
    write({
      'glue-trace.json': JSON.stringify({ version: 1, name: 'Own', extends: ['shared/base.json', 'x3d'] }),
      'shared/base.json': JSON.stringify({
        version: 1,
        name: 'Base',
        files: { data: { match: '*.json', as: 'data asset' } },
      }),
      'tides.json': '{}',
      'lock.x3d': '<X3D><Scene><Group DEF="Gate"/></Scene></X3D>',
    });
    const result = await scanFolder({ folder });
    expect([result.plan.name, entry(result, 'tides.json'), entry(result, 'lock.x3d')]).toEqual([
      'Own',
      'read: ',
      'read: ',
    ]);
    write({ 'glue-trace.json': JSON.stringify({ version: 1, name: 'Own', extends: 'gone.json' }) });
    expect(await code(scanFolder({ folder }))).toBe('plan/invalid');
  });

  it('reads folders of a standard without a plan, and says which file another package replaces', async () => {
    mkdirSync(folder, { recursive: true });
    writeFileSync(join(folder, 'lock.gltf'), '{"nodes": [{"name": "Gate"}]}');
    expect(entry(await scanFolder({ folder }), 'lock.gltf')).toBe('read: ');
    const packs = {
      packs: { match: '*/pack.json', as: 'package', id: '$.id', needs: { at: '$.needs[*]', id: '$' } },
      data: { match: '**/*.json', as: 'data asset' },
    };
    write({
      'glue-trace.json': JSON.stringify({ version: 1, name: 'Packs', files: packs, packages: { overlay: true } }),
      'a/pack.json': '{"id": "a"}',
      'a/tolls.json': '{}',
      'b/pack.json': '{"id": "b", "needs": ["a"]}',
      'b/tolls.json': '{}',
    });
    const result = await scanFolder({ folder });
    expect(entry(result, 'a/tolls.json')).toBe('listed: replaced by b/tolls.json');
    expect(entry(result, 'b/tolls.json')).toBe('read: ');
  });

  it('notices changes, new files and files that are gone from one scan to the next', async () => {
    const plan = {
      version: 1,
      name: 'Small',
      files: {
        all: {
          match: '*.json',
          as: 'scene',
          pieces: { items: { at: '$.items[*]', kind: 'object', id: '$.id' } },
          references: { refs: { at: '$..ref', by: 'id' } },
        },
      },
    };
    write({
      'glue-trace.json': JSON.stringify(plan),
      'a.json': '{"items": [{"id": "gate", "name": "Gate"}]}',
      'b.json': '{"ref": "gate"}',
    });
    const session = openSession({ folder });
    const findings = async (): Promise<string[]> => told(await session.scan());
    expect(await findings()).toEqual([]);
    // Another identity is what others build on: everything is linked anew.
    writeFileSync(join(folder, 'a.json'), '{"items": [{"id": "lock", "name": "Gate"}]}');
    expect((await findings()).length).toBe(1);
    writeFileSync(join(folder, 'c.json'), '{"items": [{"id": "gate", "name": "Other"}]}');
    expect(await findings()).toEqual([]);
    rmSync(join(folder, 'c.json'));
    expect((await findings()).length).toBe(1);
    // Only what it says itself: the file is linked alone.
    writeFileSync(join(folder, 'b.json'), '{"other": 1, "ref": "lock"}');
    expect(await findings()).toEqual([]);
  });

  it('finds the same whatever encoding files are written in', async () => {
    cpSync(SAMPLE, folder, { recursive: true });
    const told = async (): Promise<string[]> =>
      (await scanFolder({ folder })).analysis.findings.map((one) => `${one.fingerprint} ${plain(one.sentence)}`).sort();
    const before = await told();
    const texts = (readdirSync(folder, { recursive: true }) as string[]).filter((file) =>
      /(?<!glue-trace)\.(json|ts|lua|yaml|xml|csv)$/.test(file),
    );
    expect(texts.length).toBeGreaterThan(60);
    for (const encoding of ['utf16le', 'utf8'] as const) {
      for (const file of texts) {
        const text = readFileSync(join(SAMPLE, file), 'utf8');
        // A document that names its own encoding would say what is not so.
        if (!/^<\?xml[^>]*encoding/.test(text))
          writeFileSync(join(folder, file), Buffer.from(`\uFEFF${text}`, encoding));
      }
      expect(await told())
        .withContext(encoding)
        .toEqual(before);
    }
  });

  it('says what is wrong with a folder or plan', async () => {
    expect(await code(scanFolder({ folder: join(folder, 'nowhere') }))).toBe('folder/missing');
    expect(await code(scanFolder({ folder }))).toBe('plan/missing');
    write({ 'glue-trace.json': '{"version": 1}' });
    expect(await code(scanFolder({ folder }))).toBe('plan/invalid');
    write({ 'glue-trace.json': '{"version" 1' });
    expect(await code(scanFolder({ folder }))).toBe('plan/not-json');
    expect(await code(scanFolder({ folder: join(folder, 'glue-trace.json') }))).toBe('folder/not-a-folder');
  });

  it('lists a file that may not be read', async () => {
    if (process.getuid?.() === 0) return void expect().nothing();
    write({ 'secret.json': '{}' });
    chmodSync(join(folder, 'secret.json'), 0);
    expect(entry(await scanFolder({ folder }), 'secret.json')).toBe('listed: may not be read by this user');
  });
});
