/** A server over a copy of the sample, in a folder of its own, asked as a page of its own asks. */
import { cpSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import type { FastifyInstance } from 'fastify';
import type { ProjectView } from '../api.js';
import { createServer } from '../server.js';

const SAMPLE = fileURLToPath(new URL('../../../samples/sluicekeeper', import.meta.url));

/** What a page of the server sends along. */
export const OWN = { host: '127.0.0.1:4860', origin: 'http://127.0.0.1:4860', 'x-glue-token': 'of-this-spec' };

export interface Answer<T> {
  readonly status: number;
  readonly body: T;
  readonly type: string;
}

export class SampleServer {
  readonly base = mkdtempSync(join(tmpdir(), 'glue-server-'));
  readonly folder = join(this.base, 'sluicekeeper');
  readonly storePath = join(this.base, 'data', 'glue.db');
  app!: FastifyInstance;

  constructor() {
    this.copySample();
  }

  copySample(): void {
    cpSync(SAMPLE, this.folder, { recursive: true });
  }

  /** Starts the server over the sample, or over no folder, and waits until what it opened is scanned. */
  async start(folders = [{ folder: this.folder }]): Promise<this> {
    this.app = await createServer({
      storePath: this.storePath,
      folders,
      startFolder: this.base,
      version: '0.0.1',
      logLevel: 'silent',
      token: OWN['x-glue-token'],
    });
    if (folders.length > 0) await this.settled();
    return this;
  }

  async end(): Promise<void> {
    await this.app?.close();
    rmSync(this.base, { recursive: true, force: true });
  }

  async call<T>(
    method: 'GET' | 'POST' | 'PUT' | 'DELETE',
    url: string,
    payload?: object,
    more: Record<string, string> = {},
  ): Promise<Answer<T>> {
    const response = await this.app.inject({ method, url, payload, headers: { ...OWN, ...more } });
    return {
      status: response.statusCode,
      body: response.body ? response.json<T>() : (undefined as T),
      type: String(response.headers['content-type']),
    };
  }

  async read<T>(url: string): Promise<T> {
    return (await this.call<T>('GET', url)).body;
  }

  /** The project, as soon as no scan of it runs. */
  async settled(project = 1): Promise<ProjectView> {
    for (;;) {
      const view = await this.read<ProjectView>(`/api/projects/${project}`);
      if (!view.running) return view;
      await new Promise((resolve) => setTimeout(resolve, 30));
    }
  }

  async scanAgain(): Promise<ProjectView> {
    await this.call('POST', '/api/projects/1/scans', {});
    return this.settled();
  }
}
