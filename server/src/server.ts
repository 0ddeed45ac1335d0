import { existsSync } from 'node:fs';
import { basename, dirname } from 'node:path';
import helmet from '@fastify/helmet';
import rateLimit from '@fastify/rate-limit';
import sse from '@fastify/sse';
import websocket from '@fastify/websocket';
import { GlueError } from '@glue-trace/core';
import Fastify, { type FastifyBaseLogger, type FastifyInstance } from 'fastify';
import { createGate } from './folders.js';
import { newToken, refuseForeign, serveInterface } from './own-pages.js';
import { answerWithProblems } from './problems.js';
import type { Context } from './routes/context.js';
import { createChanges } from './routes/changes.js';
import { createNarrowed, findingRoutes } from './routes/findings.js';
import { createOwners } from './routes/owners.js';
import { planRoutes } from './routes/plan.js';
import { projectRoutes } from './routes/projects.js';
import { playLogRoutes } from './routes/play-logs.js';
import { createSight, playRoutes } from './routes/play-routes.js';
import { repairRoutes } from './routes/repairs.js';
import { reportRoutes } from './routes/reports.js';
import { waiverRoutes } from './routes/waivers.js';
import { readingRoutes } from './routes/reading.js';
import { scanRoutes } from './routes/scans.js';
import { createSeen } from './routes/seen-in-play.js';
import { familyRoutes } from './routes/families.js';
import { traceRoutes } from './routes/trace.js';
import { createAside } from './aside/aside.js';
import { whenFree } from './store/when-free.js';
import { openPlayStore, playPathOf } from './play/play-store.js';
import { createScans } from './scan/scans.js';
import { createWatches } from './scan/watch.js';
import { realFolder } from './files/discover.js';
import { recoverRepairs } from './repairs/repairs.js';
import { planPath } from './plans/plan-files.js';
import { openStore, type ProjectRow, type Store } from './store/store.js';
import { clearLeftOver } from './writing/write.js';

export interface ServerOptions {
  /** File of the store, or `:memory:` is not possible here since scans open it on their own threads. */
  storePath: string;
  /** Folders named on the command line: they are opened and scanned at once. */
  folders: { folder: string; planFile?: string }[];
  /** Where the folder chooser starts besides the user's home. */
  startFolder: string;
  /** Folder of the built interface; without it only the API is served. */
  webFolder?: string;
  version: string;
  /** What pages must send to change something; made anew for each start when left out. */
  token?: string;
  /** `silent` for tests. */
  logLevel?: string;
}

/** In bytes: what a game sends at once over a socket. */
const LARGEST_MESSAGE = 8 * 1024 * 1024;
/** Far more than keys held down come to. */
const MOST_A_MINUTE = 30_000;

/** Builds the server without listening. @throws GlueError for folders that cannot be opened */
export async function createServer(options: ServerOptions): Promise<FastifyInstance> {
  const app = Fastify({
    logger: { level: options.logLevel ?? 'warn' },
    bodyLimit: 8 * 1024 * 1024,
    forceCloseConnections: true,
  });
  const token = options.token ?? newToken();
  refuseForeign(app, token);
  answerWithProblems(app);
  await app.register(helmet, {
    // Everything comes from here; the interface's framework sets styles in the page.
    contentSecurityPolicy: {
      directives: {
        defaultSrc: ["'self'"],
        styleSrc: ["'self'", "'unsafe-inline'"],
        scriptSrc: ["'self'"],
        imgSrc: ["'self'", 'data:'],
        upgradeInsecureRequests: null,
      },
    },
    strictTransportSecurity: false,
  });
  await app.register(rateLimit, { max: MOST_A_MINUTE, timeWindow: '1 minute' });
  await app.register(sse.default);
  await app.register(websocket, { options: { maxPayload: LARGEST_MESSAGE } });

  const store = openStore(options.storePath);
  try {
    store.beginServing(options.storePath);
  } catch (error) {
    store.close();
    throw error;
  }
  const play = openPlayStore(playPathOf(options.storePath));
  play.endAll();
  store.endLeftOver();
  for (const project of store.projects()) finishLeftOver(store, project, app.log);
  // What follows is done between requests: none of them waits for a scan that is being saved.
  store.neverWait();
  const scans = createScans(store, options.storePath, app.log);
  const watches = createWatches(scans, app.log);
  const aside = createAside(options.storePath, app.log);
  const given = options.folders.map(({ folder, planFile }) => ({ folder: realFolder(folder), planFile }));
  const context: Context = {
    store,
    scans,
    watches,
    aside,
    play,
    gate: createGate(
      given.map(({ folder }) => folder),
      options.startFolder,
    ),
    version: options.version,
  };

  app.get('/api/about', () => ({ version: options.version, starts: context.gate.starts }));
  projectRoutes(app, context);
  const changes = createChanges(app);
  const sight = createSight(context);
  const seen = createSeen(context);
  const owners = createOwners(context);
  const narrowed = createNarrowed(context, { sight, seen, owners });
  scanRoutes(app, context, sight, changes);
  readingRoutes(app, context);
  planRoutes(app, context);
  findingRoutes(app, context, { narrowed, seen, owners });
  waiverRoutes(app, context, narrowed);
  playRoutes(app, context);
  playLogRoutes(app, context, sight);
  reportRoutes(app, context, narrowed, sight);
  repairRoutes(app, context, narrowed);
  traceRoutes(app, context, sight);
  familyRoutes(app, context);
  if (options.webFolder && existsSync(options.webFolder)) await serveInterface(app, options.webFolder, token);

  for (const { folder, planFile } of given)
    await scans.start(await whenFree(() => store.addProject(folder, basename(folder), planFile ?? null)));
  const noteFault = (error: unknown): void => app.log.warn({ error }, 'the store does not know where it is served');
  app.addHook('onListen', (): void => {
    const [at] = app.addresses();
    if (typeof at === 'object') void whenFree(() => store.servesAt(`http://127.0.0.1:${at.port}`)).catch(noteFault);
  });
  app.addHook('onClose', async () => {
    await watches.close();
    await scans.close();
    await aside.close();
    await whenFree(() => store.endServing());
    store.close();
  });
  return app;
}

/** What a writing that was stopped left in a project; a folder that is gone is left for later. */
function finishLeftOver(store: Store, { id, folder, planFile }: ProjectRow, log: FastifyBaseLogger): void {
  try {
    clearLeftOver([dirname(planPath(folder, planFile ?? undefined))]);
    for (const title of recoverRepairs(store, id, folder)) log.warn({ folder, title }, 'a repair was found half done');
  } catch (error) {
    log.warn({ error, folder }, 'a repair that was stopped cannot be finished yet');
  }
}

/** Listens on this machine only. @returns the address; @throws GlueError `server/port-taken` */
export async function listen(app: FastifyInstance, port: number): Promise<string> {
  try {
    return await app.listen({ host: '127.0.0.1', port });
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === 'EADDRINUSE') {
      throw new GlueError(
        'server/port-taken',
        `Port ${port} is in use. Stop what uses it, or give another with --port.`,
      );
    }
    throw error;
  }
}
