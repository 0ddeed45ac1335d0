/** What is wrong with a document that a team wrote – a plan, waivers, routes – in words, each with its line. */
import type Joi from 'joi';
import { nearest } from '../../helpers/nearest.js';
import type { Mistake } from '../../model/errors.js';
import { mistakeAt, type Layer } from './layers.js';

/** What a schema finds wrong, in words, with the nearest valid word and its line. @param what the document is: `a plan` */
export function mistakeOf(detail: Joi.ValidationErrorItem, layers: readonly Layer[], what = 'a plan'): Mistake {
  const context = detail.context ?? {};
  let message = detail.message;
  if (detail.type === 'object.unknown') {
    const allowed = (context['allowed'] as string[] | undefined) ?? [];
    message = `is not a key of ${what} here. ${didYouMean(String(context['child'] ?? context.key), allowed)}`;
  } else if (detail.type === 'any.only') {
    const valid = ((context['valids'] as unknown[]) ?? []).map(String);
    message = `“${String(context.value)}” is not known here. ${didYouMean(String(context.value), valid)}`;
  } else if (detail.type === 'any.required') {
    message = 'is missing; it must be given.';
  } else if (detail.type !== 'glue.explained') {
    message = `${detail.message.replace(/^\S+ /, '')}.`;
  }
  return mistakeAt(detail.path, message, layers);
}

export function didYouMean(word: string, valid: string[]): string {
  const [close] = nearest(word, valid, 1);
  const list = `Expected one of: ${valid.join(', ')}.`;
  return close ? `Did you mean “${close}”? ${list}` : list;
}
