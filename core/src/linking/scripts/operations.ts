/** What the links of an operation have in common. */
import { itemAt, must } from '../../helpers/at.js';
import type { Side } from '../../model/link.js';
import type { Operation, Value } from '../../reading/facts.js';
import type { CallRule } from '../../reading/plan/plan.js';
import { textsOf } from '../look-ups/texts.js';
import { typeNamed } from '../world/types.js';
import type { World } from '../world/world.js';

/** The side that the call itself tells, or that of the code around it. */
export function sideOf(rule: CallRule, { side }: Operation): Side {
  return rule.side === 'unknown' ? side : rule.side;
}

/** Names an event argument can stand for. A name that is no text of ours may be a type that is the event. */
export function eventNames(world: World, value: Value, source: number): string[] {
  const texts = textsOf(world, value);
  if (texts.length > 0) return texts;
  if (value.is === 'any') return value.of.flatMap((one) => eventNames(world, one, source));
  if (value.is === 'constant') {
    const last = must(value.name.split('.').pop());
    if (typeNamed(world, last, source)) return [last];
    if (value.name.includes('.')) return [value.name];
  }
  return [];
}

/** The type whose code it is, or the script for code outside of types. */
export function typePiece(world: World, source: number, local: number): number {
  return (
    (world.types.inFile.get(source) ?? []).find((type) => type.local === local)?.piece ??
    itemAt(world.files.piece, source)
  );
}
