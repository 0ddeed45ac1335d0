import { createHash } from 'node:crypto';
import { existsSync } from 'node:fs';
import { GlueError } from '@glue-trace/core';
import type { FastifyInstance } from 'fastify';
import Joi from 'joi';
import type { PlanPage, TextPage } from '../api.js';
import { valid } from '../problems.js';
import { basesOf, builtInPlan, parsePlan, planPath, readPlanText } from '../scan/scan-folder.js';
import type { ProjectRow } from '../store/store.js';
import { writeWhole } from '../writing/write.js';
import { projectOf, type Context } from './context.js';
import { projectFile } from './project-file.js';

const planBody = Joi.object<{ text: string; hash: string }>({
  text: Joi.string().max(4_000_000).required(),
  hash: Joi.string().length(64).required(),
});
const fileQuery = Joi.object<{ file: string }>({ file: Joi.string().max(4096).required() });
/** Longer files are shown by their beginning. */
const LONGEST_TEXT = 400_000;

/** The plan and the files it is written for. */
export function planRoutes(app: FastifyInstance, context: Context): void {
  app.get('/api/projects/:project/plan', (request) => planPage(projectOf(context, request.params)));

  app.put('/api/projects/:project/plan', (request): PlanPage => {
    const project = projectOf(context, request.params);
    const { text, hash } = valid(planBody, request.body);
    const before = planPage(project);
    if (before.hash !== hash) {
      throw new GlueError(
        'plan/changed',
        `${before.path} is no longer as it was when you opened it. Load it again; your text stays here until you do.`,
      );
    }
    parsePlan(text, before.path);
    writeWhole(before.path, text);
    context.scans.start(project);
    return planPage(project);
  });

  app.get('/api/projects/:project/text', (request): TextPage => {
    const project = projectOf(context, request.params);
    const { file } = valid(fileQuery, request.query);
    const { content } = projectFile(context, project, file);
    return { path: file, text: content.text.slice(0, LONGEST_TEXT), isCut: content.text.length > LONGEST_TEXT };
  });
}

/** @throws GlueError `plan/missing` */
function planPage({ folder, planFile }: ProjectRow): PlanPage {
  const path = planPath(folder, planFile ?? undefined);
  const isBuiltIn = !existsSync(path);
  const text = isBuiltIn ? builtInPlan(folder) : readPlanText(path);
  if (text === undefined)
    throw new GlueError('plan/missing', `There is no plan in ${folder}. Projects offers one to start from.`);
  return { path, text, hash: createHash('sha256').update(text).digest('hex'), isBuiltIn, bases: basesOf(text, path) };
}
