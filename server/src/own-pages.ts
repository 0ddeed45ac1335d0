/**
 * Who may ask what. Everybody on this machine may look, so far as their browser lets them; to change something takes a
 * page that this very server gave: its own Origin, and the token that was put into it.
 */
import { randomBytes, timingSafeEqual } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import serveStatic from '@fastify/static';
import { GlueError } from '@glue-trace/core';
import type { FastifyInstance } from 'fastify';

/** Addresses that mean this machine and nothing else. */
const OWN_HOSTS = /^(127\.0\.0\.1|localhost|\[::1\])(:\d+)?$/i;
const LOOKING = new Set(['GET', 'HEAD', 'OPTIONS']);
/** The header that a page sends its token in. */
const TOKEN_HEADER = 'x-glue-token';

export function newToken(): string {
  return randomBytes(24).toString('base64url');
}

/** Refuses requests from elsewhere, and changes that no page of ours asks for. */
export function refuseForeign(app: FastifyInstance, token: string): void {
  app.addHook('onRequest', async ({ headers, method, url }, reply) => {
    const { host = '', origin } = headers;
    const isOwnOrigin = origin === `http://${host}`;
    // A game on this machine has no page of ours: it shows the token of its project, and may stand on another port.
    if (url.startsWith('/play/') && OWN_HOSTS.test(host) && isOnThisMachine(origin)) {
      if (origin !== undefined)
        void reply
          .header('access-control-allow-origin', origin)
          .header('access-control-allow-headers', 'authorization, content-type')
          .header('vary', 'origin');
      return;
    }
    if (!OWN_HOSTS.test(host) || (origin !== undefined && !isOwnOrigin))
      throw new GlueError(
        'request/foreign',
        'This server answers only to its own pages on this machine, under 127.0.0.1 or localhost.',
      );
    if (!LOOKING.has(method) && !(isOwnOrigin && isSame(String(headers[TOKEN_HEADER] ?? ''), token)))
      throw new GlueError(
        'request/foreign',
        'This page was given by another server, or by this one before it was started anew. Load the page again.',
      );
  });
}

function isOnThisMachine(origin: string | undefined): boolean {
  return origin === undefined || (/^https?:\/\//.test(origin) && OWN_HOSTS.test(origin.replace(/^https?:\/\//, '')));
}

/** Whether two texts are the same, in a time that tells nothing of where they differ. */
export function isSame(one: string, other: string): boolean {
  const [a, b] = [Buffer.from(one), Buffer.from(other)];
  return a.length === b.length && timingSafeEqual(a, b);
}

/** The built interface; addresses of its views all give the same page, with the token in it. */
export async function serveInterface(app: FastifyInstance, folder: string, token: string): Promise<void> {
  const page = readFileSync(join(folder, 'index.html'), 'utf8').replace(
    '<head>',
    `<head><meta name="glue-token" content="${token}">`,
  );
  await app.register(serveStatic, {
    root: folder,
    wildcard: false,
    index: false,
    globIgnore: ['index.html'],
    maxAge: 0,
  });
  app.get('/*', (request, reply) => {
    if (request.url.startsWith('/api/'))
      throw new GlueError('request/unknown', `${request.url.split('?')[0]} is not part of the API.`);
    return reply.type('text/html; charset=utf-8').header('cache-control', 'no-store').send(page);
  });
}
