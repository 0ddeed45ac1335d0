import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { GlueError } from '@glue-trace/core';
import Fastify from 'fastify';
import { openStore, type ProjectRow, type Store } from '../store/store.js';
import { createScans, type Scans } from './scans.js';

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

  it('of a project that cannot be scanned say so', async () => {
    const other = mkdtempSync(join(folder, 'broken'));
    writeFileSync(join(other, 'glue-trace.json'), '{');
    expect(await codeOf(scans.ask(store.addProject(other, 'Broken', null), { ask: 'families' }))).toBe('scan/none');
  });
});
