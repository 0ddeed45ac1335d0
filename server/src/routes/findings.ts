import { createHash } from 'node:crypto';
import { CHECK_IDS, CHECKS, excerptOf, GlueError, SEVERITIES } from '@glue-trace/core';
import type { FastifyInstance } from 'fastify';
import Joi from 'joi';
import type { CheckView, ExcerptView, FindingPage, RepairTrial } from '../api.js';
import { valid } from '../problems.js';
import type { FindingFilter } from '../store/store.js';
import { doneScanOf, projectOf, type Context } from './context.js';
import { projectFile } from './project-file.js';

const listOf = (...words: readonly string[]): Joi.ArraySchema =>
  Joi.array()
    .items(Joi.string().valid(...words))
    .single();

const listQuery = Joi.object<FindingFilter>({
  severity: listOf(...SEVERITIES),
  check: listOf(...CHECK_IDS),
  folder: Joi.string().max(4096),
  text: Joi.string().max(200).allow(''),
  offset: Joi.number().integer().min(0).default(0),
  limit: Joi.number().integer().min(1).max(200).default(100),
});

const excerptQuery = Joi.object<{
  file: string;
  line: number;
  column: number;
  endLine: number;
  endColumn: number;
  around: number;
}>({
  file: Joi.string().max(4096).required(),
  line: Joi.number().integer().min(1).required(),
  column: Joi.number().integer().min(1).default(1),
  endLine: Joi.number().integer().min(1).default(Joi.ref('line')),
  endColumn: Joi.number().integer().min(1).default(1),
  around: Joi.number().integer().min(0).max(20).default(2),
});

export function findingRoutes(app: FastifyInstance, context: Context): void {
  const { store } = context;

  app.get('/api/checks', (): CheckView[] =>
    CHECKS.map(({ id, title, severity, why, decides }) => ({ id, title, severity, why, decides })),
  );

  app.get('/api/projects/:project/findings', (request): FindingPage => {
    const project = projectOf(context, request.params);
    const filter = valid(listQuery, request.query);
    const scan = doneScanOf(context, project);
    return { scanId: scan.id, offset: filter.offset, ...store.findings(scan.id, filter) };
  });

  app.get('/api/projects/:project/findings/:fingerprint', (request) => {
    const project = projectOf(context, request.params);
    const { fingerprint } = request.params as { fingerprint: string };
    const scan = doneScanOf(context, project);
    const finding = store.finding(scan.id, fingerprint);
    if (!finding)
      throw new GlueError('finding/unknown', 'The last scan has no such finding; it may have been repaired.');
    return finding;
  });

  app.get('/api/projects/:project/findings/:fingerprint/trial', async (request): Promise<{ trials: RepairTrial[] }> => {
    const project = projectOf(context, request.params);
    const { fingerprint } = request.params as { fingerprint: string };
    return { trials: await context.scans.ask(project, { ask: 'trial', finding: fingerprint }) };
  });

  app.get('/api/projects/:project/excerpt', (request): ExcerptView => {
    const project = projectOf(context, request.params);
    const { file, around, ...range } = valid(excerptQuery, request.query);
    const { entry, content } = projectFile(context, project, file);
    const isChanged = entry.hash !== '' && createHash('sha256').update(content.bytes).digest('hex') !== entry.hash;
    return { ...excerptOf(file, content.text, range, around), isChanged };
  });
}
