/** Texts and names that values stand for. */
import { must } from '../../helpers/at.js';
import { ANYTHING, compilePattern, literally, type Pattern } from '../../helpers/pattern.js';
import type { Value } from '../../reading/facts.js';
import type { World } from '../world/world.js';

/** Stands for what is only known at run time, in a text that is being taken apart. */
export const MADE_UP = '\u0000';

/** Texts that a value can stand for: literals, constants of other scripts, choices between them. */
export function textsOf(world: World, value: Value): string[] {
  if (value.is === 'text') return [value.text];
  if (value.is === 'any') {
    const texts = value.of.map((one) => textsOf(world, one));
    return value.each || texts.every((one) => one.length > 0) ? texts.flat() : [];
  }
  if (value.is === 'constant') {
    const text = world.code.constants.get(value.name);
    return text === undefined ? [] : [text];
  }
  return [];
}

/** The name of a type given as an argument: by name or as a text. */
export function typeName(value: Value): string {
  if (value.is === 'constant') return must(value.name.split('.').pop());
  return value.is === 'text' ? value.text : '';
}

/** An expression that matches what a text put together at run time can be. */
export function patternOf(parts: Value[]): Pattern {
  const body = parts.map((part) => (part.is === 'text' ? literally(part.text) : ANYTHING)).join('');
  return compilePattern(`^${body}$`);
}
