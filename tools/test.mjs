// Runs every suite and ends with one line “N passed, N failed”. `npm test -- core e2e` runs only those named.
import { spawn } from 'node:child_process';
import { mkdirSync, readFileSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { ensureBuilt, ensureChromium, ensureInstalled, root } from './ready.mjs';

ensureInstalled();
ensureBuilt();
process.env.CHROME_BIN = ensureChromium();

const only = process.argv.slice(2);
const results = join(root, '.glue', 'results');
rmSync(results, { recursive: true, force: true });
mkdirSync(results, { recursive: true });

const bin = (path) => join(root, 'node_modules', path);
const jasmine = (name) => [
  process.execPath,
  [join(root, 'tools/jasmine-suite.mjs'), `${name}/dist/**/*.spec.js`],
  root,
];

/** Suites that pass as a whole or not at all. */
const WITHOUT_COUNTS = new Set(['lint', 'format', 'unused', 'licences', 'docs']);

/** Suites that wait a lot, for a process or a disk: two halves of them run beside each other. */
const IN_HALVES = new Set(['server', 'cli']);

/** Name, program, arguments, folder. A suite without counts of its own counts as one. */
const suites = [
  ['lint', process.execPath, [bin('eslint/bin/eslint.js'), '.'], root],
  ['format', process.execPath, [bin('prettier/bin/prettier.cjs'), '--check', '--log-level', 'warn', '.'], root],
  ['unused', process.execPath, [bin('knip/bin/knip.js'), '--include', 'files,dependencies,unlisted,exports'], root],
  ['licences', process.execPath, [join(root, 'tools/licences.mjs'), '--check'], root],
  ['docs', process.execPath, [join(root, 'tools/docs.mjs'), '--check'], root],
  ['core', ...jasmine('core')],
  ['server', ...jasmine('server')],
  ['cli', ...jasmine('cli')],
  ['web', process.execPath, [bin('@angular/cli/bin/ng.js'), 'test', '--watch=false'], join(root, 'web')],
  ['e2e', ...jasmine('e2e')],
].filter(([name]) => only.length === 0 || only.includes(name));

let passed = 0;
let failed = 0;

/** Runs a suite. Beside others, what it says is kept until it has ended. */
async function run([name, program, args, cwd], isBeside) {
  const started = Date.now();
  if (!isBeside) process.stdout.write(`\n— ${name}\n`);
  const parts = IN_HALVES.has(name) ? ['1/2', '2/2'] : ['1/1'];
  const all = await Promise.all(
    parts.map((part, at) => {
      const result = join(results, `${name}-${at}.json`);
      const env = { ...process.env, NG_CLI_ANALYTICS: 'false', GLUE_RESULT: result, GLUE_PART: part };
      return runPart(
        { name, program, args: [...args, ...(isJasmine(args) ? [result] : [])], cwd, env, result },
        isBeside || at > 0,
      );
    }),
  );
  const [ownPassed, ownFailed] = ['passed', 'failed'].map((what) => all.reduce((sum, counts) => sum + counts[what], 0));
  passed += ownPassed;
  failed += ownFailed;
  process.stdout.write(
    `  ${name}: ${ownPassed} passed, ${ownFailed} failed, ${((Date.now() - started) / 1000).toFixed(1)} s\n`,
  );
}

const isJasmine = ([script]) => script.endsWith('jasmine-suite.mjs');

async function runPart({ name, program, args, cwd, env, result }, isQuiet) {
  const child = spawn(program, args, { cwd, env, stdio: isQuiet ? ['ignore', 'pipe', 'pipe'] : 'inherit' });
  const said = [];
  for (const stream of [child.stdout, child.stderr]) stream?.on('data', (bytes) => said.push(bytes));
  const status = await new Promise((resolve) => {
    child.on('error', () => resolve(1));
    child.on('close', resolve);
  });
  if (isQuiet) process.stdout.write(`\n— ${name}\n${Buffer.concat(said).toString('utf8')}`);
  return countsOf(name, status, result);
}

async function inTurn(some, isBeside) {
  for (const suite of some) await run(suite, isBeside);
}

// What only looks at texts goes beside the one suite that takes one processor alone; the others need the machine.
const [looking, running] = [true, false].map((is) => suites.filter(([name]) => WITHOUT_COUNTS.has(name) === is));
const [first, ...others] = running;
await Promise.all([inTurn(looking, first !== undefined), inTurn(first ? [first] : [], false)]);
await inTurn(others, false);

function countsOf(name, status, result) {
  if (WITHOUT_COUNTS.has(name)) return { passed: status === 0 ? 1 : 0, failed: status === 0 ? 0 : 1 };
  try {
    const counts = JSON.parse(readFileSync(result, 'utf8'));
    // A suite that ran nothing, or ended badly after its specs, has failed.
    if (counts.passed + counts.failed === 0 || (status !== 0 && counts.failed === 0)) return { ...counts, failed: 1 };
    return counts;
  } catch {
    return { passed: 0, failed: 1 };
  }
}

process.stdout.write(`\n${passed} passed, ${failed} failed\n`);
process.exit(failed > 0 ? 1 : 0);
