// Plays the sample: node samples/sluicekeeper-play/run.mjs [--seed 1] [--frames 1800] [--scene lower-flight] [--out FILE]
//   [--to URL --token TOKEN] [--fast]
// Its play log goes to a server that is open, to a file, or to standard output.
import { createWriteStream } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { setTimeout as pause } from 'node:timers/promises';
import { parseArgs } from 'node:util';
import { createGame } from './game.mjs';

const { values } = parseArgs({
  options: {
    seed: { type: 'string', default: '1' },
    frames: { type: 'string', default: '1800' },
    scene: { type: 'string' },
    folder: { type: 'string', default: fileURLToPath(new URL('../sluicekeeper', import.meta.url)) },
    out: { type: 'string' },
    to: { type: 'string' },
    token: { type: 'string', default: '' },
    fast: { type: 'boolean', default: false },
  },
});

const start = Date.now();
let waiting = [];
const play = createGame({
  folder: values.folder,
  seed: Number(values.seed),
  // At its own pace the clock tells when; else the frames do.
  tell: (event) =>
    waiting.push({
      ...event,
      time: new Date(values.fast ? start + (event.frame * 1000) / 60 : Date.now()).toISOString(),
    }),
});
const out = values.out ? createWriteStream(values.out) : process.stdout;
async function flush() {
  const events = waiting;
  waiting = [];
  if (events.length === 0) return;
  if (!values.to) return void out.write(events.map((one) => `${JSON.stringify(one)}\n`).join(''));
  const response = await fetch(values.to, {
    method: 'POST',
    headers: { authorization: `Bearer ${values.token}`, 'content-type': 'application/cloudevents-batch+json' },
    body: JSON.stringify(events),
  });
  if (!response.ok) throw new Error(`${values.to} answers with ${response.status}: ${await response.text()}`);
}

await play.start(values.scene);
for (let frame = 0; frame < Number(values.frames); frame++) {
  play.step();
  if (frame % 6 === 0) await flush();
  if (!values.fast) await pause(1000 / 60);
}
await flush();
play.end();
process.stderr.write(`${play.game.frame} frames were played.\n`);
