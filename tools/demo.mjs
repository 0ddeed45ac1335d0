// Serves the sample project; sets everything up first. With --play the stand-in of its engine plays it meanwhile.
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { playAt, sendRecorded, standIn } from './play.mjs';
import { ensureBuilt, ensureInstalled, root } from './ready.mjs';

ensureInstalled();
ensureBuilt();
const plays = process.argv.includes('--play');
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
const at = await playAt(`http://127.0.0.1:${port}`, 60);
if (at) {
  await sendRecorded(at);
  if (plays) await standIn(at, ['--frames', '36000']);
}
