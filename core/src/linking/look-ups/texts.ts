/** Texts and names that values stand for. */
import { itemAt, must } from '../../helpers/at.js';
import { once } from '../../helpers/once.js';
import { ANYTHING, compilePattern, literally, type Pattern } from '../../helpers/pattern.js';
import { push } from '../../helpers/push.js';
import type { Value } from '../../reading/facts.js';
import type { World, WorldType } from '../world/world.js';

/** Stands for what is only known at run time, in a text that is being taken apart. */
export const MADE_UP = '\u0000';

/**
 * Texts that a value can stand for: literals, constants of other scripts, choices between them.
 * @param own the type whose code it is: texts in its fields count where all that they hold is known
 */
export function textsOf(world: World, value: Value, own?: WorldType): string[] {
  if (value.is === 'text') return [value.text];
  if (value.is === 'field') return own ? fieldTexts(world, own, value.name) : [];
  if (value.is === 'operation') return own ? loadedFrom(world, own, value.operation) : [];
  if (value.is === 'any') {
    const texts = value.of.map((one) => textsOf(world, one, own));
    return value.each || texts.every((one) => one.length > 0) ? texts.flat() : [];
  }
  if (value.is === 'constant') {
    const text = world.code.constants.get(value.name);
    return text === undefined ? [] : [text];
  }
  return [];
}

/** The path by which code took in a file that it uses later: `const CRATE = preload('crate')` stands for that crate. */
function loadedFrom(world: World, own: WorldType, operation: number): string[] {
  const { rule, arguments: given } = itemAt(own.script.operations, operation);
  const { path } = given;
  return path && itemAt(world.plan.calls, rule).means === 'use file' ? textsOf(world, path, own) : [];
}

/** Texts that the code puts into a field of a type, of its parents and of those that descend from it. */
function fieldTexts(world: World, own: WorldType, name: string): string[] {
  if (world.code.setElsewhere.has(name)) return [];
  const types = [own, ...own.ancestors, ...(below(world).get(own) ?? [])];
  // What is saved in files hangs on the object.
  const isExposed = ({ script, local }: WorldType): boolean =>
    itemAt(script.types, local).fields.some((field) => field.name === name && field.exposed);
  return types.some(isExposed) ? [] : given(world, types, name);
}

/** Texts that types put into a field; none when one of them puts something else there. */
export function given(world: World, types: readonly WorldType[], name: string): string[] {
  const values = types
    .flatMap((type) =>
      type.script.fieldValues
        .filter((one) => one.type === type.local && one.field === name)
        .map(({ value }) => ({ type, value })),
    )
    .flatMap(({ type, value }) => (value.is === 'any' ? value.of : [value]).map((one) => ({ type, value: one })))
    .filter(({ value }) => value.is !== 'nothing');
  // What one field holds of another is not followed.
  const texts = values.map(({ type, value }) => (value.is === 'field' ? [] : textsOf(world, value, type)));
  return texts.every((one) => one.length > 0) ? [...new Set(texts.flat())] : [];
}

/** Types by those they descend from. */
const below = once(({ types }: World): Map<WorldType, WorldType[]> => {
  const index = new Map<WorldType, WorldType[]>();
  for (const type of types.all) for (const parent of type.ancestors) push(index, parent, type);
  return index;
});

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
