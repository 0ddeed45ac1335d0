/** What docs/ci.md tells people to run does what it says there: its shell steps are run as they are written. */
import { spawnSync } from 'node:child_process';
import { chmodSync, cpSync, existsSync, mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { gitIn } from '@glue-trace/core/git-in';
import { Ajv2020 } from 'ajv/dist/2020.js';

const ROOT = fileURLToPath(new URL('../..', import.meta.url));
const MAIN = fileURLToPath(new URL('./main.js', import.meta.url));
const PAGE = readFileSync(join(ROOT, 'docs/ci.md'), 'utf8');
const blocks = (language: string): string[] =>
  [...PAGE.matchAll(new RegExp('^```' + language + '\\n([^]*?)^```$', 'gm'))].map(([, text = '']) => text);
const schema = (name: string): ((value: unknown) => boolean) =>
  new Ajv2020({ strict: false }).compile(
    JSON.parse(readFileSync(join(ROOT, `docs/schemas/${name}.schema.json`), 'utf8')) as object,
  );

describe('docs/ci.md', () => {
  let base: string;
  beforeEach(() => (base = mkdtempSync(join(tmpdir(), 'glue-ci-'))));
  afterEach(() => rmSync(base, { recursive: true, force: true }));

  /** Runs a step in the project with `glue` in the path; gives the code it ends with. */
  const run = (step: string): number | null =>
    spawnSync('sh', ['-c', step], {
      cwd: join(base, 'project'),
      encoding: 'utf8',
      env: { ...process.env, PATH: `${join(base, 'bin')}:${process.env['PATH'] ?? ''}` },
    }).status;

  it('has steps that let pass what was there and stop what is new', () => {
    const project = join(base, 'project');
    mkdirSync(join(base, 'bin'));
    writeFileSync(join(base, 'bin/glue'), `#!/bin/sh\nexec "${process.execPath}" "${MAIN}" "$@"\n`);
    chmodSync(join(base, 'bin/glue'), 0o755);
    cpSync(join(ROOT, 'samples/sluicekeeper'), project, { recursive: true });
    const git = gitIn(project);
    git('init', '-q', '-b', 'main');
    git('add', '-A');
    git('commit', '-q', '-m', 'first');
    git('checkout', '-q', '-b', 'fair');
    const steps = blocks('sh');
    expect(steps.length).toBe(5);
    const [onBranch = '', baseline = '', against = '', hook = '', files = ''] = steps;
    expect([run(onBranch), run(baseline), run(against), run(hook), run(files)]).toEqual([0, 0, 0, 0, 0]);
    for (const made of ['glue-trace.baseline.json', 'glue-trace.sarif', 'glue-trace.junit.xml', 'glue-trace.html'])
      expect(existsSync(join(project, made)))
        .withContext(made)
        .toBeTrue();
    writeFileSync(
      join(project, 'data/hints/late.json'),
      '{ "hint": "Late", "scene": "lower-flight", "steps": [{ "text": "x", "picture": "pictures/none.svg" }] }',
    );
    git('add', '-A');
    expect([run(onBranch), run(against), run('git -c user.name=Ada -c user.email=a@b commit -qm second')]).toEqual([
      1, 1, 1,
    ]);
  });

  it('shows routes and waivers as they may be written', () => {
    const [routes = '', waivers = ''] = blocks('json');
    expect(schema('glue-trace.routes')(JSON.parse(routes))).toBeTrue();
    expect(schema('glue-trace.waivers')(JSON.parse(waivers))).toBeTrue();
    expect(schema('glue-trace.waivers')({ waivers: [{ reason: 'x' }] })).toBeFalse();
    expect(schema('glue-trace.baseline')({ findings: [{ fingerprint: 'a' }] })).toBeTrue();
    expect(schema('glue-trace.baseline')({ findings: [{}] })).toBeFalse();
  });
});
