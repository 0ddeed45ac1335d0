import { GlueError, pieceByKey, searchPieces, tracePiece } from '@glue-trace/core';
import type { FastifyInstance } from 'fastify';
import Joi from 'joi';
import { valid } from '../problems.js';
import { mapOf, projectOf, type Context } from './context.js';

const traceQuery = Joi.object<{ piece: string }>({ piece: Joi.string().max(8192).required() });
const searchQuery = Joi.object<{ text: string; limit: number }>({
  text: Joi.string().max(200).allow('').required(),
  limit: Joi.number().integer().min(1).max(100).default(20),
});

export function traceRoutes(app: FastifyInstance, context: Context): void {
  app.get('/api/projects/:project/trace', async (request) => {
    const project = projectOf(context, request.params);
    const { piece: key } = valid(traceQuery, request.query);
    const { graph, losses } = await mapOf(context, project);
    const piece = pieceByKey(graph, key);
    if (piece === undefined)
      throw new GlueError(
        'piece/unknown',
        `The last scan has no piece “${key}”. It may have been renamed or removed: search for it.`,
      );
    return tracePiece(graph, losses, piece);
  });

  app.get('/api/projects/:project/pieces', async (request) => {
    const project = projectOf(context, request.params);
    const { text, limit } = valid(searchQuery, request.query);
    const { graph } = await mapOf(context, project);
    return searchPieces(graph, text, limit);
  });
}
