/** What the links of an operation have in common. */
import { cellAt, itemAt, must } from '../../helpers/at.js';
import { nameOf } from '../../model/graph.js';
import type { Side } from '../../model/link.js';
import { UNKNOWN, type FileFacts, type Operation, type Value } from '../../reading/facts.js';
import type { Meaning } from '../../reading/plan/meanings.js';
import type { CallRule } from '../../reading/plan/plan.js';
import { referenceOutcome } from '../look-ups/reference.js';
import { textsOf, typeName } from '../look-ups/texts.js';
import type { Pointer } from '../targets.js';
import { partsRunning } from '../world/parts.js';
import { typeNamed } from '../world/types.js';
import type { World, WorldPart, WorldType } from '../world/world.js';

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
  if (kept.length === 0) return eventsInSlots(world, own, value.name);
  return kept.every((way) => way !== undefined) ? [...new Set(kept.map((way) => called(world, way)))] : [];
}

/** What fills a field wherever the type runs; nothing where that is not known of each place. */
function eventsInSlots(world: World, own: WorldType, field: string): string[] {
  const key = `${own.index} ${field}`;
  const known = world.code.eventsInSlots.get(key);
  if (known) return known;
  const filled = partsRunning(world, own).map((part) => piecesIn(world, part, field));
  const names = filled.every((pieces) => pieces !== undefined)
    ? filled.flat().map((one) => calledInTree(world, one))
    : [];
  const events = [...new Set(names)];
  world.code.eventsInSlots.set(key, events);
  return events;
}

/** The pieces that fill a field of a part: none where it is empty or lost, undefined where what stands there is no reference. */
function piecesIn(world: World, part: WorldPart, field: string): readonly number[] | undefined {
  const saved = part.values.filter((one) => one.value.name === field).at(-1);
  if (!saved || saved.value.empty) return [];
  const reference = itemAt(world.facts, saved.source).references.find(
    (one) => one.piece === saved.pieceFact && one.part === saved.partFact && one.field === field,
  );
  const found = reference && referenceOutcome(world, reference, saved.source, part.object);
  if (found?.state === 'lost') return [];
  return found?.state === 'found' ? found.pieces : undefined;
}

/** As a look-up would name it; an object of an instance as that of its prefab. */
function calledInTree(world: World, piece: number): string {
  const { graph } = world.builder;
  const { origin, parent } = graph.pieces;
  let at = piece;
  while (cellAt(origin, at) >= 0) at = cellAt(origin, at);
  const above = cellAt(parent, at);
  return called(world, above < 0 ? nameOf(graph, at) : `${nameOf(graph, above)}/${nameOf(graph, at)}`);
}

function called(world: World, way: string): string {
  const name = way.slice(way.lastIndexOf('/') + 1);
  return (world.names.byName.get(name) ?? []).length > 1 ? way : name;
}

/** The names by which look-ups one after the other come to an object; undefined when one of them is not written out. */
function wayTo(world: World, own: WorldType, operation: number): string | undefined {
  const { rule, receiver, arguments: given } = itemAt(own.script.operations, operation);
  const { means } = itemAt(world.plan.calls, rule);
  // A service is known by its type.
  if (means === 'find type') return (given.type && typeName(given.type)) || undefined;
  if (!LEADS_BY_NAME.has(means)) return undefined;
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
