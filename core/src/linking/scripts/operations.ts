/** What the links of an operation have in common. */
import { itemAt, must } from '../../helpers/at.js';
import type { Side } from '../../model/link.js';
import type { FileFacts, Operation, Value } from '../../reading/facts.js';
import type { CallRule } from '../../reading/plan/plan.js';
import { textsOf, typeName } from '../look-ups/texts.js';
import type { Pointer } from '../targets.js';
import { typeNamed } from '../world/types.js';
import type { World, WorldType } from '../world/world.js';

/** The side that the call itself tells, or that of the code around it. */
export function sideOf(rule: CallRule, { side }: Operation): Side {
  return rule.side === 'unknown' ? side : rule.side;
}

/** A name that stands for itself wherever it is used, whatever its value. */
const SPELT_AS_CONSTANT = /^[A-Z][A-Z0-9]*(_[A-Z0-9]+)*$/;

/** Names an event argument can stand for. A name that is no text of ours may be a type that is the event. */
export function eventNames(world: World, value: Value, source: number, own?: WorldType): string[] {
  const texts = textsOf(world, value, own);
  if (texts.length > 0) return texts;
  if (value.is === 'any') return value.of.flatMap((one) => eventNames(world, one, source, own));
  if (value.is === 'constant') {
    const last = must(value.name.split('.').pop());
    if (typeNamed(world, last, source)) return [last];
    if (value.name.includes('.') || SPELT_AS_CONSTANT.test(value.name)) return [value.name];
  }
  return [];
}

/** The type whose code an operation is. */
export function ownType(world: World, source: number, local: number): WorldType | undefined {
  return (world.types.inFile.get(source) ?? []).find((type) => type.local === local);
}

/** Who asks for a function by its name: the type whose code it is, and what the call is made on. */
export function askerOf(world: World, source: number, { type, receiver }: Operation): Omit<Pointer, 'text'> {
  const own = ownType(world, source, type);
  return { piece: -1, type: own, receiver: typesOf(world, source, own, receiver) };
}

/** The types that a receiver surely is of; undefined when that is not known. */
function typesOf(world: World, source: number, own: WorldType | undefined, value: Value): WorldType[] | undefined {
  if (value.is === 'self') return own && [own];
  const name =
    value.is === 'field'
      ? fieldOf(own, value.name)
      : value.is === 'operation'
        ? partAsked(itemAt(world.facts, source), value.operation)
        : value.is === 'constant'
          ? (world.plan.globals[value.name] ?? value.name)
          : '';
  const type = name ? typeNamed(world, name, source) : undefined;
  return type && [type];
}

/** The declared type of a field of a type or its parents. */
function fieldOf(own: WorldType | undefined, name: string): string {
  for (const { script, local } of own ? [own, ...own.ancestors] : []) {
    const field = itemAt(script.types, local).fields.find((one) => one.name === name);
    if (field) return field.type;
  }
  return '';
}

/** The type of part that a look-up asks for. */
function partAsked({ script }: FileFacts, operation: number): string {
  const type = script?.operations[operation]?.arguments.type;
  return type ? typeName(type) : '';
}

/** The type whose code it is, or the script for code outside of types. */
export function typePiece(world: World, source: number, local: number): number {
  return ownType(world, source, local)?.piece ?? itemAt(world.files.piece, source);
}
