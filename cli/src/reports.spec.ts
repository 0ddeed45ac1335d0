/** Reports, the gate and the map, read back by other programs than ours. */
import { execFileSync, spawnSync } from 'node:child_process';
import { chmodSync, existsSync, mkdtempSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { gitIn } from '@glue-trace/core/git-in';

const MAIN = fileURLToPath(new URL('./main.js', import.meta.url));
const SAMPLE = fileURLToPath(new URL('../../samples/sluicekeeper', import.meta.url));

function glue(...args: string[]): { code: number | null; out: string; error: string } {
  const { status, stdout, stderr } = spawnSync(process.execPath, [MAIN, ...args], {
    encoding: 'utf8',
    maxBuffer: 1 << 28,
  });
  return { code: status, out: stdout, error: stderr };
}

/** A project whose names are as bad as names can be. */
const NASTY = '=cmd|"x"<b>&\u0007]]>\\"';
const PLAN = {
  version: 1,
  name: `Flight ${NASTY}`,
  files: { data: { match: 'data/*.json', as: 'data asset', references: { next: { at: '$.next', by: 'path' } } } },
};

describe('reports and the gate', () => {
  let folder: string;
  beforeEach(() => (folder = mkdtempSync(join(tmpdir(), 'glue-reports-'))));
  afterEach(() => rmSync(folder, { recursive: true, force: true }));

  const put = (path: string, text: string): void => writeFileSync(join(folder, path), text);
  const nasty = (): void => {
    execFileSync('mkdir', ['-p', join(folder, 'data')]);
    put('glue-trace.json', JSON.stringify(PLAN));
    put('data/=1+1.json', JSON.stringify({ next: `${NASTY}.json` }));
    put('data/b.json', JSON.stringify({ next: 'gone.json' }));
  };

  it('give the map around a piece, and say when there is none', () => {
    const { code, out } = glue(
      'map',
      SAMPLE,
      '--format',
      'dot',
      '--around',
      'script:scripts/keeper/crane.ts',
      '--steps',
      '1',
    );
    expect([code, out.startsWith('digraph map {'), out.includes('crane')]).toEqual([0, true, true]);
    const none = glue('map', SAMPLE, '--around', 'Nobody');
    expect([none.code, none.error.includes('[piece/unknown]')]).toEqual([2, true]);
  });

  it('let pass what was known before, by a baseline and by a revision, and stop what is new', () => {
    nasty();
    const git = gitIn(folder);
    git('init', '-q', '-b', 'main');
    git('add', '-A');
    git('commit', '-q', '-m', 'first');
    const baseline = join(folder, '..', `${folder.split('/').pop() ?? ''}-baseline.json`);
    expect(glue('scan', folder, '--format', 'baseline', '--out', baseline).code).toBe(1);
    const json = join(folder, 'glue-report.json');
    glue('scan', folder, '--format', 'json', '--out', json);
    try {
      for (const since of [`file:${json}`, 'main']) {
        const known = glue('scan', folder, '--new-since', since);
        expect([known.code, known.out.includes('nothing new, 2 known before, 0 gone')])
          .withContext(since)
          .toEqual([0, true]);
      }
      put('data/c.json', JSON.stringify({ next: 'more.json' }));
      rmSync(join(folder, 'data/b.json'));
      for (const since of [`file:${baseline}`, 'main']) {
        const { code, out } = glue('scan', folder, '--new-since', since);
        expect(code).withContext(since).toBe(1);
        expect(out).toContain('1 new, 1 known before, 1 gone');
        expect(out).toContain('data/c.json:1');
        expect(out).not.toContain('b names the file');
      }
      const sarif = JSON.parse(glue('scan', folder, '--new-since', 'main', '--format', 'sarif').out) as {
        runs: [{ results: { baselineState: string }[] }];
      };
      expect(sarif.runs[0].results.map(({ baselineState }) => baselineState).sort()).toEqual([
        'absent',
        'new',
        'unchanged',
      ]);
    } finally {
      rmSync(baseline, { force: true });
    }
    for (const [since, code] of [
      ['nowhere', 'revision/unknown'],
      ['scan:7', 'scan/unknown'],
      ['file:/nothing/here.json', 'baseline/invalid'],
      ['file:glue-trace.json', 'baseline/invalid'],
    ] as const) {
      const { code: ended, error } = glue('scan', folder, '--new-since', since, '--data', join(folder, 'none'));
      expect([ended, error.includes(`[${code}]`)])
        .withContext(since)
        .toEqual([2, true]);
    }
  });

  it('do not count what is waived, and tell of waivers that match nothing', () => {
    nasty();
    const [known] = (
      JSON.parse(glue('scan', folder, '--format', 'json').out) as { findings: { fingerprint: string }[] }
    ).findings;
    const waivers = [
      { finding: known?.fingerprint, reason: 'It is drawn later.' },
      { check: 'fragile/hub', reason: 'Nobody minds.' },
    ];
    put('glue-trace.waivers.json', JSON.stringify({ waivers }));
    const { out } = glue('scan', folder);
    expect(out).toContain('1 error, 0 warnings, 0 notes, 1 waived');
    expect(out).toContain('A waiver matches nothing any more: fragile/hub (Nobody minds.)');
    expect(out).not.toContain('It is drawn later.');
    expect(glue('scan', folder, '--waived').out).toContain('waived: It is drawn later.');
    put('glue-trace.waivers.json', '{ "waivers": [{ "check": "fragile/hub" }] }');
    const wrong = glue('scan', folder);
    expect([wrong.code, wrong.error.includes('glue-trace.waivers.json, line 1: waivers.0.reason')]).toEqual([2, true]);
  });

  it('never call a project ready of which little is read', () => {
    nasty();
    for (let at = 0; at < 8; at++) put(`data/${at}.orders`, 'steer west');
    const { code, out, error } = glue('scan', folder, '--fail-on', 'never');
    expect(code).toBe(2);
    expect(out).toContain('Nothing is promised: only 2 of 10 text files are read.');
    expect(error).toContain('--allow-unread');
    expect(glue('scan', folder, '--fail-on', 'never', '--allow-unread').code).toBe(0);
    put('glue-trace.json', JSON.stringify({ ...PLAN, house: { leastRead: 0.2 } }));
    expect(glue('scan', folder, '--fail-on', 'never').code).toBe(0);
    put(
      'glue-trace.json',
      JSON.stringify({ ...PLAN, scripts: { lua: { match: '*.lua', language: 'lua' } }, house: { leastRead: 0.2 } }),
    );
    for (let at = 0; at < 3; at++) put(`${at}.lua`, 'stage.find("Gate")');
    expect(glue('scan', folder, '--fail-on', 'never').out).toContain('of no call in 3 scripts');
  });

  it('speak for a route', () => {
    const start = glue('scan', SAMPLE, '--route', 'start').out;
    expect(start).toMatch(/On the route “start”; \d+ more findings lie off it\./);
    const all = glue('scan', SAMPLE).out;
    expect(start.length).toBeLessThan(all.length);
    // What lies off it is not gone.
    const baseline = join(folder, 'baseline.json');
    glue('scan', SAMPLE, '--format', 'baseline', '--out', baseline);
    expect(glue('scan', SAMPLE, '--route', 'start', '--new-since', `file:${baseline}`).out).toContain(' 0 gone.');
    const unknown = glue('scan', SAMPLE, '--route', 'nobody');
    expect([unknown.code, unknown.error.includes('[route/unknown]')]).toEqual([2, true]);
  });

  it('write a hook that stops what is new and broken, and leave that of somebody else alone', () => {
    nasty();
    const git = (...args: string[]): { status: number | null; stderr: string } =>
      spawnSync('git', ['-c', 'user.name=Ada', '-c', 'user.email=a@b', ...args], {
        cwd: folder,
        encoding: 'utf8',
        env: { ...process.env, GLUE: `${process.execPath} ${MAIN}` },
      });
    expect(glue('hook', folder).error).toContain('not the top of a git repository');
    git('init', '-q', '-b', 'main');
    expect(glue('hook', folder).code).toBe(0);
    const hook = join(folder, '.git/hooks/pre-commit');
    expect(statSync(hook).mode & 0o111).not.toBe(0);
    git('add', '-A');
    expect(git('commit', '-q', '-m', 'first').status).toBe(0);
    put('data/c.json', JSON.stringify({ next: 'data/more.json' }));
    git('add', '-A');
    expect(git('commit', '-q', '-m', 'second').status).not.toBe(0);
    put('data/more.json', '{}');
    git('add', '-A');
    expect(git('commit', '-q', '-m', 'third').status).toBe(0);
    expect(glue('hook', folder, '--fail-on', 'warning').code).toBe(0);
    expect(readFileSync(hook, 'utf8')).toContain('--fail-on warning');
    writeFileSync(hook, '#!/bin/sh\nexit 0\n');
    chmodSync(hook, 0o755);
    expect(glue('hook', folder).error).toContain('[file/unwritable]');
    expect(glue('hook', folder, '--force').code).toBe(0);
    expect(existsSync(hook)).toBeTrue();
  });
});
