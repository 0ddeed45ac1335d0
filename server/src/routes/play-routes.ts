import { pieceName, reachedBy, type FindingView, type Graph, type Reached, isViewOnRoute } from '@glue-trace/core';
import type { FastifyInstance } from 'fastify';
import Joi from 'joi';
import type { RouteView } from '../api.js';
import { routeNamed, routesOf, saveRoutes, START_ROUTE } from '../decisions/routes-file.js';
import { valid } from '../problems.js';
import { GlueError } from '@glue-trace/core';
import type { ProjectRow } from '../store/store.js';
import { TOLD } from './changes.js';
import { doneScanOf, mapOf, projectOf, type Context } from './context.js';

const named = Joi.object<{ route: string }>({
  route: Joi.string().trim().min(1).max(100).invalid(START_ROUTE).required(),
}).unknown();
const body = Joi.object<{ from: string[]; note: string }>({
  from: Joi.array().items(Joi.string().min(1).max(4096)).min(1).max(1000).required(),
  note: Joi.string().max(2000).allow('').default(''),
});

/** Routes: what the next play test visits, in a file beside the plan. */
export function playRoutes(app: FastifyInstance, context: Context): void {
  const all = async (project: ProjectRow): Promise<RouteView[]> => {
    const { graph } = await mapOf(context, project);
    const starts = startsIn(context, project);
    const view = (name: string, from: string[], note: string, isDefault: boolean): RouteView => {
      const reached = reachedBy(graph, { from });
      return {
        name,
        note,
        isDefault,
        from: from.map((written) => {
          const [piece] = reachedBy(graph, { from: [written] }).starts;
          return { written, ...(piece !== undefined && { piece: pieceName(graph, piece) }) };
        }),
        pieces: reached.pieces.reduce((sum, one) => sum + (one === 1 ? 1 : 0), 0),
      };
    };
    return [
      ...(starts.length > 0 ? [view(START_ROUTE, starts, '', true)] : []),
      ...Object.entries(routesOf(project.folder)).map(([name, { from, note = '' }]) => view(name, from, note, false)),
    ];
  };

  app.get('/api/projects/:project/routes', (request) => all(projectOf(context, request.params)));

  app.put('/api/projects/:project/routes/:route', TOLD, async (request): Promise<RouteView[]> => {
    const project = projectOf(context, request.params);
    const { route } = valid(named, request.params);
    const { from, note } = valid(body, request.body);
    const { graph } = await mapOf(context, project);
    const { unknown } = reachedBy(graph, { from });
    if (unknown.length > 0)
      throw new GlueError(
        'piece/unknown',
        `Nothing on the map is called ${unknown.join(', ')}. Choose scenes or pieces that are there.`,
      );
    saveRoutes(project.folder, { ...routesOf(project.folder), [route]: { from, ...(note && { note }) } });
    return all(project);
  });

  app.delete('/api/projects/:project/routes/:route', TOLD, async (request): Promise<RouteView[]> => {
    const project = projectOf(context, request.params);
    const { route } = valid(named, request.params);
    const routes = routesOf(project.folder);
    if (!Object.hasOwn(routes, route))
      throw new GlueError('route/unknown', `There is no route “${route}” to take out.`);
    saveRoutes(project.folder, Object.fromEntries(Object.entries(routes).filter(([name]) => name !== route)));
    return all(project);
  });
}

const startsIn = (context: Context, project: ProjectRow): string[] =>
  doneScanOf(context, project).readiness?.starts ?? [];

/** What was worked out for a route of a scan; the newest ones are kept. */
const MOST_KEPT = 20;

/** Tells which findings of a scan lie on a route. One closure: it keeps what it found for a scan. */
export function createSight(context: Context): Sight {
  const kept = new Map<string, OnRoute>();
  return async (project, route) => {
    const { graph } = await mapOf(context, project);
    const scan = doneScanOf(context, project);
    const reached = routeNamed(project.folder, graph, route, scan.readiness?.starts ?? []);
    const sign = `${project.id} ${scan.id} ${reached.starts.join(' ')}`;
    const known = kept.get(sign);
    if (known) return known;
    const found = { graph, reached, ...positionsOn(graph, reached, context.store.allFindings(scan.id)) };
    kept.set(sign, found);
    for (const old of [...kept.keys()].slice(0, -MOST_KEPT)) kept.delete(old);
    return found;
  };
}

/** Finds what lies on a route. */
export type Sight = (project: ProjectRow, route: string) => Promise<OnRoute>;

/** What lies on a route. */
export interface OnRoute {
  graph: Graph;
  reached: Reached;
  /** Positions of the findings on it; and how many lie off it. */
  positions: number[];
  off: number;
}

function positionsOn(
  graph: Graph,
  reached: Reached,
  findings: readonly FindingView[],
): Pick<OnRoute, 'positions' | 'off'> {
  const positions = findings.flatMap(({ pieces }, position) =>
    isViewOnRoute(graph, reached.pieces, pieces) ? [position] : [],
  );
  return { positions, off: findings.length - positions.length };
}
