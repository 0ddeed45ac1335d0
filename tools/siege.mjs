// Attacks the tool on purpose, for as long as it takes: npm run siege [-- WORD]
// The same specs run small with every test run. Says for each group how much was tried and what held.
import { spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { ensureBuilt, ensureInstalled, root } from './ready.mjs';

ensureInstalled();
ensureBuilt({ web: false });
process.env.GLUE_SIEGE = 'long';
process.env.GLUE_SPEC_LIMIT ??= '900000';
process.env.GLUE_FUZZ_RUNS ??= '3000';

/** Specs, and what they attack with. */
const GROUPS = {
  'hostile repositories': 'server/dist/git/hostile.spec.js',
  'planted links and files that change': 'server/dist/writing/write.spec.js',
  'kills and full disks': 'server/dist/repairs/killed.spec.js',
  'spoilt, busy and newer stores': 'server/dist/store/store.spec.js',
  'plans, globs and ignore files': 'server/dist/{scan/hostile,files/ignore-file}.spec.js',
  'patterns and limits': 'core/dist/{helpers/pattern,reading/glob,linking/left-out}.spec.js',
  'spoilt files of every format and language': 'core/dist/reading/robust.spec.js',
  'hostile projects beside a good one, and many clients': 'server/dist/siege.spec.js',
};

const result = join(root, '.glue', 'siege.json');
mkdirSync(join(root, '.glue'), { recursive: true });
const rows = Object.entries(GROUPS).map(([group, glob]) => {
  const suite = [join(root, 'tools/jasmine-suite.mjs'), glob, result, ...process.argv.slice(2, 3)];
  rmSync(result, { force: true });
  spawnSync(process.execPath, suite, { cwd: root, stdio: 'inherit' });
  // A suite that died has no result, and held nothing.
  const { passed, failed } = existsSync(result) ? JSON.parse(readFileSync(result, 'utf8')) : { passed: 0, failed: 1 };
  return { words: `${group}: ${passed} of ${passed + failed} held`, failed };
});
process.stdout.write(`\n${rows.map(({ words }) => words).join('\n')}\n`);
process.exit(rows.some(({ failed }) => failed > 0) ? 1 : 0);
