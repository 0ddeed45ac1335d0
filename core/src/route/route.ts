/** The route: what the next play test can reach from some scenes and entry points, over everything that leads on. */
import Joi from 'joi';
import { readDocument } from '../decisions/documents.js';
import { cellAt } from '../helpers/at.js';
import type { Linked } from '../linking/linked.js';
import type { Finding } from '../model/finding.js';
import { groupOf, keyOf, kindOf, type Graph } from '../model/graph.js';
import { VERBS } from '../model/link.js';
import { PIECE_KINDS } from '../model/piece.js';
import { pieceByKey } from '../trace/trace.js';
import { piecesNamed } from '../trace/search.js';

/** Where a project's routes stand. */
export const ROUTES_FILE = 'glue-trace.routes.json';

export interface SavedRoute {
  /** Scenes and other pieces that the play test begins with: keys, paths, identities or names. */
  from: string[];
  /** What it is for. */
  note?: string;
}

export type Routes = Record<string, SavedRoute>;

export const routesSchema = Joi.object<{ routes: Routes; $schema?: string }>({
  $schema: Joi.string().description('where this schema stands, for editors'),
  routes: Joi.object()
    .pattern(
      Joi.string().min(1).max(100),
      Joi.object({
        from: Joi.array()
          .items(Joi.string().min(1).max(4096))
          .single()
          .min(1)
          .max(1000)
          .required()
          .description('scenes and other pieces that play begins with: paths, identities, names or keys'),
        note: Joi.string().max(2000).allow('').description('what it is for'),
      }),
    )
    .default({})
    .description('routes by their names'),
});

/** @throws GlueError `routes/invalid` with every mistake and its line */
export function readRoutes(text: string): Routes {
  return readDocument(text, ROUTES_FILE, routesSchema, 'routes/invalid').routes;
}

/** Routes as text, in the order of their names. */
export function routesText(routes: Routes): string {
  const ordered = Object.fromEntries(Object.entries(routes).sort(([a], [b]) => (a < b ? -1 : 1)));
  return `${JSON.stringify({ routes: ordered }, null, 2)}\n`;
}

/** What a route comes to on a map. */
export interface Reached {
  /** 1 for each piece that can be reached; 2 for those that only hold such a piece. */
  pieces: Uint8Array;
  /** Where it begins. */
  starts: number[];
  /** Names of the route that no piece has. */
  unknown: string[];
}

/** What can be reached from where a route begins. */
export function reachedBy(graph: Graph, { from }: SavedRoute): Reached {
  const starts = new Set<number>();
  const unknown: string[] = [];
  for (const name of from) {
    const found = piecesNamed(graph, name);
    if (found.length === 0) unknown.push(name);
    for (const piece of found) starts.add(piece);
  }
  return { pieces: reachable(graph, [...starts]), starts: [...starts], unknown };
}

/** Links of these verbs say that something is known, not that it comes along. */
const LEADS_NOWHERE: ReadonlySet<number> = new Set([VERBS.indexOf('overrides')]);

/**
 * Marks what comes along with some pieces: what they hold, lead to, and are copies of.
 * @param enters whether a piece is walked into, by which link; -1 for what is held or copied
 * @returns 1 for each piece that does
 */
export function comingAlong(
  graph: Graph,
  starts: readonly number[],
  enters: (piece: number, link: number) => boolean = () => true,
): Uint8Array {
  const along = new Uint8Array(graph.pieceCount);
  const open: number[] = [];
  const reach = (piece: number, link = -1): void => {
    if (piece < 0 || along[piece] || !enters(piece, link)) return;
    along[piece] = 1;
    open.push(piece);
  };
  for (const piece of starts) reach(piece);
  const { outgoing, children, links, pieces } = graph;
  for (let piece = open.pop(); piece !== undefined; piece = open.pop()) {
    for (const child of groupOf(children, piece)) reach(child);
    for (const link of groupOf(outgoing, piece))
      if (!LEADS_NOWHERE.has(cellAt(links.verb, link))) reach(cellAt(links.to, link), link);
    // What stands in an instance is what the prefab says.
    reach(cellAt(pieces.origin, piece));
  }
  return along;
}

function reachable(graph: Graph, starts: readonly number[]): Uint8Array {
  const reached = comingAlong(graph, starts);
  const { parent } = graph.pieces;
  for (let piece = 0; piece < graph.pieceCount; piece++) {
    if (reached[piece] !== 1) continue;
    for (let above = cellAt(parent, piece); above >= 0 && !reached[above]; above = cellAt(parent, above))
      reached[above] = 2;
  }
  return reached;
}

/** Whether a finding is about something on the route: any of its pieces is. One about no piece is about all. */
export function isOnRoute(reached: Uint8Array, pieces: readonly number[]): boolean {
  return pieces.length === 0 || pieces.some((piece) => reached[piece] === 1);
}

/** The same for findings that stand without their map. */
export function isViewOnRoute(graph: Graph, reached: Uint8Array, pieces: readonly { key: string }[]): boolean {
  return isOnRoute(
    reached,
    pieces.flatMap(({ key }) => pieceByKey(graph, key) ?? []),
  );
}

/** Findings on a route and how many lie off it. */
export function onRoute(findings: readonly Finding[], reached: Uint8Array): Finding[] {
  return findings.filter(({ pieces }) => isOnRoute(reached, pieces));
}

/**
 * Where play begins when nobody says: with the start scene of the plan; else with the scenes that nothing loads; else with
 * all scenes.
 * @returns keys of pieces
 */
export function startsOf({ graph, roles, plan }: Pick<Linked, 'graph' | 'roles' | 'plan'>): string[] {
  const named = roles.filter(({ role, piece }) => role === 'start scene' && piece >= 0).map(({ piece }) => piece);
  if (named.length > 0) return keysOf(graph, named);
  if (plan.house.startScene !== undefined) {
    const meant = piecesNamed(graph, plan.house.startScene);
    const scenes = meant.filter((piece) => kindOf(graph, piece) === 'scene');
    if (meant.length > 0) return keysOf(graph, scenes.length > 0 ? scenes : meant);
  }
  const scene = PIECE_KINDS.indexOf('scene');
  const scenes: number[] = [];
  for (let piece = 0; piece < graph.pieceCount; piece++) if (graph.pieces.kind[piece] === scene) scenes.push(piece);
  const loads = VERBS.indexOf('loads');
  const loaded = new Set<number>();
  for (let link = 0; link < graph.linkCount; link++)
    if (cellAt(graph.links.verb, link) === loads) loaded.add(cellAt(graph.links.to, link));
  const first = scenes.filter((piece) => !loaded.has(piece));
  return keysOf(graph, first.length > 0 ? first : scenes);
}

const keysOf = (graph: Graph, pieces: readonly number[]): string[] => [
  ...new Set(pieces.map((piece) => keyOf(graph, piece))),
];
