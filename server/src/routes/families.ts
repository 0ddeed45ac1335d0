import { GlueError, twinTasks } from '@glue-trace/core';
import type { FastifyInstance } from 'fastify';
import Joi from 'joi';
import type { FamiliesPage, FamilyGrid, TwinsPage } from '../api.js';
import { valid } from '../problems.js';
import { mapOf, projectOf, type Context } from './context.js';

const familyQuery = Joi.object<{ piece: string }>({ piece: Joi.string().max(8192).required() });

/** Families, and what is written more than once: both are told by the thread that holds the linked world. */
export function familyRoutes(app: FastifyInstance, context: Context): void {
  const twinsOf = async (params: unknown): Promise<TwinsPage & { name: string }> => {
    const project = projectOf(context, params);
    await mapOf(context, project);
    const answer = await context.scans.ask(project.id, { piece: '', view: 'twins' });
    return { name: project.name, isKnown: answer !== null, groups: answer?.twins ?? [] };
  };

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
    const { isKnown, groups } = await twinsOf(request.params);
    return { isKnown, groups };
  });

  /** The same as a list of tasks. */
  app.get('/api/projects/:project/twins.md', async (request, reply) => {
    const { name, groups } = await twinsOf(request.params);
    const tasks = twinTasks(
      name,
      groups.map((group) => ({ ...group, places: group.places.map((place) => ({ ...place, piece: -1 })) })),
    );
    return reply
      .type('text/markdown; charset=utf-8')
      .header('content-disposition', 'attachment; filename="twins.md"')
      .send(tasks);
  });
}
