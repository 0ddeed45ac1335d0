import {
  chainsBetween,
  coupling,
  couplingLinks,
  foldersBelow,
  groupsOnRoute,
  lifeCycle,
  SCOPES,
  SUBJECTS,
  wiring,
  WIRE_STATES,
  type LifeCycle,
  type Wiring,
  type WiringFilter,
  GRIPS,
  MOMENTS,
  MOST_DRAWN,
  neighbourhood,
  searchPieces,
  SIDES,
  tracePiece,
  VERBS,
  type Chains,
  type CouplingOptions,
  type Neighbourhood,
  type Range,
  type TraceFilter,
} from '@glue-trace/core';
import type { FastifyInstance } from 'fastify';
import Joi from 'joi';
import type { CouplingLinks, CouplingPage, StoryPage, ValuesPage, WalkPage } from '../api.js';
import { valid } from '../problems.js';
import { pieceNamed } from '../scan/questions.js';
import { mapOf, projectOf, type Context } from './context.js';
import type { Sight } from './play-routes.js';
import type { ProjectRow } from '../store/store.js';

const key = Joi.string().max(8192).required();
const pieceQuery = Joi.object<{ piece: string }>({ piece: key });
const traceQuery = Joi.object<{ piece: string } & TraceFilter>({
  piece: key,
  verb: Joi.string().valid(...VERBS),
  grip: Joi.string().valid(...GRIPS),
  moment: Joi.string().valid(...MOMENTS),
  side: Joi.string().valid(...SIDES),
});
const walkQuery = Joi.object<{ piece: string; file: string } & Range>({
  piece: key,
  file: Joi.string().max(4096).required(),
  line: Joi.number().integer().min(1).required(),
  column: Joi.number().integer().min(1).required(),
  endLine: Joi.number().integer().min(1).required(),
  endColumn: Joi.number().integer().min(1).required(),
});
const chainsQuery = Joi.object<{ from: string; to: string }>({ from: key, to: key });
const aroundQuery = Joi.object<{ piece: string; most: number; hops: number }>({
  piece: key,
  most: Joi.number().integer().min(2).max(MOST_DRAWN).default(40),
  hops: Joi.number().integer().min(1).max(6).default(2),
});
const route = Joi.string().max(4096);
const wiringQuery = Joi.object<WiringFilter & { offset: number; limit: number; route?: string }>({
  route,
  of: Joi.string().valid(...SUBJECTS),
  state: Joi.string().valid(...WIRE_STATES),
  moment: Joi.string().valid(...MOMENTS),
  side: Joi.string().valid(...SIDES),
  scope: Joi.string().valid(...SCOPES),
  text: Joi.string().max(200).allow(''),
  offset: Joi.number().integer().min(0).default(0),
  limit: Joi.number().integer().min(1).max(500).default(200),
});
const storyQuery = Joi.object<{ piece: string; direction: 'forward' | 'backward' }>({
  piece: key,
  direction: Joi.string().valid('forward', 'backward').default('forward'),
});
const couplingKeys = {
  by: Joi.string().valid('folder', 'scene').default('folder'),
  below: Joi.string().max(4096).allow('').default(''),
  depth: Joi.number().integer().min(1).max(6).default(1),
};
const couplingQuery = Joi.object<CouplingOptions & { route?: string }>({ ...couplingKeys, route });
const cellQuery = Joi.object<CouplingOptions & { from: string; to: string; limit: number }>({
  ...couplingKeys,
  from: Joi.string().max(4096).required(),
  to: Joi.string().max(4096).allow('').required(),
  limit: Joi.number().integer().min(1).max(500).default(200),
});
const searchQuery = Joi.object<{ text: string; limit: number }>({
  text: Joi.string().max(200).allow('').required(),
  limit: Joi.number().integer().min(1).max(100).default(20),
});

