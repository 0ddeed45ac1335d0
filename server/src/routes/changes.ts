/** What people change in one window is told to the others that show the project: decisions, routes, notes. */
import { EventEmitter } from 'node:events';
import type { FastifyInstance } from 'fastify';
import type { ProjectChange } from '../api.js';

/** Sent along with what changes something, so that a window does not hear of itself. */
const WINDOW_HEADER = 'x-glue-window';
const LONGEST = 64;

export interface Changes {
  /** Gives a way to listen no longer. */
  listen(project: number, listener: (change: ProjectChange) => void): () => void;
}

/** The config of routes that change what other windows show. */
export const TOLD = { config: { isTold: true } };

/** Watches the answers of all routes that are marked as {@link TOLD}: what succeeded is told. */
export function createChanges(app: FastifyInstance): Changes {
  const events = new EventEmitter().setMaxListeners(0);
  app.addHook('onResponse', (request, reply, done) => {
    const { isTold } = request.routeOptions.config as { isTold?: boolean };
    if (isTold && reply.statusCode < 300) {
      const { project } = request.params as { project: string };
      const by = request.headers[WINDOW_HEADER];
      events.emit(project, { by: typeof by === 'string' ? by.slice(0, LONGEST) : '' } satisfies ProjectChange);
    }
    done();
  });
  return {
    listen(project, listener) {
      events.on(String(project), listener);
      return () => events.off(String(project), listener);
    },
  };
}
