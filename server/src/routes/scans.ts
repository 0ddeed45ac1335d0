import { GlueError, must, readinessOf, sinceThen, type Remembered } from '@glue-trace/core';
import type { FastifyInstance } from 'fastify';
import Joi from 'joi';
import type { ComparisonView, ProjectChange, ReadinessPage, ScanEvent, ScanView, Watching } from '../api.js';
import { rememberedIn } from '../decisions/before.js';
import { valid } from '../problems.js';
import { THOROUGH } from '../scan/scans.js';
import type { ProjectRow } from '../store/store.js';
import { TOLD, type Changes } from './changes.js';
import { doneScanOf, projectOf, type Context } from './context.js';
import { whenFree } from '../store/when-free.js';
import { countedOwners } from './owners.js';
import type { Sight } from './play-routes.js';

const readinessQuery = Joi.object<{ route?: string }>({ route: Joi.string().max(4096) });
const scanParams = Joi.object<{ scan: number }>({ scan: Joi.number().integer().positive().required() }).unknown();
const noteBody = Joi.object<{ note: string }>({ note: Joi.string().trim().max(500).allow('').required() });
const compareQuery = Joi.object<{ from: string; to?: number }>({
  from: Joi.string().max(300).required(),
  to: Joi.number().integer().positive(),
});
/** Findings of which it is asked who touched their lines. */
const MOST_TOUCHED = 500;
/** Scans that the history shows. */
const MOST_SHOWN = 100;

/** What listeners of a project hear. */
type Told =
  { event: 'scan'; data: ScanEvent } | { event: 'watching'; data: Watching } | { event: 'change'; data: ProjectChange };

