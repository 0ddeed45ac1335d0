import { GlueError, TWIN_KINDS, type TwinFilter } from '@glue-trace/core';
import type { FastifyInstance } from 'fastify';
import Joi from 'joi';
import type { FamiliesPage, FamilyGrid, TwinsPage } from '../api.js';
import { valid } from '../problems.js';
import { mapOf, projectOf, type Context } from './context.js';

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
    await mapOf(context, project);
    const answer = await context.scans.ask(project.id, { piece: '', view: 'families' });
    return { isKnown: answer !== null, families: answer?.families ?? [] };
  });

  app.get('/api/projects/:project/family', async (request): Promise<FamilyGrid> => {
    const project = projectOf(context, request.params);
    const { piece } = valid(familyQuery, request.query);
    await mapOf(context, project);
    const answer = await context.scans.ask(project.id, { piece, view: 'family' });
    if (!answer?.family)
      throw new GlueError(
        'piece/unknown',
        'The map has no family of that name. Scan again, or choose one from the list.',
      );
    return answer.family;
  });

  app.get('/api/projects/:project/twins', async (request): Promise<TwinsPage> => {
    const project = projectOf(context, request.params);
    const twins = valid(twinsQuery, request.query);
    await mapOf(context, project);
    const answer = await context.scans.ask(project.id, { piece: '', view: 'twins', twins });
    return { isKnown: answer !== null, ...(answer?.twins ?? { all: 0, total: 0, groups: [] }) };
  });

  /** All of them as a list of tasks. */
  app.get('/api/projects/:project/twins.md', async (request, reply) => {
    const project = projectOf(context, request.params);
    await mapOf(context, project);
    const answer = await context.scans.ask(project.id, { piece: '', view: 'twin tasks', name: project.name });
    if (answer?.tasks === undefined) throw new GlueError('scan/none', 'The map that can tell is gone. Scan again.');
    return reply
      .type('text/markdown; charset=utf-8')
      .header('content-disposition', 'attachment; filename="twins.md"')
      .send(answer.tasks);
  });
}
