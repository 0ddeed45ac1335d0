import { ERRORS, GlueError } from '@glue-trace/core';
import type { FastifyInstance } from 'fastify';
import Joi from 'joi';

/** Answers every error as problem details (RFC 9457); never with a stack trace. */
export function answerWithProblems(app: FastifyInstance): void {
  app.setErrorHandler((error: Error & { statusCode?: number }, request, reply) => {
    const known = asGlueError(error);
    if (known.code === 'fault/ours') request.log.error(error);
    const { status, title } = ERRORS[known.code];
    return reply
      .status(status)
      .type('application/problem+json')
      .send({
        type: `urn:glue-trace:error:${known.code}`,
        title,
        status,
        detail: known.detail,
        code: known.code,
        mistakes: known.mistakes,
      });
  });
  app.setNotFoundHandler((request) => {
    throw new GlueError(
      'request/unknown',
      `${request.method} ${request.url.split('?')[0]} is not part of this application.`,
    );
  });
}

function asGlueError(error: Error & { statusCode?: number }): GlueError {
  if (error instanceof GlueError) return error;
  if (Joi.isError(error)) {
    return new GlueError(
      'request/invalid',
      error.details.map((detail) => detail.message).join('; '),
      error.details.map((detail) => ({ key: detail.path.join('.'), message: detail.message })),
    );
  }
  if (error.statusCode === 429) return new GlueError('request/too-many', 'Wait a few seconds and try again.');
  if (error.statusCode && error.statusCode < 500) return new GlueError('request/invalid', error.message);
  return new GlueError(
    'fault/ours',
    'The log of the server says more. Load the page again, and look at what is there before you go on.',
  );
}

/** Validates what came from outside. @throws Joi.ValidationError, answered as `request/invalid` */
export function valid<T>(schema: Joi.ObjectSchema<T>, value: unknown): T {
  const checked: unknown = Joi.attempt(value ?? {}, schema, { abortEarly: false, convert: true });
  return checked as T;
}
