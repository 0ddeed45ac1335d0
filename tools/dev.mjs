// Server and interface with reload, on the sample or on folders of your own: npm run dev [DIR …]
// TypeScript is compiled as it changes; the server begins anew after that, and the interface reloads itself.
import { spawn } from 'node:child_process';
import { randomBytes } from 'node:crypto';
import { watch } from 'node:fs';
import { join, resolve } from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import { ensureBuilt, ensureInstalled, root } from './ready.mjs';

ensureInstalled();
ensureBuilt({ web: false });

const port = process.env.GLUE_TRACE_PORT ?? '4860';
const webPort = process.env.GLUE_TRACE_WEB_PORT ?? '4861';
const given = process.argv.slice(2).map((dir) => resolve(dir));
/** The interface is served by another server here: both are told what pages must send. */
process.env.GLUE_TRACE_TOKEN = randomBytes(24).toString('base64url');
const folders = given.length > 0 ? given : [join(root, 'samples/sluicekeeper')];

const children = new Set();
let isStopping = false;
function start(args, options = {}) {
  const child = spawn(process.execPath, args, { cwd: root, stdio: 'inherit', ...options });
  children.add(child);
  child.on('exit', () => children.delete(child));
  return child;
}

const bin = (path) => join(root, 'node_modules', path);
start([bin('typescript/bin/tsc'), '-b', '--watch', '--preserveWatchOutput']);
start(
  [bin('@angular/cli/bin/ng.js'), 'serve', '--port', webPort, '--proxy-config', join(root, 'tools/dev-proxy.mjs')],
  {
    cwd: join(root, 'web'),
    env: { ...process.env, NG_CLI_ANALYTICS: 'false', GLUE_TRACE_PORT: port },
  },
);

const serve = ['cli/dist/main.js', 'serve', ...folders, '--port', port, '--data', join(root, '.glue')];
let server = start(serve);
let changes = 0;
/** Waits until the compiler has been quiet for a moment, so that one edit is one restart. */
async function restart() {
  const mine = ++changes;
  await wait(400);
  if (mine !== changes || isStopping) return;
  if (children.has(server)) {
    const ended = new Promise((resolve) => server.once('exit', resolve));
    server.kill();
    await ended;
  }
  if (mine === changes && !isStopping) server = start(serve);
}
for (const name of ['core', 'server', 'cli'])
  watch(join(root, name, 'dist'), { recursive: true }, (_, file) => {
    if (file?.endsWith('.js') && !file.endsWith('.spec.js')) void restart();
  });

function stop() {
  if (isStopping) return;
  isStopping = true;
  for (const child of children) child.kill();
  process.exit(0);
}
process.on('SIGINT', stop);
process.on('SIGTERM', stop);
process.stdout.write(`The interface will be at http://127.0.0.1:${webPort}, the server at http://127.0.0.1:${port}\n`);
