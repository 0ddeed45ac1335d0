// Serves the sample project; sets everything up first.
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { ensureBuilt, ensureInstalled, root } from './ready.mjs';

ensureInstalled();
ensureBuilt();
const port = process.env.GLUE_TRACE_PORT ?? '4860';
process.argv = [
  process.argv[0],
  'glue',
  'serve',
  join(root, 'samples/sluicekeeper'),
  '--port',
  port,
  '--data',
  join(root, '.glue'),
];
process.chdir(root);
await import(pathToFileURL(join(root, 'cli/dist/main.js')).href);
