/** A running application for the specs: a copy of the sample, the real server, Debian's Chromium. */
import { cpSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { createServer, listen } from '@glue-trace/server';
import { chromium, type Browser, type Page } from 'playwright-core';

const ROOT = fileURLToPath(new URL('../../', import.meta.url));

export interface Stage {
  /** Temporary folder that the application may open folders in. */
  base: string;
  /** The copy of the sample. */
  sample: string;
  address: string;
  page: Page;
  /** Errors that the page wrote to its console. */
  complaints: string[];
  /** Resolves when the server sees changes of the sample's files. */
  watching(): Promise<void>;
  /** Stops the server, and starts it again at the same address. */
  stop(): Promise<void>;
  again(): Promise<void>;
  close(): Promise<void>;
}

interface StageOptions {
  withSample?: boolean;
  colorScheme?: 'light' | 'dark';
  /** Somebody who was never here is offered to be shown around. */
  isFirstVisit?: boolean;
}

export async function openStage({
  withSample = true,
  colorScheme = 'light',
  isFirstVisit = false,
}: StageOptions = {}): Promise<Stage> {
  const base = mkdtempSync(join(tmpdir(), 'glue-e2e-'));
  const sample = join(base, 'sluicekeeper');
  cpSync(join(ROOT, 'samples/sluicekeeper'), sample, { recursive: true });
  const options = {
    storePath: join(base, '.data', 'glue-trace.db'),
    folders: withSample ? [{ folder: sample }] : [],
    startFolder: base,
    webFolder: join(ROOT, 'web/dist/browser'),
    version: '0.0.1',
    logLevel: 'silent',
  } as const;
  const opening = theBrowser();
  let app = await createServer(options);
  const address = await listen(app, 0);
  // The specs begin where the first scan has ended.
  while (withSample && (await isScanning(address))) await new Promise((resolve) => setTimeout(resolve, 50));
  // Nothing of one spec is there in the next one, as in another browser.
  const visitor = await (await opening).newContext({ viewport: { width: 1280, height: 800 }, colorScheme });
  const page = await visitor.newPage();
  page.setDefaultTimeout(15_000);
  if (!isFirstVisit)
    await page.addInitScript(() => {
      // An empty page keeps nothing.
      if (location.protocol === 'http:') localStorage.setItem('glue-visited', 'yes');
    });
  const complaints: string[] = [];
  page.on('console', (message) => message.type() === 'error' && complaints.push(message.text()));
  page.on('pageerror', (error) => complaints.push(error.message));
  return {
    base,
    sample,
    address,
    page,
    complaints,
    async watching() {
      const answer = await fetch(`${address}/api/projects/1/progress`, { headers: { accept: 'text/event-stream' } });
      if (!answer.body) throw new Error('the server tells nothing');
      const reader = answer.body.pipeThrough(new TextDecoderStream()).getReader();
      for (let told = ''; !told.includes('event: watching'); told += (await reader.read()).value ?? '');
      await reader.cancel();
    },
    stop: () => app.close(),
    async again() {
      app = await createServer(options);
      await listen(app, Number(new URL(address).port));
    },
    async close() {
      await visitor.close();
      await app.close();
      rmSync(base, { recursive: true, force: true });
    },
  };
}

let browser: Promise<Browser> | undefined;

/** One for all specs of the process. */
function theBrowser(): Promise<Browser> {
  return (browser ??= chromium.launch({
    executablePath: process.env['CHROME_BIN'] ?? '/usr/bin/chromium',
    args: ['--no-sandbox', '--disable-gpu', '--disable-background-networking', '--disable-component-update'],
  }));
}

async function isScanning(address: string): Promise<boolean> {
  const project = (await (await fetch(`${address}/api/projects/1`)).json()) as { running: unknown };
  return project.running !== null;
}
