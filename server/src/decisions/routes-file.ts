/** The routes of a project as a file beside its plan. */
import {
  GlueError,
  reachedBy,
  readRoutes,
  ROUTES_FILE,
  routesText,
  type Graph,
  type Reached,
  type Routes,
} from '@glue-trace/core';
import { writeInside } from '../writing/write.js';
import { readDocumentOf } from './waivers-file.js';

/** The route from where play begins when nobody says. */
export const START_ROUTE = 'start';

/** @throws GlueError `routes/invalid`, `file/unreadable` */
export function routesOf(folder: string): Routes {
  return readRoutes(readDocumentOf(folder, ROUTES_FILE));
}

/** @throws GlueError `file/unwritable` */
export function saveRoutes(folder: string, routes: Routes): void {
  writeInside(folder, ROUTES_FILE, routesText(routes));
}

/**
 * What a route reaches: a saved one, the one from where play begins, or one from a piece of that name.
 * @param starts where play begins
 * @throws GlueError `route/unknown` when nothing is called so, or nothing that it names is there; `routes/invalid`
 */
export function routeNamed(folder: string, graph: Graph, name: string, starts: readonly string[]): Reached {
  const routes = routesOf(folder);
  const saved = Object.hasOwn(routes, name) ? routes[name] : undefined;
  const route = saved ?? { from: name === START_ROUTE ? [...starts] : [name] };
  const reached = reachedBy(graph, route);
  if (reached.starts.length > 0) return reached;
  throw new GlueError(
    'route/unknown',
    saved
      ? `The route “${name}” begins with ${saved.from.join(', ')}, and nothing on the map is called so.`
      : name === START_ROUTE
        ? 'The project has no scene that play could begin with.'
        : `There is no route “${name}” in ${ROUTES_FILE}, and no scene or other piece of that name.`,
  );
}
