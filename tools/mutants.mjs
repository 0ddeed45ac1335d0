// Changes the code at random and says whether a spec fails: npm run mutants -- PATH [--seed N] [--all]
// PATH is a folder or file of core/src or server/src. Of a folder some 300 mutants are tried, in stretches of lines that
// a seed chooses; of one file, or with --all, every mutant.
import { existsSync, mkdirSync, readdirSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { join, relative } from 'node:path';
import { parseArgs } from 'node:util';
import { ensureBuilt, ensureInstalled, fail, root, run } from './ready.mjs';
import { numbers } from '../samples/synthetic/generate.mjs';

ensureInstalled();
ensureBuilt({ web: false });

const { positionals, values } = parseArgs({
  allowPositionals: true,
  options: {
    seed: { type: 'string', default: '1' },
    all: { type: 'boolean', default: false },
    mutants: { type: 'string', default: '300' },
    at: { type: 'string', default: '2' },
  },
});
const [path] = positionals;
const workspace = path?.split('/')[0];
if (!path || !['core', 'server'].includes(workspace) || !existsSync(join(root, path)))
  fail('Say which folder or file of core/src or server/src: npm run mutants -- core/src/checks');

/** What they attack runs in other processes and threads, where the code is not changed. */
const ATTACKS = ['!dist/siege.spec.js', '!dist/git/hostile.spec.js', '!dist/repairs/killed.spec.js'];
/** What they read stands outside of the workspace: texts of the interface, files of the stand-in. */
const OUTSIDE = ['!dist/testing/words.spec.js'];
/** Lines of a stretch that is tried as a whole: most conditions and small blocks fit into one. */
const STRETCH = 10;
/** Mutants that a line of ours has on average. */
const PER_LINE = 0.75;

const isCode = (file) => file.endsWith('.ts') && !file.endsWith('.spec.ts') && !file.includes('/testing/');
const filesIn = (at) =>
  statSync(at).isFile()
    ? [at]
    : readdirSync(at, { withFileTypes: true }).flatMap((entry) => filesIn(join(at, entry.name)));
// Linking again is tried by itself: what compares it with linking everything takes a minute.
const isRelinking = path.includes('relink');
const files = filesIn(join(root, path)).filter((file) => isCode(file) && isRelinking === file.endsWith('relink.ts'));

/** Stretches of code, `file:from-to`, so many that about the wanted number of mutants lies in them. */
function chosen() {
  const stretches = files.flatMap((file) => {
    const { length } = readFileSync(file, 'utf8').split('\n');
    const name = relative(root, file);
    return Array.from({ length: Math.ceil(length / STRETCH) }, (_, at) => [name, at * STRETCH + 1, (at + 1) * STRETCH]);
  });
  const random = numbers(Number(values.seed));
  const wanted = Math.min(stretches.length, Math.ceil(Number(values.mutants) / (STRETCH * PER_LINE)));
  return Array.from({ length: wanted }, () => stretches.splice(random(stretches.length), 1)[0]).map(
    ([name, from, to]) => `${name}:${from}-${to}`,
  );
}

const isWhole = values.all || statSync(join(root, path)).isFile();
const reports = join(root, '.glue', 'mutants');
mkdirSync(reports, { recursive: true });
const report = join(reports, `${path.replaceAll('/', '-')}.json`);
const jasmine = join(reports, 'jasmine.json');
writeFileSync(
  jasmine,
  JSON.stringify({
    spec_dir: workspace,
    helpers: ['../tools/spec-limit.mjs'],
    // Linking again is compared with linking everything: what is wrong in both, it cannot notice.
    spec_files: ['dist/**/*.spec.js', ...(isRelinking ? [] : ['!dist/linking/relink.spec.js']), ...ATTACKS, ...OUTSIDE],
    random: false,
    stopSpecOnExpectationFailure: true,
  }),
);
const config = {
  testRunner: 'jasmine',
  jasmineConfigFile: jasmine,
  buildCommand: `npx tsc -b ${workspace === 'core' ? 'core/tsconfig.spec.json' : workspace}`,
  mutate: isWhole ? files.map((file) => relative(root, file)) : chosen(),
  // Of our own code alone: the sample's scripts are read as they are.
  disableTypeChecks: `${workspace}/src/**/*.ts`,
  coverageAnalysis: 'perTest',
  // What runs once when a file is loaded can only be tried with all specs, which takes as long as hundreds of others.
  ignoreStatic: true,
  concurrency: Number(values.at),
  timeoutMS: 20_000,
  dryRunTimeoutMinutes: 15,
  reporters: ['clear-text', 'json'],
  clearTextReporter: { logTests: false, allowColor: false, reportTests: false, reportScoreTable: true },
  jsonReporter: { fileName: report },
  tempDirName: '.glue/mutants/tmp',
  ignorePatterns: ['.glue', 'web', 'docs/screenshots', '**/*.tsbuildinfo', '**/dist'],
  allowConsoleColors: false,
  fileLogLevel: 'off',
  logLevel: 'warn',
};
const configFile = join(reports, 'stryker.json');
writeFileSync(configFile, JSON.stringify(config, null, 2));
rmSync(report, { force: true });
run(process.execPath, [join(root, 'node_modules/@stryker-mutator/core/bin/stryker.js'), 'run', configFile], {
  // Random documents cover everything, and notice little that the cases do not.
  env: { GLUE_FUZZ_RUNS: '10', ...process.env },
});

const counts = {};
for (const { mutants } of Object.values(JSON.parse(readFileSync(report, 'utf8')).files))
  for (const { status } of mutants) counts[status] = (counts[status] ?? 0) + 1;
const { Killed = 0, Timeout = 0, Survived = 0, NoCoverage = 0 } = counts;
const found = Killed + Timeout;
const all = found + Survived + NoCoverage;
process.stdout.write(
  `${path}, seed ${values.seed}: ${found} of ${all} mutants noticed, ${((100 * found) / Math.max(1, all)).toFixed(1)} %\n`,
);
