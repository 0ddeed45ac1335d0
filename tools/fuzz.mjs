// Spoils files of every format and language at random, many times over: npm run fuzz -- [RUNS]
import { spawnSync } from 'node:child_process';
import { join } from 'node:path';
import { ensureBuilt, ensureInstalled, root } from './ready.mjs';

ensureInstalled();
ensureBuilt({ web: false });
const { status } = spawnSync(
  process.execPath,
  [join(root, 'tools/jasmine-suite.mjs'), 'core/dist/reading/robust.spec.js'],
  {
    cwd: root,
    stdio: 'inherit',
    env: { ...process.env, GLUE_FUZZ_RUNS: process.argv[2] ?? '3000', GLUE_SPEC_LIMIT: '600000' },
  },
);
process.exit(status ?? 1);
