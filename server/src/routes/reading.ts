import type { FastifyInstance } from 'fastify';
import Joi from 'joi';
import type { FilePage, ReadingPage } from '../api.js';
import { valid } from '../problems.js';
import { countsOf, coverageBy, endingOf, folderOf, STATUSES, sum } from '../scan/coverage.js';
import { doneScanOf, projectOf, type Context } from './context.js';

const filesQuery = Joi.object<{ status?: string[]; folder?: string; text?: string; offset: number; limit: number }>({
  status: Joi.array()
    .items(Joi.string().valid(...STATUSES))
    .single(),
  folder: Joi.string().max(4096),
  text: Joi.string().max(200).allow(''),
  offset: Joi.number().integer().min(0).default(0),
  limit: Joi.number().integer().min(1).max(500).default(200),
});

/** What was read of a project, and what was not. */
export function readingRoutes(app: FastifyInstance, context: Context): void {
  const { store } = context;

  app.get('/api/projects/:project/reading', (request): ReadingPage => {
    const scan = doneScanOf(context, projectOf(context, request.params));
    const files = store.fileStates(scan.id);
    return {
      total: countsOf(files),
      folders: coverageBy(files, folderOf),
      endings: coverageBy(files, endingOf).sort((a, b) => sum(b) - sum(a)),
      rules: store.rules(scan.id),
    };
  });

  app.get('/api/projects/:project/files', (request): FilePage => {
    const scan = doneScanOf(context, projectOf(context, request.params));
    return store.files(scan.id, valid(filesQuery, request.query));
  });
}
