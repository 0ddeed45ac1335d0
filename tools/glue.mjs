// The command line, built first when sources changed. Building speaks on the error output, so that reports stay clean.
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';

const write = process.stdout.write.bind(process.stdout);
process.stdout.write = process.stderr.write.bind(process.stderr);
const { ensureBuilt, ensureInstalled, root } = await import('./ready.mjs');
ensureInstalled();
ensureBuilt({ web: process.argv[2] === 'serve' });
process.stdout.write = write;
// Folders are meant from where the user stands, also when npm changed into the workspace.
if (process.env.INIT_CWD) process.chdir(process.env.INIT_CWD);
await import(pathToFileURL(join(root, 'cli/dist/main.js')).href);
