import { GlueError, type FindingView, itemAt, must } from '@glue-trace/core';
import type { FastifyInstance } from 'fastify';
import Joi from 'joi';
import type { RepairPreview, RepairRequest, RepairView, Shown, SureRepairs } from '../api.js';
import { valid } from '../problems.js';
import { patchOf, type PlannedRepair, type Wanted } from '../repairs/plan-repair.js';
import { withOtherNames } from '../writing/write.js';
import type { ProjectRow, RepairRow } from '../store/store.js';
import { doneScanOf, projectOf, type Context } from './context.js';
import { filterKeys, knownFinding, type Narrowed } from './findings.js';

const body = Joi.object<RepairRequest>({
  findings: Joi.array()
    .items(
      Joi.object({
        fingerprint: Joi.string().max(64).required(),
        repair: Joi.number().integer().min(0).max(100).required(),
      }),
    )
    .min(1)
    .max(5000)
    .required(),
});
const shownBody = Joi.object<{ shown: Shown }>({ shown: Joi.object(filterKeys).required() });
const undoParams = Joi.object<{ repair: number }>({ repair: Joi.number().integer().positive().required() });

/** Repairs: what they come to, writing them, and taking them back. */
export function repairRoutes(app: FastifyInstance, context: Context, narrowed: Narrowed): void {
  const { store, scans, aside } = context;

  app.post('/api/projects/:project/repairs/preview', async (request): Promise<RepairPreview> => {
    const project = projectOf(context, request.params);
    const { title, planned } = await plan(context, project, valid(body, request.body));
    return {
      title,
      patch: patchOf(planned),
      files: planned.files.map(({ file }) => file),
      count: planned.taken.length,
      left: planned.left,
      notes: notesOn(project.folder, planned),
    };
  });

  /** The sure repairs of all findings that are shown, to be looked at together. */
  app.post('/api/projects/:project/repairs/sure', async (request): Promise<SureRepairs> => {
    const project = projectOf(context, request.params);
    const { shown } = valid(shownBody, request.body);
    const scan = doneScanOf(context, project);
    const chosen = store.chosenFindings(scan.id, await narrowed(project, scan, shown));
    return scans.ask(project, { ask: 'sure repairs', findings: chosen.map(({ fingerprint }) => fingerprint) });
  });

  app.post('/api/projects/:project/repairs', async (request, reply) => {
    const project = projectOf(context, request.params);
    const { title, planned } = await plan(context, project, valid(body, request.body));
    const id = await aside.writing('write repair', { project, title, planned });
    await scans.start(project);
    return reply.status(201).send(view(must(store.repair(project.id, id))));
  });

  app.get('/api/projects/:project/repairs', (request): RepairView[] =>
    store.repairs(projectOf(context, request.params).id).map(view),
  );

  app.delete('/api/projects/:project/repairs/:repair', async (request): Promise<RepairView> => {
    const project = projectOf(context, request.params);
    const { repair: id } = valid(undoParams.unknown(), request.params);
    await aside.writing('undo repair', { project, repair: id });
    await scans.start(project);
    return view(must(store.repair(project.id, id)));
  });
}

/** What a preview cannot show in the patch. */
function notesOn(folder: string, { files }: PlannedRepair): string[] {
  return withOtherNames(
    folder,
    files.map(({ file }) => file),
  ).map((file) => `${file} stands under other names as well (hard links): these keep what it holds now.`);
}

function view({ id, writtenAt, title, files, undoneAt }: RepairRow): RepairView {
  return { id, writtenAt, title, files: files.map(({ file }) => file), isUndone: undoneAt !== null };
}

/** @throws GlueError `finding/unknown`, `repair/unknown`, and what planning it throws */
async function plan(
  context: Context,
  project: ProjectRow,
  { findings }: RepairRequest,
): Promise<{ title: string; planned: PlannedRepair }> {
  const { store, aside } = context;
  const scan = doneScanOf(context, project);
  const wanted = findings.map(({ fingerprint, repair }) => {
    return wantedOf(knownFinding(context, scan, fingerprint), repair);
  });
  const touched = new Set(wanted.flatMap(({ changes }) => changes.map(({ file }) => file)));
  const hashes = new Map([...touched].map((file) => [file, store.file(scan.id, file)?.hash]));
  const planned = await aside.reading('plan repair', { project, wanted, hashes });
  const first = itemAt(wanted, 0);
  const title = wanted.length === 1 ? first.name : `${first.name}, and ${wanted.length - 1} more`;
  return { title, planned };
}

/** One repair of a finding by its place in the list. */
function wantedOf({ repairs, text }: FindingView, at: number): Wanted {
  const repair = repairs[at];
  if (!repair?.changes)
    throw new GlueError('repair/unknown', `“${text}” has no such repair that can be written by itself.`);
  return { name: `${repair.title}: ${text}`, changes: repair.changes, oneOf: repair.oneOf };
}
