import {
  GlueError,
  partOf,
  piecesNamed,
  reachedBy,
  remembered,
  sinceThen,
  stopsOf,
  type Stops,
  toDot,
  toGraphml,
  must,
  newSince,
  writeReport,
  type Report,
  type ReportFormat,
} from '@glue-trace/core';
import type { FastifyInstance } from 'fastify';
import Joi from 'joi';
import type { Shown } from '../api.js';
import { rememberedIn } from '../decisions/before.js';
import { excerptsIn } from '../files/read-text.js';
import { valid } from '../problems.js';
import type { FindingFilter, ProjectRow, ScanRow } from '../store/store.js';
import { doneScanOf, mapOf, projectOf, type Context } from './context.js';
import { filterKeys, type Narrowed } from './findings.js';
import type { Sight } from './play-routes.js';

const FORMS: Record<ReportFormat, { type: string; ending: string }> = {
  html: { type: 'text/html', ending: 'html' },
  markdown: { type: 'text/markdown', ending: 'md' },
  csv: { type: 'text/csv', ending: 'csv' },
  json: { type: 'application/json', ending: 'json' },
  sarif: { type: 'application/sarif+json', ending: 'sarif' },
  junit: { type: 'application/xml', ending: 'junit.xml' },
  text: { type: 'text/plain', ending: 'txt' },
  baseline: { type: 'application/json', ending: 'baseline.json' },
};
const MAP_FORMS = {
  graphml: { type: 'application/xml', ending: 'graphml' },
  dot: { type: 'text/vnd.graphviz', ending: 'dot' },
} as const;

const query = Joi.object<Shown & { format: ReportFormat }>({
  ...filterKeys,
  format: Joi.string()
    .valid(...Object.keys(FORMS))
    .required(),
});
const mapQuery = Joi.object<{ format: keyof typeof MAP_FORMS; around?: string; steps: number }>({
  format: Joi.string()
    .valid(...Object.keys(MAP_FORMS))
    .required(),
  around: Joi.string().max(8192),
  steps: Joi.number().integer().min(1).max(20).default(2),
});

const stopsQuery = Joi.object<{ route?: string }>({ route: filterKeys.route });

/** Reports to hand over: what is chosen of the findings is what is written. */
export function reportRoutes(app: FastifyInstance, context: Context, narrowed: Narrowed, sight: Sight): void {
  app.get('/api/projects/:project/report', async (request, reply) => {
    const project = projectOf(context, request.params);
    const { format, ...wanted } = valid(query, request.query);
    const scan = doneScanOf(context, project);
    const filter = await narrowed(project, scan, wanted);
    const report = reportOf(context, project, scan, { ...filter, waived: wanted.waived ?? 'with' }, wanted);
    const stops = format === 'html' ? await drawn(project, scan, wanted.route) : undefined;
    const { type, ending } = FORMS[format];
    return reply
      .type(`${type}; charset=utf-8`)
      .header('content-disposition', `attachment; filename="${fileName(project)}-scan-${scan.id}.${ending}"`)
      .send(writeReport({ ...report, ...(stops && { stops }) }, format));
  });

  /** The scenes of a route, or of the whole, with all that was found; nothing while the project has no map. */
  const drawn = async (project: ProjectRow, { id, readiness }: ScanRow, route?: string): Promise<Report['stops']> => {
    const findings = context.store.allFindings(id);
    if (route !== undefined) {
      const { graph, reached } = await sight(project, route);
      return stopsOf(graph, reached.starts, findings);
    }
    const map = context.scans.mapOf(project.id);
    return (
      map &&
      stopsOf(map.graph, reachedBy(map.graph, { from: readiness?.starts ?? [] }).starts, findings, { isWhole: true })
    );
  };

  app.get('/api/projects/:project/stops', async (request): Promise<Stops> => {
    const project = projectOf(context, request.params);
    const { route } = valid(stopsQuery, request.query);
    await mapOf(context, project);
    return must(await drawn(project, doneScanOf(context, project), route));
  });

  app.get('/api/projects/:project/map', async (request, reply) => {
    const project = projectOf(context, request.params);
    const { format, around, steps } = valid(mapQuery, request.query);
    const { graph, scanId } = await mapOf(context, project);
    const pieces = around === undefined ? undefined : piecesNamed(graph, around);
    if (pieces?.length === 0) throw new GlueError('piece/unknown', `Nothing on the map is called “${around ?? ''}”.`);
    const part = partOf(graph, pieces && { pieces, steps });
    const { type, ending } = MAP_FORMS[format];
    return reply
      .type(`${type}; charset=utf-8`)
      .header('content-disposition', `attachment; filename="${fileName(project)}-map-${scanId}.${ending}"`)
      .send([...(format === 'dot' ? toDot(graph, part) : toGraphml(graph, part))].join(''));
  });
}

function reportOf(
  { store, version }: Context,
  project: ProjectRow,
  scan: ScanRow,
  filter: FindingFilter,
  { since, route }: Shown,
): Report {
  const findings = store.chosenFindings(scan.id, filter);
  const before = since === undefined ? undefined : rememberedIn(store, project.id, since);
  const all = store.allFindings(scan.id);
  // What was not chosen is not gone.
  const compared = before && sinceThen(all.map(remembered), before);
  const isAll = findings.length === all.length;
  return {
    project: project.name,
    at: scan.startedAt.slice(0, 16).replace('T', ' '),
    version,
    readiness: must(scan.readiness),
    findings,
    ...(compared && {
      since: {
        name: `scan ${since ?? ''}`,
        appeared: newSince(findings, before),
        gone: compared.gone,
      },
    }),
    ...(!isAll && {
      chosen: `${findings.length} findings were chosen for this report${route === undefined ? '' : `, on the route “${route}”`}.`,
    }),
    excerpt: excerptsIn(project.folder),
  };
}

/** A name that every system takes. */
const fileName = ({ name }: ProjectRow): string =>
  name
    .normalize('NFKD')
    .replace(/[^A-Za-z0-9]+/g, '-')
    .replace(/^-+|-+$/g, '')
    .slice(0, 60)
    .toLowerCase() || 'project';
