import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { GlueError } from '@glue-trace/core';
import Fastify from 'fastify';
import { openStore, type ProjectRow, type Store } from '../store/store.js';
import { createScans, type Scans } from './scans.js';

const MODULES = new URL('..', import.meta.url).href.replace(/\/$/, '');
/** A server whose scans may take no more memory than they need to begin. */
const STARVED = `
const [modules, folder] = process.argv.slice(2);
const { createServer } = await import(modules + '/server.js');
const options = { storePath: folder + '/starved.db', folders: [{ folder }], startFolder: folder, version: '0', logLevel: 'silent' };
const app = await createServer(options);
const ask = () => app.inject({ url: '/api/projects/1', headers: { host: '127.0.0.1' } });
let view = (await ask()).json();
for (; view.running; view = (await ask()).json()) await new Promise((resolve) => setTimeout(resolve, 50));
process.stdout.write(view.lastScan.error?.code + ' ' + view.lastScan.error?.detail);
process.stdout.write(' lives ' + (await ask()).statusCode);
await app.close();
`;

describe('questions to the map of a project', () => {
  let folder: string;
  let store: Store;
  let scans: Scans;
  let project: ProjectRow;
  let logged: string[];

  beforeEach(async () => {
    folder = mkdtempSync(join(tmpdir(), 'glue-scans-'));
    writeFileSync(
      join(folder, 'glue-trace.json'),
      '{"version":1,"name":"Small","files":{"scenes":{"match":"*.scene.json","as":"scene","pieces":{"objects":{"at":"$.objects[*]","kind":"object"}}}}}',
    );
    writeFileSync(join(folder, 'a.scene.json'), '{"objects":[{"name":"Gate"}]}');
    const path = join(folder, 'glue.db');
    store = openStore(path);
    logged = [];
    const stream = { write: (line: string): void => void logged.push(line) };
    scans = createScans(store, path, Fastify({ logger: { level: 'error', stream } }).log);
    project = store.addProject(folder, 'Small', null);
    await scans.start(project);
    await scans.settled(project.id);
  });
  afterEach(async () => {
    await scans.close();
    store.close();
    rmSync(folder, { recursive: true, force: true });
  });

  const codeOf = async (asked: Promise<unknown>): Promise<string> => {
    try {
      await asked;
      return 'answered';
    } catch (error) {
      return error instanceof GlueError ? error.code : String(error);
    }
  };

  it('are answered, or refused with a reason', async () => {
    expect(await scans.ask(project, { ask: 'families' })).toEqual([]);
    expect(await codeOf(scans.ask(project, { ask: 'values', piece: 'object:nowhere' }))).toBe('piece/unknown');
    expect(logged).toEqual([]);
  });

  it('that fail inside are told and logged, and the next one is answered by a map made again', async () => {
    const broken = { ask: 'walk', piece: 'object:a.scene.json#Gate', at: undefined } as never;
    expect(await codeOf(scans.ask(project, broken))).toBe('fault/ours');
    expect(logged.length).toBe(1);
    expect(logged[0]).toContain('TypeError');
    await scans.settled(project.id);
    expect(await scans.ask(project, { ask: 'values', piece: 'object:a.scene.json#Gate' })).toEqual([]);
  });

  it('of a project that no thread is kept for make its map again', async () => {
    await scans.stop(project.id);
    const others = ['b', 'c', 'd'].map((name) => {
      const other = mkdtempSync(join(folder, name));
      writeFileSync(join(other, 'glue-trace.json'), '{"version":1,"name":"Other"}');
      return store.addProject(other, name, null);
    });
    for (const other of others) {
      await scans.start(other);
      await scans.settled(other.id);
    }
    expect(await codeOf(scans.ask(project, { ask: 'values', piece: 'object:a.scene.json#Gate' }))).toBe('answered');
  });

  it('of a project that needs more memory than a scan may take name the limit, and the server lives', () => {
    const objects = Array.from({ length: 60_000 }, (_, at) => ({ name: `Gate ${at}` }));
    writeFileSync(join(folder, 'b.scene.json'), JSON.stringify({ objects }));
    // Threads take over how their program was started: a file, not a text.
    const program = join(folder, 'starved.mjs');
    writeFileSync(program, STARVED);
    const { stdout, stderr } = spawnSync(process.execPath, [program, MODULES, folder], {
      encoding: 'utf8',
      env: { ...process.env, GLUE_TRACE_MEGABYTES: '24' },
    });
    expect(stderr).not.toContain('    at ');
    expect(stdout).toContain('scan/too-large It took more than 24 MB and was ended');
    expect(stdout).toContain('lives 200');
  });

  it('of a project that cannot be scanned say so', async () => {
    const other = mkdtempSync(join(folder, 'broken'));
    writeFileSync(join(other, 'glue-trace.json'), '{');
    expect(await codeOf(scans.ask(store.addProject(other, 'Broken', null), { ask: 'families' }))).toBe('scan/none');
  });
});
