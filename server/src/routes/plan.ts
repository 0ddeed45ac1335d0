import {
  GlueError,
  languageOf,
  type CodeDesk,
  type Decisions,
  type PlanTrial,
  type PointedCodeView,
  type Preview,
  type SaidInCode,
  type WrittenRule,
} from '@glue-trace/core';
import type { FastifyInstance } from 'fastify';
import Joi from 'joi';
import type { LearnedPage, PlanPage, TextPage } from '../api.js';
import type { LearnedAgain } from '../plans/learn-again.js';
import type { LearnedFolder } from '../plans/learn-plan.js';
import { valid } from '../problems.js';
import type { ProjectRow } from '../store/store.js';
import { doneScanOf, projectOf, type Context } from './context.js';
import { projectFile } from './project-file.js';

const planText = Joi.string().max(4_000_000).required();
const planBody = Joi.object<{ text: string; hash: string }>({
  text: planText,
  hash: Joi.string().length(64).required(),
});
const keys = Joi.array().items(Joi.string().max(1000)).max(20_000).default([]);
const share = Joi.number().min(0).max(1).required();
const count = Joi.number().integer().min(0).required();
const decisionsBody = Joi.object<Decisions & { hash: string }>({
  take: keys,
  refuse: keys,
  // What a rule may hold is checked with the plan that it stands in.
  put: Joi.array()
    .items(
      Joi.object({
        key: Joi.string().max(1000).required(),
        rule: Joi.object().unknown().required(),
        inner: Joi.object().pattern(Joi.string().max(1000), Joi.object({ sure: share, of: count, leads: count })),
      }),
    )
    .max(1000)
    .default([]),
  hash: Joi.string().length(64).required(),
});
const desk = {
  plan: planText,
  bases: Joi.object().pattern(Joi.string().max(1000), Joi.string().allow('').max(4_000_000)).default({}),
  file: Joi.string().max(4096).required(),
};
type DeskBody = Pick<CodeDesk, 'plan' | 'bases'> & { file: string };
const offset = Joi.number().integer().min(0).required();
const few = Joi.number().integer().min(0).max(1000).default(0);
const deskBody = Joi.object<DeskBody>(desk);
const pointBody = Joi.object<DeskBody & { offset: number }>({ ...desk, offset });
const sayBody = Joi.object<DeskBody & { said: SaidInCode }>({
  ...desk,
  said: Joi.object({ offset, around: few, form: few, saying: Joi.string().max(200).required() }).required(),
});
const trialBody = Joi.object<{ plan: string; rule?: string }>({ plan: planText, rule: Joi.string().max(2000) });
const fileQuery = Joi.object<{ file: string }>({ file: Joi.string().max(4096).required() });
/** Learning reads all files of a project, as a scan does: large ones take a while. */
const LEARNING_SECONDS = 600;
/** Longer files are shown by their beginning. */
const LONGEST_TEXT = 400_000;

/** The plan and the files it is written for. */
export function planRoutes(app: FastifyInstance, context: Context): void {
  const { aside } = context;

  // What was learned for the page that was shown last: decisions on it need no learning anew.
  let shown: { project: number; page: LearnedPage; again?: LearnedAgain } | undefined;
  const againFor = ({ id }: ProjectRow): { again?: LearnedAgain } =>
    shown?.project === id && shown.again ? { again: shown.again } : {};
  const show = async (project: ProjectRow, again = againFor(project)): Promise<LearnedPage> => {
    const learned = await learnedBy(project);
    const page = await aside.reading('learned page', { project, ...again, ...learned }, LEARNING_SECONDS);
    shown = { project: project.id, page, ...again };
    return page;
  };
  /** What the map was read by, where there is no plan: it need not be learned once more. */
  const learnedBy = async (project: ProjectRow): Promise<{ learned?: LearnedFolder }> => {
    const { plan } = await aside.reading('plan state', project);
    if (plan !== 'learned' || !context.scans.mapOf(project.id)) return {};
    const learned = await context.scans.ask(project, { ask: 'learned' });
    return learned ? { learned } : {};
  };
  const shownFor = ({ id }: ProjectRow): { shown?: LearnedPage } =>
    shown?.project === id ? { shown: shown.page } : {};

  app.get('/api/projects/:project/plan', async (request) => {
    const project = projectOf(context, request.params);
    const { plan } = await aside.reading('plan state', project);
    if (plan === 'learned' && !shownFor(project).shown) await show(project);
    return aside.reading('plan page', { project, ...shownFor(project) });
  });

  app.put('/api/projects/:project/plan', async (request): Promise<PlanPage> => {
    const project = projectOf(context, request.params);
    const page = await aside.writing('save plan', { project, ...shownFor(project), ...valid(planBody, request.body) });
    await context.scans.start(project);
    return page;
  });

  app.get('/api/projects/:project/learned', (request): Promise<LearnedPage> =>
    show(projectOf(context, request.params)),
  );

  app.post('/api/projects/:project/learned/again', async (request): Promise<LearnedPage> => {
    const project = projectOf(context, request.params);
    return show(project, { again: await context.scans.ask(project, { ask: 'learn again' }) });
  });

  app.post('/api/projects/:project/learned', async (request): Promise<LearnedPage> => {
    const project = projectOf(context, request.params);
    const body = valid(decisionsBody, request.body);
    const again = againFor(project);
    const page = await aside.writing('decide learned', { project, ...shownFor(project), ...again, ...body });
    shown = { project: project.id, page, ...again };
    await context.scans.start(project);
    return page;
  });

  app.get('/api/projects/:project/text', (request): TextPage => {
    const project = projectOf(context, request.params);
    const { file } = valid(fileQuery, request.query);
    const text = textOf(project, file);
    const language = languageOf(file);
    const page = { path: file, text: text.slice(0, LONGEST_TEXT), isCut: text.length > LONGEST_TEXT };
    return { ...page, ...(language && { language }) };
  });

  const textOf = (project: ProjectRow, file: string): string => projectFile(context, project, file).content.text;

  /** A script as it is shown, beside a plan that is being written. @throws GlueError `request/invalid` for other files */
  const deskOf = (project: ProjectRow, { file, ...plan }: DeskBody): CodeDesk => {
    const language = languageOf(file);
    if (!language) throw new GlueError('request/invalid', `“${file}” is no script.`);
    return { ...plan, path: file, text: textOf(project, file).slice(0, LONGEST_TEXT), language };
  };

  app.post('/api/projects/:project/plan/code', (request): Promise<Preview> => {
    const project = projectOf(context, request.params);
    return aside.reading('preview code', deskOf(project, valid(deskBody, request.body)));
  });

  app.post('/api/projects/:project/plan/point', (request): Promise<PointedCodeView[]> => {
    const project = projectOf(context, request.params);
    const { offset, ...desk } = valid(pointBody, request.body);
    return aside.reading('point in code', { ...deskOf(project, desk), offset });
  });

  app.post('/api/projects/:project/plan/say', (request): Promise<WrittenRule> => {
    const project = projectOf(context, request.params);
    const { said, ...desk } = valid(sayBody, request.body);
    const paths = context.store.fileStates(doneScanOf(context, project).id).map(({ path }) => path);
    return aside.reading('say in code', { ...deskOf(project, desk), said, paths });
  });

  app.post('/api/projects/:project/plan/trial', (request): Promise<PlanTrial> => {
    const project = projectOf(context, request.params);
    const { plan: text, rule } = valid(trialBody, request.body);
    return context.scans.ask(project, { ask: 'plan trial', text, rule });
  });
}
