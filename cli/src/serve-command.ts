import { join, resolve } from 'node:path';
import { fileURLToPath } from 'node:url';
import { createServer, listen, STORE_NAME } from '@glue-trace/server';

export interface ServeFlags {
  plan?: string;
  port: number;
  data: string;
}

const WEB = fileURLToPath(new URL('../../web/dist/browser', import.meta.url));

/** Milliseconds after which the server ends whatever it still does. */
const LONGEST_STOP = 4000;

/** Serves the interface until it is asked to stop. */
export async function serveCommand(dirs: string[], flags: ServeFlags, version: string): Promise<void> {
  const folders = dirs.map((dir, at) => ({
    folder: resolve(dir),
    planFile: at === 0 && flags.plan ? resolve(flags.plan) : undefined,
  }));
  const app = await createServer({
    storePath: join(resolve(flags.data), STORE_NAME),
    folders,
    startFolder: process.cwd(),
    webFolder: WEB,
    version,
    // For `npm run dev`, where another server gives the page.
    token: process.env['GLUE_TRACE_TOKEN'],
  });
  const address = await listen(app, flags.port);
  let isStopping = false;
  const stop = (): void => {
    // The signal may come twice: from the terminal and from whoever started us.
    if (isStopping) return;
    isStopping = true;
    // Whatever still goes on: a scan that was stopped leaves everything as it was.
    setTimeout(() => process.exit(0), LONGEST_STOP).unref();
    void app.close().then(() => {
      process.stdout.write('Stopped.\n');
      process.exit(0);
    });
  };
  process.on('SIGINT', stop);
  process.on('SIGTERM', stop);
  process.stdout.write(`Glue Trace is at ${address} (Ctrl-C stops it)\n`);
}
