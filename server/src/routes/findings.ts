import { createHash } from 'node:crypto';
import {
  CHECK_IDS,
  CHECKS,
  excerptOf,
  findingsIn,
  GlueError,
  SEVERITIES,
  type FindingView,
  type SeenInPlay,
} from '@glue-trace/core';
import type { FastifyInstance } from 'fastify';
import Joi from 'joi';
import type { CheckView, ExcerptView, FindingDetail, FindingPage, RepairTrial, Shown, TouchedBy } from '../api.js';
import { valid } from '../problems.js';
import type { FindingFilter, ProjectRow, ScanRow } from '../store/store.js';
import { TOLD } from './changes.js';
import { doneScanOf, mapOf, projectOf, type Context } from './context.js';
import { whenFree } from '../store/when-free.js';
import { countedOwners, type Owners } from './owners.js';
import type { Sight } from './play-routes.js';
import type { Seen } from './seen-in-play.js';
import { projectFile } from './project-file.js';

const listOf = (...words: readonly string[]): Joi.ArraySchema =>
  Joi.array()
    .items(Joi.string().valid(...words))
    .single();

/** Turns what is asked for into what the store knows. */
export type Narrowed = (project: ProjectRow, scan: ScanRow, query: Shown) => Promise<FindingFilter>;

/** Keys by which findings are narrowed wherever they are asked for. */
export const filterKeys = {
  severity: listOf(...SEVERITIES),
  check: listOf(...CHECK_IDS),
  folder: Joi.string().max(4096),
  text: Joi.string().max(200).allow(''),
  waived: Joi.string().valid('without', 'with', 'only'),
  since: Joi.number().integer().positive(),
  route: Joi.string().max(4096),
  played: Joi.string().valid('failed', 'came', 'never'),
  scene: Joi.string().max(4096),
  owner: Joi.string().max(1000),
  rests: Joi.string().valid('written', 'learned'),
  noted: Joi.boolean(),
  order: Joi.string().valid('worst', 'file', 'places'),
};

const listQuery = Joi.object<Shown & Pick<FindingFilter, 'offset' | 'limit'>>({
  ...filterKeys,
  offset: Joi.number().integer().min(0).default(0),
  limit: Joi.number().integer().min(1).max(200).default(100),
});

const noteBody = Joi.object<{ note: string }>({ note: Joi.string().trim().max(2000).allow('').required() });

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

export function findingRoutes(
  app: FastifyInstance,
  context: Context,
  { narrowed, seen, owners }: { narrowed: Narrowed; seen: Seen; owners: Owners },
): void {
  const { store } = context;

  app.get('/api/checks', (): CheckView[] =>
    CHECKS.map(({ id, title, severity, why, decides }) => ({ id, title, severity, why, decides })),
  );

  app.get('/api/projects/:project/findings', async (request): Promise<FindingPage> => {
    const project = projectOf(context, request.params);
    const { offset, limit, ...query } = valid(listQuery, request.query);
    const scan = doneScanOf(context, project);
    const filter = await narrowed(project, scan, query);
    const { rows, ...page } = store.findings(scan.id, { ...filter, offset, limit });
    const inPlay = seen(project, scan);
    return {
      ...{ scanId: scan.id, before: store.lookedAtBefore(project.id, scan.id), offset },
      ...page,
      rows: rows.map((row) => ({ ...row, play: inPlay?.get(row.fingerprint) })),
    };
  });

  app.get('/api/projects/:project/findings/:fingerprint', (request): FindingDetail => {
    const project = projectOf(context, request.params);
    const { fingerprint } = request.params as { fingerprint: string };
    const scan = doneScanOf(context, project);
    const finding = knownFinding(context, scan, fingerprint);
    const [piece] = finding.pieces;
    return {
      ...finding,
      play: seen(project, scan)?.get(fingerprint),
      note: store.noteOn(project.id, fingerprint),
      beside: piece ? store.findingsBeside(scan.id, fingerprint, piece.key) : [],
    };
  });

  app.put('/api/projects/:project/findings/:fingerprint/note', TOLD, async (request, reply) => {
    const project = projectOf(context, request.params);
    const { fingerprint } = request.params as { fingerprint: string };
    const { note } = valid(noteBody, request.body);
    knownFinding(context, doneScanOf(context, project), fingerprint);
    await whenFree(() => store.noteFinding(project.id, fingerprint, note));
    return reply.status(204).send();
  });

  /** Who last touched what was found, and how much of it, most first. */
  app.get('/api/projects/:project/owners', async (request): Promise<TouchedBy[]> => {
    const project = projectOf(context, request.params);
    const scan = doneScanOf(context, project);
    const all = await owners(project, scan, true);
    // Those that are accepted do not stand in the list.
    const open = new Set(store.openPositions(scan.id));
    return countedOwners(all.filter((_, position) => open.has(position)));
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

const PLAYED: Record<NonNullable<Shown['played']>, (seen: SeenInPlay) => boolean> = {
  failed: ({ failed }) => failed > 0,
  came: ({ failed, came }) => failed === 0 && came > 0,
  never: ({ failed, came }) => failed === 0 && came === 0,
};

/** @throws GlueError `finding/unknown` */
export function knownFinding({ store }: Context, scan: ScanRow, fingerprint: string): FindingView {
  const finding = store.finding(scan.id, fingerprint);
  if (!finding) throw new GlueError('finding/unknown', 'The last scan has no such finding; it may have been repaired.');
  return finding;
}

/** Narrows findings by what the store alone does not know: the route, the scene, who touched them, what play said of them. */
export function createNarrowed(
  context: Context,
  { sight, seen, owners }: { sight: Sight; seen: Seen; owners: Owners },
): Narrowed {
  const { store } = context;
  const asPlayed = (project: ProjectRow, scan: ScanRow, played: NonNullable<Shown['played']>): number[] => {
    const inPlay = seen(project, scan);
    if (!inPlay) return [];
    return store.allFindings(scan.id).flatMap(({ fingerprint }, position) => {
      const said = inPlay.get(fingerprint);
      return said && PLAYED[played](said) ? [position] : [];
    });
  };
  const inScene = async (project: ProjectRow, scan: ScanRow, scene: string): Promise<number[]> => {
    const { graph } = await mapOf(context, project);
    const found = findingsIn(graph, scene, store.allFindings(scan.id));
    if (!found) throw new GlueError('piece/unknown', 'This scene is not on the map any more. Choose another one.');
    return found;
  };
  const touchedBy = async (project: ProjectRow, scan: ScanRow, owner: string): Promise<number[]> =>
    (await owners(project, scan)).flatMap((by, position) => (by === owner ? [position] : []));

  return async (project, scan, { since, route, played, scene, owner, ...filter }) => {
    const chosen: (readonly number[])[] = [];
    if (route !== undefined) chosen.push((await sight(project, route)).positions);
    if (played !== undefined) chosen.push(asPlayed(project, scan, played));
    if (scene !== undefined) chosen.push(await inScene(project, scan, scene));
    if (owner !== undefined) chosen.push(await touchedBy(project, scan, owner));
    const [first, ...others] = chosen;
    const sets = others.map((positions) => new Set(positions));
    const among = first?.filter((position) => sets.every((set) => set.has(position)));
    return { ...filter, offset: 0, limit: 0, ...(since !== undefined && { notIn: since }), ...(among && { among }) };
  };
}
