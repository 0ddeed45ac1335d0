import { cut } from '../source.js';
import type { HandlerRule } from './plan.js';

/** The event that a function hears by its name alone; undefined when the rule is not about it. */
export function eventHeardBy({ functions, event }: HandlerRule, name: string): string | undefined {
  const heard = cut(name, `^(?:${functions})$`);
  return heard === undefined ? undefined : event.replace('*', () => heard);
}
