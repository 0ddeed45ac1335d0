import { GlueError, TWIN_KINDS, type TwinFilter } from '@glue-trace/core';
import type { FastifyInstance } from 'fastify';
import Joi from 'joi';
import type { FamiliesPage, FamilyGrid, TwinsPage } from '../api.js';
import { valid } from '../problems.js';
import { projectOf, type Context } from './context.js';

const familyQuery = Joi.object<{ piece: string }>({ piece: Joi.string().max(8192).required() });

const twinsQuery = Joi.object<TwinFilter>({
  text: Joi.string().max(200).allow(''),
  kind: Joi.valid(...TWIN_KINDS),
  order: Joi.valid('saves'),
  limit: Joi.number().integer().min(1).max(5000).default(200),
  group: Joi.string().hex().max(64),
});

/** Families, and what is written more than once: both are told by the thread that holds the linked world. */
export function familyRoutes(app: FastifyInstance, context: Context): void {
  app.get('/api/projects/:project/families', async (request): Promise<FamiliesPage> => {
    const project = projectOf(context, request.params);
    return { families: await context.scans.ask(project, { ask: 'families' }) };
  });

  app.get('/api/projects/:project/family', async (request): Promise<FamilyGrid> => {
    const project = projectOf(context, request.params);
    const { piece } = valid(familyQuery, request.query);
    const family = await context.scans.ask(project, { ask: 'family', piece });
    if (!family) throw new GlueError('piece/unknown', 'The map has no family of that name. Choose one from the list.');
    return family;
  });

  app.get('/api/projects/:project/twins', async (request): Promise<TwinsPage> => {
    const project = projectOf(context, request.params);
    return context.scans.ask(project, { ask: 'twins', filter: valid(twinsQuery, request.query) });
  });

  /** All of them as a list of tasks. */
  app.get('/api/projects/:project/twins.md', async (request, reply) => {
    const project = projectOf(context, request.params);
    const tasks = await context.scans.ask(project, { ask: 'twin tasks', name: project.name });
    return reply
      .type('text/markdown; charset=utf-8')
      .header('content-disposition', 'attachment; filename="twins.md"')
      .send(tasks);
  });
}