export function traceRoutes(app: FastifyInstance, context: Context, sight: Sight): void {
  /** What lies on a route; undefined for the whole project. */
  const reachedOn = async (project: ProjectRow, name: string | undefined): Promise<Uint8Array | undefined> =>
    name === undefined ? undefined : (await sight(project, name)).reached.pieces;

  app.get('/api/projects/:project/trace', async (request) => {
    const project = projectOf(context, request.params);
    const { piece, ...filter } = valid(traceQuery, request.query);
    const { graph, losses } = await mapOf(context, project);
    return tracePiece(graph, losses, pieceNamed(graph, piece), filter);
  });

  /** Values in force on a piece: from the code to the instance. */
  app.get('/api/projects/:project/values', async (request): Promise<ValuesPage> => {
    const project = projectOf(context, request.params);
    const { piece } = valid(pieceQuery, request.query);
    return { parts: await context.scans.ask(project, { ask: 'values', piece }) };
  });

  /** The way that a look-up takes through the tree. */
  app.get('/api/projects/:project/walk', async (request): Promise<WalkPage> => {
    const project = projectOf(context, request.params);
    const { piece, ...at } = valid(walkQuery, request.query);
    return { steps: await context.scans.ask(project, { ask: 'walk', piece, at }) };
  });

  /** How one piece reaches another. */
  app.get('/api/projects/:project/chains', async (request): Promise<Chains> => {
    const project = projectOf(context, request.params);
    const { from, to } = valid(chainsQuery, request.query);
    const { graph } = await mapOf(context, project);
    return chainsBetween(graph, pieceNamed(graph, from), pieceNamed(graph, to));
  });

  app.get('/api/projects/:project/neighbourhood', async (request): Promise<Neighbourhood> => {
    const project = projectOf(context, request.params);
    const { piece, most, hops } = valid(aroundQuery, request.query);
    const { graph } = await mapOf(context, project);
    return neighbourhood(graph, pieceNamed(graph, piece), most, hops);
  });

  /** The ledger of events, or of flags. */
  app.get('/api/projects/:project/wiring', async (request): Promise<Wiring> => {
    const project = projectOf(context, request.params);
    const { offset, limit, route: name, ...filter } = valid(wiringQuery, request.query);
    const { graph } = await mapOf(context, project);
    return wiring(graph, filter, offset, limit, await reachedOn(project, name));
  });

  /** What happens when an event fires, or what can lead to it. */
  app.get('/api/projects/:project/wiring/story', async (request): Promise<StoryPage> => {
    const project = projectOf(context, request.params);
    const { piece, direction } = valid(storyQuery, request.query);
    return { lines: await context.scans.ask(project, { ask: 'story', piece, direction }) };
  });

  /** Who brings what into play, takes it out, switches and moves it. */
  app.get('/api/projects/:project/life-cycle', async (request): Promise<LifeCycle> => {
    const project = projectOf(context, request.params);
    const { graph, losses } = await mapOf(context, project);
    return lifeCycle(graph, losses);
  });

  /** Who depends on whom among folders or scenes. */
  app.get('/api/projects/:project/coupling', async (request): Promise<CouplingPage> => {
    const project = projectOf(context, request.params);
    const { route: name, ...options } = valid(couplingQuery, request.query);
    const { graph } = await mapOf(context, project);
    const reached = await reachedOn(project, name);
    return {
      ...coupling(graph, options),
      folders: foldersBelow(graph, options.below),
      ...(reached && { onRoute: groupsOnRoute(graph, options, reached) }),
    };
  });

  app.get('/api/projects/:project/coupling/links', async (request): Promise<CouplingLinks> => {
    const project = projectOf(context, request.params);
    const { from, to, limit, ...options } = valid(cellQuery, request.query);
    const { graph, losses } = await mapOf(context, project);
    return couplingLinks(graph, losses, options, from, to, limit);
  });

  app.get('/api/projects/:project/pieces', async (request) => {
    const project = projectOf(context, request.params);
    const { text, limit } = valid(searchQuery, request.query);
    const { graph } = await mapOf(context, project);
    return searchPieces(graph, text, limit);
  });
}
