import { execFileSync } from 'node:child_process';
import { cpSync, mkdtempSync, readFileSync, renameSync, rmSync, writeFileSync, mkdirSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { gitIn } from '@glue-trace/core/git-in';
import type { FindingView } from '@glue-trace/core';
import { plantedFaults } from '@glue-trace/core/planted-faults';
import type { FindingPage, Problem, RepairPreview, RepairTrial, RepairView } from '../api.js';
import { scanFolder } from '../scan/scan-folder.js';
import { SampleServer, type Answer } from '../testing/sample-server.js';

const PLANTED = plantedFaults().faults.length;
const SAMPLE = fileURLToPath(new URL('../../../samples/sluicekeeper', import.meta.url));

describe('repairs', () => {
  let server: SampleServer;

  beforeEach(() => {
    server = new SampleServer();
  });
  afterEach(() => server.end());

  const call = <T>(method: 'GET' | 'POST' | 'DELETE', url: string, payload?: object): Promise<Answer<T>> =>
    server.call<T>(method, `/api/projects/1${url}`, payload);
  const findings = async (query = ''): Promise<FindingPage> =>
    (await call<FindingPage>('GET', `/findings?limit=200${query}`)).body;
  const read = (file: string): string => readFileSync(join(server.folder, file), 'utf8');

  /** Findings with the repairs that can be written. */
  async function repairable(): Promise<{ fingerprint: string; repair: number; oneOf?: string }[]> {
    const { rows } = await findings();
    const views = await Promise.all(
      rows.map(async (row) => (await call<FindingView>('GET', `/findings/${row.fingerprint}`)).body),
    );
    return views.flatMap(({ fingerprint, repairs }) =>
      repairs.flatMap(({ changes, oneOf }, repair) => (changes ? [{ fingerprint, repair, oneOf }] : [])),
    );
  }

  // A git for each repair of the sample: some seconds.
  it('come as patches that git takes, every one of them and all together', async () => {
    await server.start();
    execFileSync('git', ['init', '-q', server.folder]);
    const all = await repairable();
    expect(all.length).toBeGreaterThan(18);
    const check = (patch: string): void => {
      execFileSync('git', ['-C', server.folder, 'apply', '--check', '-'], { input: patch });
    };
    for (const { fingerprint, repair } of all) {
      const { body } = await call<RepairPreview>('POST', '/repairs/preview', { findings: [{ fingerprint, repair }] });
      expect(() => check(body.patch))
        .withContext(body.patch)
        .not.toThrow();
    }
    const firsts = all.filter(({ fingerprint }, at) => all.findIndex((one) => one.fingerprint === fingerprint) === at);
    const { body } = await call<RepairPreview>('POST', '/repairs/preview', {
      findings: firsts.map(({ fingerprint, repair }) => ({ fingerprint, repair })),
    });
    check(body.patch);
    // Both ends of one misspelt event have a repair: writing both would swap the fault.
    expect(body.left.map(({ reason }) => reason)).toEqual([
      'The other end is repaired instead: one of the two is enough.',
    ]);
    expect(body.count).toBe(firsts.length - 1);
  });

  it('are written into the files, make the finding go, and can be taken back', async () => {
    await server.start();
    const before = read('scripts/boats/tender.ts');
    const [row] = (await findings('&check=broken/case-only&folder=scripts')).rows;
    const wanted = { findings: [{ fingerprint: row!.fingerprint, repair: 0 }] };
    const written = await call<RepairView>('POST', '/repairs', wanted);
    expect([written.status, written.body.files, written.body.isUndone]).toEqual([
      201,
      ['scripts/boats/tender.ts'],
      false,
    ]);
    expect(read('scripts/boats/tender.ts')).toBe(before.replace("child('hull')", "child('Hull')"));
    await server.settled();
    expect((await findings('&check=broken/case-only&folder=scripts')).total).toBe(0);
    expect((await findings()).total).toBe(PLANTED - 1);
    expect((await call<RepairView[]>('GET', '/repairs')).body.length).toBe(1);
    const undone = await call<RepairView>('DELETE', `/repairs/${written.body.id}`);
    expect(undone.body.isUndone).toBeTrue();
    expect(read('scripts/boats/tender.ts')).toBe(before);
    await server.settled();
    expect((await findings()).total).toBe(PLANTED);
    expect((await call<Problem>('DELETE', `/repairs/${written.body.id}`)).body.code).toBe('repair/undone');
  });

  it('that are sure are tried in memory, and the map is as it was before', async () => {
    await server.start();
    const before = await findings();
    const trialOf = async (query: string): Promise<RepairTrial[]> => {
      const [row] = (await findings(query)).rows;
      return (await call<{ trials: RepairTrial[] }>('GET', `/findings/${row!.fingerprint}/trial`)).body.trials;
    };
    const story = (): Promise<unknown> => server.read('/api/projects/1/families');
    const told = await story();
    expect(await trialOf('&check=broken/case-only&folder=scripts')).toEqual([{ repair: 0 }]);
    expect(await trialOf('&check=broken/loop')).toEqual([]);
    expect(await story()).toEqual(told);
    expect((await call<{ trials: RepairTrial[] }>('GET', '/findings/none/trial')).body.trials).toEqual([]);
    await server.scanAgain();
    expect((await findings()).rows).toEqual(before.rows);
  });

  it('of one cause are written at all its places', async () => {
    await server.start();
    const [row] = (await findings('&check=broken/case-only&folder=scripts')).rows;
    const { body } = await call<RepairPreview>('POST', '/repairs/preview', {
      findings: [{ fingerprint: row!.fingerprint, repair: 0 }],
    });
    expect([body.count, body.files]).toEqual([1, ['scripts/boats/tender.ts']]);
    await call('POST', '/repairs', { findings: [{ fingerprint: row!.fingerprint, repair: 0 }] });
    await server.settled();
    expect((await findings('&check=broken/case-only&folder=scripts')).total).toBe(0);
  });

  it('offer a file that holds what the one that is gone held in an earlier scan', async () => {
    await server.start();
    renameSync(join(server.folder, 'data/ropes.yaml'), join(server.folder, 'data/lines.yaml'));
    await server.scanAgain();
    const [row] = (await findings('&check=broken/missing-file&folder=prefabs/tender.prefab.json')).rows;
    const { body } = await call<FindingView>('GET', `/findings/${row!.fingerprint}`);
    expect(body.repairs[0]!.words).toBe(
      'data/lines.yaml holds today, to the byte, what stood there in an earlier scan.',
    );
    await call('POST', '/repairs', { findings: [{ fingerprint: row!.fingerprint, repair: 0 }] });
    await server.settled();
    expect((await findings('&check=broken/missing-file&folder=prefabs')).total).toBe(0);
  });

  it('are refused when a file has changed since the scan, and nothing is written', async () => {
    await server.start();
    const [row] = (await findings('&check=broken/case-only&folder=scripts')).rows;
    const path = join(server.folder, 'scripts/boats/tender.ts');
    writeFileSync(path, `${read('scripts/boats/tender.ts')}\n`);
    const refused = await call<Problem>('POST', '/repairs', {
      findings: [{ fingerprint: row!.fingerprint, repair: 0 }],
    });
    expect([refused.status, refused.body.code]).toEqual([409, 'repair/changed']);
    expect(read('scripts/boats/tender.ts')).toContain("child('hull')");
  });

  it('are not taken back over what somebody wrote since', async () => {
    await server.start();
    const [row] = (await findings('&check=broken/case-only&folder=scripts')).rows;
    const { body } = await call<RepairView>('POST', '/repairs', {
      findings: [{ fingerprint: row!.fingerprint, repair: 0 }],
    });
    writeFileSync(join(server.folder, 'scripts/boats/tender.ts'), 'mine');
    expect((await call<Problem>('DELETE', `/repairs/${body.id}`)).body.code).toBe('repair/undone');
    expect(read('scripts/boats/tender.ts')).toBe('mine');
  });

  it('keep line ends, byte order marks and encodings', async () => {
    const tender = read('scripts/boats/tender.ts').replace(/\n/g, '\r\n');
    writeFileSync(join(server.folder, 'scripts/boats/tender.ts'), `\uFEFF${tender}`);
    const hint = read('data/hints/first-lock.json');
    writeFileSync(join(server.folder, 'data/hints/first-lock.json'), Buffer.from(`\uFEFF${hint}`, 'utf16le'));
    await server.start();
    for (const check of ['&check=broken/case-only&folder=scripts', '&check=broken/case-only&folder=data']) {
      const [row] = (await findings(check)).rows;
      expect(
        (await call('POST', '/repairs', { findings: [{ fingerprint: row!.fingerprint, repair: 0 }] })).status,
      ).toBe(201);
      await server.settled();
    }
    expect(read('scripts/boats/tender.ts')).toBe(`\uFEFF${tender.replace("child('hull')", "child('Hull')")}`);
    expect(readFileSync(join(server.folder, 'data/hints/first-lock.json')).toString('utf16le')).toBe(
      `\uFEFF${hint.replace('Pictures/', 'pictures/')}`,
    );
  });

  it('answer clearly to what cannot be', async () => {
    await server.start();
    const [row] = (await findings('&check=broken/loop')).rows;
    const wrong: [object, string][] = [
      [{}, 'request/invalid'],
      [{ findings: [] }, 'request/invalid'],
      [{ findings: [{ fingerprint: 'none', repair: 0 }] }, 'finding/unknown'],
      [{ findings: [{ fingerprint: row!.fingerprint, repair: 0 }] }, 'repair/unknown'],
      [{ findings: [{ fingerprint: row!.fingerprint, repair: 9 }] }, 'repair/unknown'],
    ];
    for (const [payload, code] of wrong)
      expect((await call<Problem>('POST', '/repairs/preview', payload)).body.code)
        .withContext(JSON.stringify(payload))
        .toBe(code);
    expect((await call<Problem>('DELETE', '/repairs/77')).body.code).toBe('repair/unknown');
  });
});

describe('candidates from the time before', () => {
  let folder: string;
  beforeEach(() => {
    folder = mkdtempSync(join(tmpdir(), 'glue-history-'));
    cpSync(SAMPLE, folder, { recursive: true });
  });
  afterEach(() => rmSync(folder, { recursive: true, force: true }));
  const git = (...args: string[]): void => gitIn(folder)(...args);
  const reasons = async (): Promise<string[]> => {
    const { analysis } = await scanFolder({ folder });
    return analysis.findings
      .filter(({ check, files }) => check === 'broken/missing-file' && files.includes('prefabs/tender.prefab.json'))
      .flatMap(({ repairs }) => repairs.flatMap(({ words, changes }) => (changes ? [words] : [])));
  };

  it('name a file by what the version history renamed it to, over several steps', async () => {
    git('init', '-q');
    git('add', '.');
    git('commit', '-qm', 'first');
    mkdirSync(join(folder, 'data/lists'));
    git('mv', 'data/ropes.yaml', 'data/lists/ropes-old.yaml');
    git('commit', '-qm', 'moved');
    git('mv', 'data/lists/ropes-old.yaml', 'data/lists/lines.yaml');
    expect(await reasons()).toEqual(['The version history says that the file was renamed to data/lists/lines.yaml.']);
  });
  it('need no version history', async () => {
    renameSync(join(folder, 'data/ropes.yaml'), join(folder, 'data/lines.yaml'));
    expect(await reasons()).toEqual([]);
  });
});
