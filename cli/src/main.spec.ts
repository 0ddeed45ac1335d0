import { spawn, spawnSync } from 'node:child_process';
import { cpSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { plantedFaults } from '@glue-trace/core/planted-faults';
import AjvDraft04 from 'ajv-draft-04';

const MAIN = fileURLToPath(new URL('./main.js', import.meta.url));
/** A copy: what became of the sample in our own version history is no part of its faults. */
const SAMPLE = mkdtempSync(join(tmpdir(), 'glue-sample-'));
cpSync(fileURLToPath(new URL('../../samples/sluicekeeper', import.meta.url)), SAMPLE, { recursive: true });
const PLANTED = plantedFaults();
const require = createRequire(import.meta.url);

interface Sarif {
  runs: {
    results: {
      ruleId: string;
      locations: [{ physicalLocation: { artifactLocation: { uri: string }; region: { startLine: number } } }];
    }[];
  }[];
}

function glue(...args: string[]): { code: number | null; out: string; error: string } {
  const { status, stdout, stderr } = spawnSync(process.execPath, [MAIN, ...args], { encoding: 'utf8' });
  return { code: status, out: stdout, error: stderr };
}

const EMPTY = mkdtempSync(join(tmpdir(), 'glue-empty-'));

describe('the command line', () => {
  afterAll(() => [EMPTY, SAMPLE].forEach((made) => rmSync(made, { recursive: true, force: true })));

  let folder: string;
  beforeEach(() => (folder = mkdtempSync(join(tmpdir(), 'glue-cli-'))));
  afterEach(() => rmSync(folder, { recursive: true, force: true }));

  it('lists every planted fault of the sample and nothing else, as SARIF', () => {
    const { out, code } = glue('scan', SAMPLE, '--format', 'sarif');
    const sarif = JSON.parse(out) as Sarif;
    const found = sarif.runs[0]!.results.map(
      ({ ruleId, locations: [{ physicalLocation: at }] }) =>
        `${ruleId} ${decodeURIComponent(at.artifactLocation.uri)}:${at.region.startLine}`,
    );
    expect(PLANTED.faults.length).toBeGreaterThan(15);
    expect(found.sort()).toEqual([...PLANTED.faults].sort());
    expect(code).toBe(1);
  });

  it('writes SARIF that the standard’s schema accepts', () => {
    const schema = JSON.parse(
      readFileSync(require.resolve('@microsoft/jest-sarif/lib/schemas/sarif-2.1.0-rtm.5.json'), 'utf8'),
    ) as object;
    const Ajv = AjvDraft04 as unknown as typeof AjvDraft04.default;
    const ajv = new Ajv({
      strict: false,
      unicodeRegExp: false,
      formats: { uri: true, 'uri-reference': true, 'date-time': true },
    });
    const check = ajv.compile(schema);
    // With all there is to say: what is new, known, gone and waived.
    const baseline = join(folder, 'baseline.json');
    const gone = { fingerprint: 'dddddddd', check: 'broken/loop', severity: 'error', file: 'a b.json', line: 3 };
    writeFileSync(baseline, JSON.stringify({ findings: [gone] }));
    const waivers = join(SAMPLE, 'glue-trace.waivers.json');
    writeFileSync(waivers, JSON.stringify({ waivers: [{ check: 'fragile/*', reason: 'Later.' }] }));
    try {
      for (const more of [[], ['--new-since', `file:${baseline}`]])
        expect(check(JSON.parse(glue('scan', SAMPLE, '--format', 'sarif', ...more).out)))
          .withContext(JSON.stringify(check.errors))
          .toBeTrue();
    } finally {
      rmSync(waivers);
    }
  });

  it('writes text and JSON, to the terminal or to a file', () => {
    expect(glue('scan', SAMPLE).out).toContain(`${PLANTED.verdict}.`);
    const file = join(folder, 'report.json');
    const { out } = glue('scan', SAMPLE, '--format', 'json', '--out', file);
    expect(out).toBe('');
    expect((JSON.parse(readFileSync(file, 'utf8')) as { findings: unknown[] }).findings.length).toBe(
      PLANTED.faults.length,
    );
  });

  it('ends with the code that the threshold asks for', () => {
    cpSync(join(SAMPLE, 'glue-trace.json'), join(folder, 'glue-trace.json'));
    expect(glue('scan', folder).code).toBe(0);
    expect(glue('scan', SAMPLE, '--fail-on', 'never').code).toBe(0);
    expect(glue('scan', SAMPLE, '--fail-on', 'note').code).toBe(1);
  });

  it('shows signs that a terminal would obey, and gives other programs what is there', () => {
    const name = 'gate\u001b[31m\u202ered\u0007.json';
    writeFileSync(join(folder, name), '{"next": "go\\u001bne"}');
    const rule = { match: '*red*.json', as: 'data asset', references: { next: { at: '$.next', by: 'path' } } };
    writeFileSync(
      join(folder, 'glue-trace.json'),
      JSON.stringify({ version: 1, name: 'Small', files: { data: rule } }),
    );
    const told = glue('scan', folder).out;

    expect(told).not.toMatch(/[\u0000-\u0008\u000b-\u001f\u202e]/);
    expect(told).toContain('gate␛[31m<U+202E>red␇.json');
    expect(told).toContain('go␛ne');
    const given = JSON.parse(glue('scan', folder, '--format', 'json').out) as { findings: { text: string }[] };
    expect(given.findings[0]!.text).toContain('go\u001bne');
    expect(glue('plan', 'check', folder).out).toContain('gate␛[31m');
  });

  it('ends with 2 and one line when there is no room for what it tells', () => {
    for (const format of ['text', 'json']) {
      const command = `"${process.execPath}" "${MAIN}" scan "${SAMPLE}" --format ${format} > /dev/full`;
      const { status, stderr } = spawnSync('sh', ['-c', command], { encoding: 'utf8' });
      expect([status, stderr.trim().split('\n').length]).toEqual([2, 1]);
      expect(stderr).toContain('[file/unwritable]');
    }
  });

  it('ends quietly when nobody reads on', () => {
    const command = `"${process.execPath}" "${MAIN}" scan "${SAMPLE}" --format json | head -c 10`;
    const { stdout, stderr } = spawnSync('sh', ['-c', command], { encoding: 'utf8' });
    expect([stdout.length, stderr]).toEqual([10, '']);
  });

  const wrong: [string, string[], string][] = [
    ['no such folder', ['scan', '/nowhere'], '[folder/missing]'],
    ['a folder without plan', ['scan', EMPTY], '[plan/missing]'],
    ['no such plan', ['scan', SAMPLE, '--plan', '/nowhere.json'], '[plan/missing]'],
    ['an unknown format', ['scan', SAMPLE, '--format', 'xml'], 'Allowed choices are text, json, sarif'],
    ['an unknown command', ['skan'], 'Did you mean scan?'],
    ['no folder', ['scan'], "missing required argument 'dir'"],
    ['a file that cannot be written', ['scan', SAMPLE, '--out', '/nowhere/x'], '[file/unwritable]'],
    ['a port that is none', ['serve', '--port', 'x'], 'A port is a number'],
  ];
  for (const [what, args, message] of wrong) {
    it(`ends with 2 and one clear line for ${what}`, () => {
      const { code, error, out } = glue(...args);
      expect([code, out]).toEqual([2, '']);
      expect(error).toContain(message);
      expect(error).not.toContain('    at ');
    });
  }

  it('names every mistake of a plan', () => {
    writeFileSync(join(folder, 'glue-trace.json'), '{"version": 1, "nome": "x"}');
    const { code, error } = glue('plan', 'check', folder);
    expect(code).toBe(2);
    expect(error).toContain('Did you mean “name”?');
    expect(error).toContain('name: is missing');
  });

  it('says what each rule yields and which files nothing reads', () => {
    cpSync(SAMPLE, folder, { recursive: true });
    writeFileSync(join(folder, 'stray.txt'), 'x');
    const { out, code } = glue('plan', 'check', folder);
    expect(code).toBe(0);
    expect(out).toMatch(/files\.scenes\.pieces\.objects +0 +126 +0 +0 +“Pier” parcels/);
    expect(out).toMatch(/hints\.references\.pictures +0 +0 +6 +2 +25%/);
    expect(out).toMatch(/calls: \*\.child\(\$name\) +0 +0 +11 +17 +3 +15%/);
    expect(out).toMatch(/calls: stage\.keep\(\$object\) +0 +0 +0 +0 +0$/m);
    expect(out).toMatch(/^scripts\/boats +4 +0 +0 +0$/m);
    expect(out).toMatch(/^\.yaml +10 +0 +0 +0$/m);
    expect(out).toContain('1 that nothing reads');
    expect(out).toContain('  stray.txt: no rule of the plan matches it');
  });

  it('ends with 1 when a rule for files, pieces or references finds nothing, unless that is allowed', () => {
    const withRules = (files: object): string[] => {
      writeFileSync(join(folder, 'glue-trace.json'), JSON.stringify({ version: 1, name: 'Small', files }));
      writeFileSync(join(folder, 'a.json'), '{"rows": [{"id": "a"}]}');
      const [strict, lenient] = [glue('plan', 'check', folder), glue('plan', 'check', folder, '--allow-empty')];
      return [`${strict.code} ${lenient.code}`, strict.error];
    };
    const pieces = { rows: { at: '$.rows[*]', kind: 'record' } };
    expect(withRules({ data: { match: '*.json', as: 'data asset', pieces } })[0]).toBe('0 0');
    expect(withRules({ data: { match: '*.jsn', as: 'data asset' } })[0]).toBe('1 0');
    const misspelt = { rows: { at: '$.rwos[*]', kind: 'record' } };
    const [codes, error] = withRules({ data: { match: '*.json', as: 'data asset', pieces: misspelt } });
    expect([codes, error!.includes('--allow-empty')]).toEqual(['1 0', true]);
  });

  it('writes a learned plan once, and its own plan reads every file it knows', () => {
    cpSync(join(SAMPLE, 'scenes'), join(folder, 'scenes'), { recursive: true });
    expect(glue('plan', 'init', folder, '--print').out).toContain('"version": 1');
    expect(glue('plan', 'init', folder).code).toBe(0);
    expect(glue('plan', 'init', folder).error).toContain('[plan/exists]');
    expect(glue('plan', 'learn', folder).out).toContain('Nothing was learned that glue-trace.json does not say.');
    expect(glue('plan', 'learn', folder, '--write').out).toContain('It stays as it is.');
    expect(glue('plan', 'check', folder).out).toContain('0 that nothing reads');
  });

  it('shows repairs as a patch, writes them when asked, and takes them back', () => {
    cpSync(SAMPLE, folder, { recursive: true });
    const data = join(folder, '.data');
    const tender = (): string => readFileSync(join(folder, 'scripts/boats/tender.ts'), 'utf8');
    const before = tender();
    const shown = glue('repair', folder, '--check', 'broken/case-only', 'broken/unlisted-scene');
    expect(shown.out).toContain("+    const hull = this.child('Hull');");
    expect(shown.error).toContain('2 repairs in 2 files; nothing was written');
    expect(shown.error).toContain('2 findings have repairs that somebody has to look at: --unsure takes them in.');
    expect(tender()).toBe(before);
    const patch = join(folder, 'all.patch');
    expect(glue('repair', folder, '--unsure', '--out', patch).out).toBe('');
    expect(readFileSync(patch, 'utf8')).toContain('diff --git a/data/build-list.json b/data/build-list.json');
    expect(glue('repair', folder, '--check', 'broken/case-only', '--write', '--data', data).out).toContain(
      'Wrote 2 repairs in 2 files.',
    );
    expect(tender()).not.toBe(before);
    expect(glue('repair', folder, '--undo', '--data', data).out).toContain('Took back: 2 repairs');
    expect(tender()).toBe(before);
    expect(glue('repair', folder, '--undo', '--data', data).error).toContain('[repair/unknown]');
    expect(glue('repair', folder, '--check', 'broken/loop').error).toContain(
      'none of these findings has a repair that is sure',
    );
    expect(glue('repair', folder, '--finding', 'x').error).toContain('[finding/unknown]');
  });

  it('helps everywhere and knows its version', () => {
    for (const args of [
      ['--help'],
      ['scan', '--help'],
      ['repair', '--help'],
      ['serve', '--help'],
      ['plan', '--help'],
      ['plan', 'init', '--help'],
      ['plan', 'check', '--help'],
    ]) {
      const { code, out } = glue(...args);
      expect(code).toBe(0);
      expect(out).toContain('Usage: glue');
    }
    expect(glue('--version').out.trim()).toMatch(/^\d+\.\d+\.\d+$/);
  });

  it('serves until it is interrupted, then stops cleanly', async () => {
    const child = spawn(process.execPath, [MAIN, 'serve', SAMPLE, '--port', '0', '--data', folder]);
    let out = '';
    const code = await new Promise((resolve) => {
      child.stdout.on('data', (chunk: Buffer) => {
        out += chunk.toString();
        if (out.includes('http://127.0.0.1:')) child.kill('SIGINT');
      });
      child.on('exit', resolve);
    });
    expect(code).toBe(0);
    expect(out).toContain('Stopped.');
  });
});
