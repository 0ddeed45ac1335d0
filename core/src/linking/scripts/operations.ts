/** What the links of an operation have in common. */
import { itemAt, must } from '../../helpers/at.js';
import type { Side } from '../../model/link.js';
import { UNKNOWN, type FileFacts, type Operation, type Value } from '../../reading/facts.js';
import type { Meaning } from '../../reading/plan/meanings.js';
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
  return own ? eventObjects(world, own, value) : [];
}

/**
 * An event that is an object, known by its name, whatever way leads to it; where several are called so, by the way:
 * `Bells/Fog`.
 */
function eventObjects(world: World, own: WorldType, value: Value): string[] {
  if (value.is === 'operation') {
    const way = wayTo(world, own, value.operation);
    return way === undefined ? [] : [called(world, way)];
  }
  if (value.is !== 'field') return [];
  const kept = [own, ...own.ancestors].flatMap((type) =>
    type.script.fieldValues
      .filter((one) => one.type === type.local && one.field === value.name && one.value.is !== 'nothing')
      .map((one) => (one.value.is === 'operation' ? wayTo(world, type, one.value.operation) : undefined)),
  );
  return kept.every((way) => way !== undefined) ? [...new Set(kept.map((way) => called(world, way)))] : [];
}

function called(world: World, way: string): string {
  const name = way.slice(way.lastIndexOf('/') + 1);
  return (world.names.byName.get(name) ?? []).length > 1 ? way : name;
}

/** The names by which look-ups one after the other come to an object; undefined when one of them is not written out. */
function wayTo(world: World, own: WorldType, operation: number): string | undefined {
  const { rule, receiver, arguments: given } = itemAt(own.script.operations, operation);
  if (!LEADS_BY_NAME.has(itemAt(world.plan.calls, rule).means)) return undefined;
  const [name, ...others] = textsOf(world, given.name ?? given.path ?? UNKNOWN, own);
  if (name === undefined || others.length > 0) return undefined;
  if (receiver.is !== 'operation') return name;
  const before = wayTo(world, own, receiver.operation);
  return before === undefined ? undefined : `${before}/${name}`;
}

const LEADS_BY_NAME = new Set<Meaning>(['find', 'child', 'object path']);

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
