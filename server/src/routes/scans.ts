import { must } from '@glue-trace/core';
import type { FastifyInstance } from 'fastify';
import type { ReadinessPage, ScanEvent, Watching } from '../api.js';
import { THOROUGH } from '../scan/scans.js';
import { doneScanOf, projectOf, type Context } from './context.js';

export function scanRoutes(app: FastifyInstance, context: Context): void {
  const { store, scans, watches } = context;

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
    const waiting: ({ event: 'scan'; data: ScanEvent } | { event: 'watching'; data: Watching })[] = [];
    const tell = (event: (typeof waiting)[number]): void => {
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
    request.raw.on('close', () => {
      isOpen = false;
      off();
      release();
      wake();
    });
    async function* events(): AsyncGenerator<{ event: string; data: ScanEvent | Watching | null }> {
      // Something is said at once, so that the listener knows it is heard.
      yield { event: 'hello', data: null };
      while (isOpen) {
        for (let told = waiting.shift(); told; told = waiting.shift()) yield told;
        await new Promise<void>((resolve) => (wake = resolve));
      }
    }
    await reply.sse.send(events());
  });

  app.get('/api/projects/:project/readiness', (request): ReadinessPage => {
    const project = projectOf(context, request.params);
    const scan = doneScanOf(context, project);
    const history = store.doneScans(project.id, 20);
    const files = store.fileStates(scan.id);
    return {
      scan: { id: scan.id, startedAt: scan.startedAt, milliseconds: scan.milliseconds, reused: scan.reused },
      readiness: must(scan.readiness),
      blockers: store.findings(scan.id, { severity: ['error'], offset: 0, limit: 6 }).rows,
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
