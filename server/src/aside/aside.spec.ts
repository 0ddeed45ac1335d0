import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { GlueError } from '@glue-trace/core';
import Fastify from 'fastify';
import { HOSTILE, ProjectFolder } from '../testing/hostile-projects.js';
import { createAside, type Aside } from './aside.js';

describe('work done aside', () => {
  let base: string;
  let aside: Aside | undefined;
  const begin = (limitSeconds?: number): Aside =>
    (aside = createAside(join(base, 'glue-trace.db'), Fastify().log, limitSeconds));
  const project = (name: string): { id: number; folder: string; planFile: null } => {
    const folder = join(base, name);
    HOSTILE.find((one) => one.name.includes(name))!.make(new ProjectFolder(folder), 20_000);
    return { id: 1, folder, planFile: null };
  };

  beforeEach(() => (base = mkdtempSync(join(tmpdir(), 'glue-aside-'))));
  afterEach(async () => {
    await aside?.close();
    rmSync(base, { recursive: true, force: true });
  });

  it('is stopped when it takes too long, and the next one is done', async () => {
    const slow = project('rules without number');
    const { reading } = begin(0.2);
    await expectAsync(reading('plan state', slow)).toBeRejectedWithError(
      GlueError,
      /takes too long: It took more than 0.2 seconds/,
    );
    await aside!.close();
    expect((await begin().reading('plan state', slow)).plan).toBe('ready');
  });

  it('keeps the code and the mistakes of what it is refused with', async () => {
    const { writing } = begin();
    const folder = join(base, 'small');
    new ProjectFolder(folder);
    const { hash } = await aside!.reading('plan page', { project: { id: 1, folder, planFile: null } });
    const saving = writing('save plan', { project: { id: 1, folder, planFile: null }, text: '{"version": 1}', hash });
    const refused = await saving.catch((error: unknown) => error as GlueError);
    expect(refused).toBeInstanceOf(GlueError);
    expect([(refused as GlueError).code, (refused as GlueError).mistakes.length]).toEqual(['plan/invalid', 1]);
  });
});
