import { basename } from 'node:path';
import { ERRORS, GlueError } from '@glue-trace/core';
import type { FastifyInstance } from 'fastify';
import Joi from 'joi';
import { valid } from '../problems.js';
import type { ProjectView, ScanSummary } from '../api.js';
import type { PlanState } from '../aside/work.js';
import { whenFree } from '../store/when-free.js';
import type { ProjectRow, ScanRow } from '../store/store.js';
import { projectOf, type Context } from './context.js';

const openBody = Joi.object<{ folder: string }>({ folder: Joi.string().max(4096).required() });
const folderQuery = Joi.object<{ path?: string }>({ path: Joi.string().max(4096) });

export function projectRoutes(app: FastifyInstance, context: Context): void {
  const { store, scans, gate } = context;

  app.get('/api/projects', () => Promise.all(store.projects().map((project) => viewOf(context, project))));

  app.post('/api/projects', async (request, reply) => {
    const { folder } = valid(openBody, request.body);
    const real = gate.admit(folder);
    const project = await whenFree(() => store.addProject(real, basename(real) || real, null));
    const { plan } = await planStateOf(context, project);
    if (plan === 'ready' || plan === 'learned') await scans.start(project);
    return reply.status(201).send(await viewOf(context, project));
  });

  app.get('/api/projects/:project', (request) => viewOf(context, projectOf(context, request.params)));

  app.delete('/api/projects/:project', async (request, reply) => {
    const project = projectOf(context, request.params);
    await scans.forget(project.id);
    await whenFree(() => store.forgetProject(project.id));
    return reply.status(204).send();
  });

  app.get('/api/folders', (request) => gate.list(valid(folderQuery, request.query).path));
}

async function viewOf(context: Context, project: ProjectRow): Promise<ProjectView> {
  const plan = await planStateOf(context, project);
  const { store, scans } = context;
  const fresh = store.project(project.id) ?? project;
  const last = store.lastScan(project.id);
  const current = scans.progressOf(project.id);
  return {
    id: fresh.id,
    name: fresh.name,
    folder: fresh.folder,
    openedAt: fresh.openedAt,
    ...plan,
    running: current ? { scanId: current.scanId, progress: current.progress } : null,
    lastScan: last ? withoutReadiness(last) : null,
    verdict: store.lastDoneScan(project.id)?.readiness?.verdict ?? null,
  };
}

/** A project whose plan cannot be read in time is told with that reason, like one whose plan is wrong. */
async function planStateOf({ aside }: Context, project: ProjectRow): Promise<PlanState> {
  try {
    return await aside.reading('plan state', project);
  } catch (error) {
    if (!(error instanceof GlueError)) throw error;
    const { code, detail } = error;
    return { plan: 'broken', planError: { title: ERRORS[code].title, detail, mistakes: [] } };
  }
}

function withoutReadiness({ readiness: _readiness, ...summary }: ScanRow): ScanSummary {
  return summary;
}
