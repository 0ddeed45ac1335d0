import { existsSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { GlueError, LONGEST_LINE } from '@glue-trace/core';
import { growing, linesOf, openPlayStore, openStore, playPathOf, realFolder, STORE_NAME } from '@glue-trace/server';
import { tell } from './terminal.js';

export interface RecordFlags {
  data: string;
  name: string;
  follow?: string;
}

/** Lines that are sent at once. */
const AT_ONCE = 500;
/** In milliseconds: a file that is followed is looked at so often. */
const LOOKED_EVERY = 200;

interface Taken {
  taken: number;
  dropped: number;
  problems: string[];
}

/**
 * Sends lines of standard input, or of a file as it grows, to the server that is open, as a session of the project.
 * @throws GlueError `server/none` when nothing is served, `project/unknown` when the folder is not open there
 */
export async function playRecord(dir: string, { data, name, follow }: RecordFlags): Promise<void> {
  if (follow !== undefined && !existsSync(follow))
    throw new GlueError('file/missing', `There is no play log at ${follow} to follow.`);
  const { url, token } = servedAt(dir, data);
  const address = `${url}?session=${encodeURIComponent(name)}`;
  const whole: Taken = { taken: 0, dropped: 0, problems: [] };
  const send = async (lines: readonly string[]): Promise<void> => {
    const response = await fetch(address, {
      method: 'POST',
      headers: { authorization: `Bearer ${token}`, 'content-type': 'application/x-ndjson' },
      body: `${lines.join('\n')}\n`,
    });
    if (!response.ok)
      throw new GlueError('server/none', `${address} answers with ${response.status}. Open the project there again.`);
    const { taken, dropped, problems } = (await response.json()) as Taken;
    whole.taken += taken;
    whole.dropped += dropped;
    whole.problems.push(...problems.slice(0, Math.max(0, 5 - whole.problems.length)));
  };
  const stop = new AbortController();
  for (const signal of ['SIGINT', 'SIGTERM']) process.once(signal, () => stop.abort());
  const input = follow === undefined ? process.stdin : growing(follow, stop.signal);
  let waiting: string[] = [];
  let sending = Promise.resolve();
  const flush = (): void => {
    const lines = waiting;
    waiting = [];
    if (lines.length > 0) sending = sending.then(() => send(lines));
  };
  const timer = setInterval(flush, LOOKED_EVERY);
  try {
    for await (const line of linesOf(input, LONGEST_LINE)) {
      waiting.push(line);
      if (waiting.length < AT_ONCE) continue;
      flush();
      // No more is read than can be sent.
      await sending;
    }
    flush();
    await sending;
  } finally {
    clearInterval(timer);
  }
  if (follow === undefined)
    await fetch(`${url}/end?session=${encodeURIComponent(name)}`, {
      method: 'POST',
      headers: { authorization: `Bearer ${token}` },
    });
  await tell(
    `${[
      `${whole.taken} ${whole.taken === 1 ? 'event is' : 'events are'} kept as “${name}”.`,
      ...(whole.dropped > 0 ? [`${whole.dropped} were too many, and are not kept.`] : []),
      ...whole.problems.map((problem) => `Not read: ${problem}`),
    ].join('\n')}\n`,
  );
}

/** Where a game of a project sends to, and with what token. */
function servedAt(dir: string, data: string): { url: string; token: string } {
  const storePath = join(resolve(data), STORE_NAME);
  const none = new GlueError(
    'server/none',
    'Start “glue serve” with this folder first, or name its store with --data.',
  );
  if (!existsSync(storePath)) throw none;
  const store = openStore(storePath);
  try {
    const address = store.serving();
    if (!address) throw none;
    const folder = realFolder(dir);
    const project = store.projects().find((one) => one.folder === folder);
    if (!project) throw new GlueError('project/unknown', `${folder} is not open at ${address}. Open it there.`);
    const play = openPlayStore(playPathOf(storePath));
    try {
      return { url: `${address}/play/${project.id}`, token: play.tokenOf(project.id) };
    } finally {
      play.close();
    }
  } finally {
    store.close();
  }
}