export function scanRoutes(app: FastifyInstance, context: Context, sight: Sight, changes: Changes): void {
  const { store, scans, watches } = context;

  const history = (project: ProjectRow): ScanView[] =>
    store
      .doneScans(project.id, MOST_SHOWN)
      .map(({ id, startedAt, milliseconds, note, seenAt, readiness, touched }) => ({
        ...{ id, startedAt, milliseconds, note, isSeen: seenAt !== null },
        bySeverity: readiness?.bySeverity,
        byFamily: readiness?.byFamily ?? [],
        byFolder: store.byFolder(id),
        byWho: touched,
        waived: readiness?.waived ?? 0,
        pieces: readiness?.pieces ?? 0,
        links: readiness?.links ?? 0,
      }));

  app.post('/api/projects/:project/scans', async (request, reply) => {
    const project = projectOf(context, request.params);
    return reply.status(202).send(await scans.start(project, THOROUGH));
  });

  app.delete('/api/projects/:project/scans/running', async (request, reply) => {
    await scans.stop(projectOf(context, request.params).id);
    return reply.status(204).send();
  });

  /** Progress of scans as they go, and when changes of files begin to be seen, until the client leaves. */
  app.get('/api/projects/:project/progress', { sse: 'only' }, async (request, reply) => {
    const project = projectOf(context, request.params);
    const waiting: Told[] = [];
    const tell = (event: Told): void => {
      waiting.push(event);
      wake();
    };
    let wake: () => void = () => undefined;
    let isOpen = true;
    const current = scans.progressOf(project.id);
    if (current) tell({ event: 'scan', data: { is: 'progress', scanId: current.scanId, progress: current.progress } });
    const { release, ready } = watches.hold(project);
    void ready.then((data) => tell({ event: 'watching', data }));
    const off = scans.listen(project.id, (data) => tell({ event: 'scan', data }));
    const offChanges = changes.listen(project.id, (data) => tell({ event: 'change', data }));
    request.raw.on('close', () => {
      isOpen = false;
      off();
      offChanges();
      release();
      wake();
    });
    async function* events(): AsyncGenerator<Told | { event: 'hello'; data: null }> {
      // Something is said at once, so that the listener knows it is heard.
      yield { event: 'hello', data: null };
      while (isOpen) {
        for (let told = waiting.shift(); told; told = waiting.shift()) yield told;
        await new Promise<void>((resolve) => (wake = resolve));
      }
    }
    await reply.sse.send(events());
  });

  /** All finished scans that are kept, newest first. */
  app.get('/api/projects/:project/scans', (request): ScanView[] => history(projectOf(context, request.params)));

  /** Asks the version history who last touched the lines of what the last scan found, and keeps that with the scan. */
  app.post('/api/projects/:project/scans/touched', TOLD, async (request): Promise<ScanView[]> => {
    const project = projectOf(context, request.params);
    const scan = doneScanOf(context, project);
    const open = (rememberedIn(store, project.id, scan.id) ?? []).filter(({ isWaived }) => isWaived !== true);
    const touched = await touchedBy(project, open);
    await whenFree(() => store.keepTouched(scan.id, touched));
    return history(project);
  });

  /** Somebody looks at the last scan: what comes later is measured against it. */
  app.post('/api/projects/:project/scans/seen', async (request, reply) => {
    const scan = doneScanOf(context, projectOf(context, request.params));
    await whenFree(() => store.seeScan(scan.id));
    return reply.status(204).send();
  });

  app.put('/api/projects/:project/scans/:scan', TOLD, async (request, reply) => {
    const project = projectOf(context, request.params);
    const { scan } = valid(scanParams, request.params);
    const { note } = valid(noteBody, request.body);
    if (!store.doneScan(project.id, scan)) throw unknownScan(String(scan));
    await whenFree(() => store.noteScan(scan, note));
    return reply.status(204).send();
  });

  /** Two scans beside each other, or the last one and a revision in the version history. */
  app.get('/api/projects/:project/comparison', async (request): Promise<ComparisonView> => {
    const project = projectOf(context, request.params);
    const last = doneScanOf(context, project).id;
    const { from, to = last } = valid(compareQuery, request.query);
    const now = rememberedIn(store, project.id, to);
    if (!now) throw unknownScan(String(to));
    const number = /^scan:(\d+)$/.exec(from)?.[1];
    const before = number === undefined ? undefined : rememberedIn(store, project.id, Number(number));
    if (number !== undefined && !before) throw unknownScan(number);
    const revision = before ? undefined : await scans.ask(project, { ask: 'revision', revision: from, to });
    const earlier = before && store.doneScan(project.id, Number(number));
    const map = earlier ? await scans.ask(project, { ask: 'map change', from: earlier.id, to }) : revision?.change;
    const { appeared, gone, moved, same, waived } = sinceThen(now, before ?? revision?.findings ?? []);
    return {
      from: before ? `scan ${number ?? ''}` : from,
      to: `scan ${to}`,
      appeared,
      gone,
      moved,
      same: same.length,
      waived: waived.length,
      ...(map && { map }),
      isOtherPlan: earlier !== undefined && store.doneScan(project.id, to)?.plan !== earlier.plan,
      // The lines are those of today's files.
      touched: to === last ? await touchedBy(project, appeared) : [],
    };
  });

  /** Who last touched what was found, most first. */
  const touchedBy = async (project: ProjectRow, found: readonly Remembered[]): Promise<ComparisonView['touched']> => {
    if (found.length === 0) return [];
    const places = found.slice(0, MOST_TOUCHED).map(({ file, line }) => ({ file, line }));
    return countedOwners(await scans.ask(project, { ask: 'touched', places }));
  };

  app.get('/api/projects/:project/readiness', async (request): Promise<ReadinessPage> => {
    const project = projectOf(context, request.params);
    const { route } = valid(readinessQuery, request.query);
    const scan = doneScanOf(context, project);
    const onRoute = route === undefined ? undefined : await sight(project, route);
    const whole = must(scan.readiness);
    const readiness = onRoute
      ? readinessOf(onRoute.graph, store.chosenFindings(scan.id, { among: onRoute.positions, waived: 'with' }), {
          route: onRoute.reached.pieces,
          starts: whole.starts,
          known: whole.known,
        })
      : whole;
    const history = store.doneScans(project.id, 20);
    const files = store.fileStates(scan.id);
    return {
      scan: { id: scan.id, startedAt: scan.startedAt, milliseconds: scan.milliseconds, reused: scan.reused },
      readiness,
      ...(onRoute && {
        route: { off: onRoute.off, unknown: onRoute.reached.unknown, pieces: onRoute.graph.pieceCount },
      }),
      idleWaivers: scan.idleWaivers.length,
      blockers: store.findings(scan.id, {
        severity: ['error'],
        offset: 0,
        limit: 6,
        ...(onRoute && { among: onRoute.positions }),
      }).rows,
      change: store.changeOf(project.id, scan.id),
      history: history
        .reverse()
        .map((one) => ({ id: one.id, startedAt: one.startedAt, bySeverity: one.readiness?.bySeverity })),
      files: {
        all: files.length,
        read: files.filter((file) => file.status === 'read').length,
        listed: files.filter((file) => file.status === 'listed' && !file.reason).length,
        troubled: files
          .filter((file) => file.reason)
          .slice(0, 50)
          .map(({ path, status, reason }) => ({ path, status, reason })),
        troubledCount: files.filter((file) => file.reason).length,
      },
    };
  });
}

const unknownScan = (scan: string): GlueError =>
  new GlueError('scan/unknown', `There is no finished scan ${scan} of this project; only the newest are kept.`);
