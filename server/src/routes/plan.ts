import type { Decisions } from '@glue-trace/core';
import type { FastifyInstance } from 'fastify';
import Joi from 'joi';
import type { LearnedPage, PlanPage, TextPage } from '../api.js';
import { valid } from '../problems.js';
import { projectOf, type Context } from './context.js';
import { projectFile } from './project-file.js';

const planBody = Joi.object<{ text: string; hash: string }>({
  text: Joi.string().max(4_000_000).required(),
  hash: Joi.string().length(64).required(),
});
const keys = Joi.array().items(Joi.string().max(1000)).max(20_000).default([]);
const decisionsBody = Joi.object<Decisions & { hash: string }>({
  take: keys,
  refuse: keys,
  // What a rule may hold is checked with the plan that it stands in.
  put: Joi.array()
    .items(Joi.object({ key: Joi.string().max(1000).required(), rule: Joi.object().unknown().required() }))
    .max(100)
    .default([]),
  hash: Joi.string().length(64).required(),
});
const fileQuery = Joi.object<{ file: string }>({ file: Joi.string().max(4096).required() });
/** Learning reads all files of a project, as a scan does: large ones take a while. */
const LEARNING_SECONDS = 600;
/** Longer files are shown by their beginning. */
const LONGEST_TEXT = 400_000;

/** The plan and the files it is written for. */
export function planRoutes(app: FastifyInstance, context: Context): void {
  const { aside } = context;

  app.get('/api/projects/:project/plan', (request) => aside.reading('plan page', projectOf(context, request.params)));

  app.put('/api/projects/:project/plan', async (request): Promise<PlanPage> => {
    const project = projectOf(context, request.params);
    const page = await aside.writing('save plan', { project, ...valid(planBody, request.body) });
    await context.scans.start(project);
    return page;
  });

  // What was learned for the page that was shown last: decisions on it need no learning anew.
  let shown: { project: number; page: LearnedPage } | undefined;

  app.get('/api/projects/:project/learned', async (request): Promise<LearnedPage> => {
    const project = projectOf(context, request.params);
    const page = await aside.reading('learned page', { project }, LEARNING_SECONDS);
    shown = { project: project.id, page };
    return page;
  });

  app.post('/api/projects/:project/learned', async (request): Promise<LearnedPage> => {
    const project = projectOf(context, request.params);
    const body = valid(decisionsBody, request.body);
    const page = await aside.writing('decide learned', {
      project,
      ...(shown?.project === project.id && { shown: shown.page }),
      ...body,
    });
    shown = { project: project.id, page };
    await context.scans.start(project);
    return page;
  });

  app.get('/api/projects/:project/text', (request): TextPage => {
    const project = projectOf(context, request.params);
    const { file } = valid(fileQuery, request.query);
    const { content } = projectFile(context, project, file);
    return { path: file, text: content.text.slice(0, LONGEST_TEXT), isCut: content.text.length > LONGEST_TEXT };
  });
}
