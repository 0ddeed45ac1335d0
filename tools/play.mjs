// Plays the sample beside a server that is open: node tools/play.mjs [--seed 1] [--scene lower-flight] [--frames 1800] …
import { spawn } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { setTimeout as pause } from 'node:timers/promises';
import { pathToFileURL } from 'node:url';
import { root } from './ready.mjs';

const PLAY = join(root, 'samples/sluicekeeper-play');
const SAMPLE = join(root, 'samples/sluicekeeper');

/** Where the sample is served, as soon as it is, and what a game sends along; undefined when nothing is served in time. */
export async function playAt(address, seconds) {
  for (const until = Date.now() + seconds * 1000; ; await pause(300)) {
    try {
      const projects = await (await fetch(`${address}/api/projects`)).json();
      const project = projects.find(({ folder, path }) => (folder ?? path) === SAMPLE) ?? projects[0];
      if (project) return { ...(await (await fetch(`${address}/api/projects/${project.id}/play`)).json()), address };
    } catch {
      // Not yet.
    }
    if (Date.now() > until) return undefined;
  }
}

/** Sends the session that comes with the sample, where nothing was played yet. */
export async function sendRecorded({ address, path, token, sessions }) {
  if (sessions.length > 0) return;
  const send = (what, body) =>
    fetch(`${address}${path}${what}?session=friday`, {
      method: 'POST',
      headers: { authorization: `Bearer ${token}`, ...(body && { 'content-type': 'application/x-ndjson' }) },
      body,
    });
  await send('', readFileSync(join(PLAY, 'friday.play.ndjson')));
  await send('/end');
}

/** Runs the stand-in beside a server. @returns what it ends with */
export function standIn({ address, path, token }, args) {
  const to = ['--to', `${address}${path}?session=stand-in`, '--token', token];
  const game = spawn(process.execPath, [join(PLAY, 'run.mjs'), ...to, ...args], { stdio: 'inherit' });
  return new Promise((done) => game.on('exit', (code) => done(code ?? 1)));
}

if (import.meta.url === pathToFileURL(resolve(process.argv[1] ?? '')).href) {
  const port = process.env.GLUE_TRACE_PORT ?? '4860';
  const at = await playAt(`http://127.0.0.1:${port}`, 2);
  if (!at) {
    process.stderr.write(`Nothing is served on port ${port}. Start “npm run demo” first, or set GLUE_TRACE_PORT.\n`);
    process.exit(2);
  }
  process.exit(await standIn(at, process.argv.slice(2)));
}
