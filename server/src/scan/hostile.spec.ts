/** Projects made to hurt whoever opens them: each is scanned, or refused with a reason. */
import { execFileSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { GlueError } from '@glue-trace/core';
import { scanFolder } from './scan-folder.js';

describe('a hostile project', () => {
  let base: string;
  let folder: string;
  const write = (file: string, content: string | object): void =>
    writeFileSync(join(folder, file), typeof content === 'string' ? content : JSON.stringify(content));
  /** What comes of scanning it: the codes of what is refused, or how files were read. */
  const scanned = async (): Promise<string[]> => {
    try {
      const { files } = await scanFolder({ folder });
      return files.map(({ path, status, reason }) => `${path} ${status}${reason && `: ${reason}`}`);
    } catch (error) {
      if (error instanceof GlueError) return [`${error.code} ${error.detail}`];
      throw error;
    }
  };
  const SMALL = { version: 1, name: 'Small', files: { data: { match: '*.json', as: 'data asset' } } };

  beforeEach(() => {
    base = mkdtempSync(join(tmpdir(), 'glue-hostile-'));
    folder = join(base, 'project');
    mkdirSync(folder);
  });
  afterEach(() => rmSync(base, { recursive: true, force: true }));

  it('whose plan never ends is refused', async () => {
    execFileSync('mkfifo', [join(folder, 'glue-trace.json')]);
    expect((await scanned()).join()).toMatch(/^file\/unreadable .*no ordinary file/);
    rmSync(join(folder, 'glue-trace.json'));
    symlinkSync('/dev/zero', join(base, 'endless.json'));
    await expectAsync(scanFolder({ folder, planFile: join(base, 'endless.json') })).toBeRejectedWithError(
      /no ordinary file/,
    );
  });
  it('whose waivers are a link to a file of this machine does not read that', async () => {
    writeFileSync(join(base, 'secret.json'), '{"waivers": []}');
    writeFileSync(join(folder, 'glue-trace.json'), '{"version": 1, "name": "Hostile"}');
    symlinkSync(join(base, 'secret.json'), join(folder, 'glue-trace.waivers.json'));
    expect((await scanned()).join()).toMatch(/^file\/unreadable .*is a link, which is not followed/);
  });

  it('whose plan is a link to a file of this machine does not read that', async () => {
    writeFileSync(join(base, 'secret.json'), JSON.stringify(SMALL));
    symlinkSync(join(base, 'secret.json'), join(folder, 'glue-trace.json'));
    expect((await scanned()).join()).toMatch(/^file\/unreadable .*is a link, which is not followed/);
    // Somebody who names it on the command line means it.
    expect((await scanFolder({ folder, planFile: join(folder, 'glue-trace.json') })).plan.name).toBe('Small');
  });
  it('whose plan is too large is refused', async () => {
    write('glue-trace.json', `${' '.repeat(5_000_000)}{}`);
    expect((await scanned()).join()).toMatch(/^file\/unreadable .*larger than 4 MB/);
  });
  it('whose plan builds on files of this machine does not read them', async () => {
    writeFileSync(join(base, 'secret.json'), '{"name": "secret", "files": 7}');
    symlinkSync(join(base, 'secret.json'), join(folder, 'link.json'));
    for (const name of ['../secret.json', join(base, 'secret.json'), 'link.json', '/etc/passwd']) {
      write('glue-trace.json', { ...SMALL, extends: name });
      expect((await scanned()).join())
        .withContext(name)
        .toMatch(/^plan\/invalid .*is no plan that could be read/);
    }
  });
  it('whose plan builds on more and more plans is refused', async () => {
    write('glue-trace.json', { ...SMALL, extends: ['a.json', 'a.json'] });
    for (const [at, name] of ['a', 'b', 'c', 'd', 'e', 'f', 'g'].entries()) {
      const next = `${'abcdefgh'[at + 1]}.json`;
      write(`${name}.json`, { extends: [next, next] });
    }
    write('h.json', {});
    expect((await scanned()).join()).toMatch(/^plan\/invalid .*More than 50 plans/);
  });
  it('whose patterns would run forever is scanned, or refused', async () => {
    const reading = (pattern: string): object => ({
      ...SMALL,
      files: { data: { ...SMALL.files.data, references: { all: { at: '$..*', by: 'path', pattern } } } },
    });
    write('data.json', [`${'a'.repeat(50_000)}!`]);
    write('glue-trace.json', reading('^(a+)+$'));
    expect(await scanned()).toContain('data.json read');
    write('glue-trace.json', reading('^(?=(a+)+$)'));
    expect((await scanned()).join()).toMatch(/^plan\/invalid .*could run forever/);
  });
  it('whose globs and ignore files would run forever is scanned', async () => {
    write('.gitignore', `${'*a'.repeat(200)}b`);
    write('glue-trace.json', { ...SMALL, ignore: [`${'*a'.repeat(200)}b`] });
    write(`${'a'.repeat(240)}.json`, '{}');
    expect((await scanned()).length).toBe(3);
  });
  it('with a pipe for an ignore file, and pipes among its files, is scanned', async () => {
    execFileSync('mkfifo', [join(folder, '.gitignore'), join(folder, 'data.json')]);
    write('glue-trace.json', SMALL);
    expect(await scanned()).toEqual(['glue-trace.json read']);
  });
});
