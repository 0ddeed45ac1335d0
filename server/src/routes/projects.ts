import { existsSync } from 'node:fs';
import { basename } from 'node:path';
import { GlueError, itemAt } from '@glue-trace/core';
import type { FastifyInstance } from 'fastify';
import Joi from 'joi';
import { valid } from '../problems.js';
import type { ProjectView, ScanSummary } from '../api.js';
import { loadPlan } from '../scan/scan-folder.js';
import { proposePlan, writePlan } from '../scan/starter.js';
import type { ProjectRow, ScanRow } from '../store/store.js';
import { projectOf, type Context } from './context.js';

const openBody = Joi.object<{ folder: string }>({ folder: Joi.string().max(4096).required() });
const folderQuery = Joi.object<{ path?: string }>({ path: Joi.string().max(4096) });
const planBody = Joi.object<{ text: string }>({ text: Joi.string().max(4_000_000).required() });

export function projectRoutes(app: FastifyInstance, context: Context): void {
  const { store, scans, gate } = context;

  app.get('/api/projects', () => store.projects().map((project) => viewOf(context, project)));

  app.post('/api/projects', async (request, reply) => {
    const { folder } = valid(openBody, request.body);
    const real = gate.admit(folder);
    const project = store.addProject(real, basename(real) || real, null);
    if (planState(project).plan === 'ready') scans.start(project);
    return reply.status(201).send(viewOf(context, project));
  });

  app.get('/api/projects/:project', (request) => viewOf(context, projectOf(context, request.params)));

  app.delete('/api/projects/:project', async (request, reply) => {
    const project = projectOf(context, request.params);
    await scans.stop(project.id);
    store.forgetProject(project.id);
    return reply.status(204).send();
  });

  app.get('/api/projects/:project/starter-plan', (request) => ({
    text: proposePlan(projectOf(context, request.params).folder),
  }));

  app.post('/api/projects/:project/starter-plan', async (request, reply) => {
    const project = projectOf(context, request.params);
    const { text } = valid(planBody, request.body);
    const path = writePlan(project.folder, text);
    return reply.status(201).send({ path });
  });

  app.get('/api/folders', (request) => gate.list(valid(folderQuery, request.query).path));
}

function planState(project: ProjectRow): Pick<ProjectView, 'plan' | 'planError'> {
  try {
    loadPlan(project.folder, project.planFile ?? undefined);
    return { plan: 'ready', planError: null };
  } catch (error) {
    if (!(error instanceof GlueError)) throw error;
    const planError = { title: itemAt(error.message.split(': '), 0), detail: error.detail, mistakes: error.mistakes };
    if (error.code !== 'plan/missing') return { plan: 'broken', planError };
    return { plan: 'missing', planError };
  }
}

function viewOf({ store, scans }: Context, project: ProjectRow): ProjectView {
  const fresh = store.project(project.id) ?? project;
  const last = store.lastScan(project.id);
  const current = scans.progressOf(project.id);
  return {
    id: fresh.id,
    name: fresh.name,
    folder: fresh.folder,
    openedAt: fresh.openedAt,
    ...folderState(fresh),
    running: current ? { scanId: current.scanId, progress: current.progress } : null,
    lastScan: last ? withoutReadiness(last) : null,
    verdict: store.lastDoneScan(project.id)?.readiness?.verdict ?? null,
  };
}

function withoutReadiness({ readiness: _readiness, ...summary }: ScanRow): ScanSummary {
  return summary;
}

function folderState(project: ProjectRow): Pick<ProjectView, 'plan' | 'planError'> {
  const state = planState(project);
  if (state.plan === 'missing' && !existsSync(project.folder)) {
    return {
      plan: 'folder gone',
      planError: {
        title: 'The folder is gone',
        detail: `${project.folder} is not there any more. Put it back, or forget the project.`,
        mistakes: [],
      },
    };
  }
  return state;
}
