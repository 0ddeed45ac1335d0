/** Saved values of exposed fields: what is left empty, what no longer belongs, and what a field cannot take. */
import { scriptRuleOf } from '../reading/plan/content.js';
import { cellAt, itemAt, must } from '../helpers/at.js';
import { FLAGS, kindOf } from '../model/graph.js';
import type { FieldFact } from '../reading/facts.js';
import { referenceOutcome } from './look-ups/reference.js';
import { isOfType } from './look-ups/parts-of.js';
import { slotKey } from './look-ups/place.js';
import { findMember, isWhole, memberNames, savesFields, takesValue } from './members.js';
import { isEngines } from './losses.js';
import type { Work } from './work.js';
import { hasUnknownParts } from './world/parts.js';
import { fileRuleOf, type World, type WorldPart, type WorldType } from './world/world.js';
import { typeNamed } from './world/types.js';
import { isRead, isTypeRead, mayBeUnread, scripting } from './world/unread.js';

/** The object of the prefab that the part was copied from; its own object if it was not. */
export function originOf(world: World, part: WorldPart): number {
  const { origin, parent } = world.builder.graph.pieces;
  return cellAt(origin, part.piece) >= 0 ? cellAt(parent, cellAt(origin, part.piece)) : part.object;
}

/** Looks through the slots of a part that runs a script. */
export function checkSlots(work: Work, part: WorldPart, type: WorldType): void {
  const chain = [type, ...type.ancestors];
  for (const declaring of chain) {
    const { file } = itemAt(work.world.facts, declaring.source);
    for (const field of itemAt(declaring.script.types, declaring.local).fields) {
      if (field.required && !isSetInCode(work, chain, field.name)) findEmpty(work, part, field, type.name, file);
      if (field.exposed || field.type) checkKind(work, part, field.name, field.type, type.name, declaring.source);
    }
  }
  findStale(work, part, type);
}

/** Looks through the variables that a part assigns to the behaviour graph it runs. */
export function checkVariables(work: Work, part: WorldPart): void {
  const { world } = work;
  const source = graphOf(world, part);
  if (source === undefined) return;
  const { file, name, pieces } = itemAt(world.facts, source);
  const graphs = Object.values(fileRuleOf(world, source).graphs);
  for (const piece of pieces) {
    const graph = graphs.find(({ variables }) => variables === piece.rule);
    if (!graph) continue;
    const { type = '', default: given } = piece.details ?? {};
    const field = { name: piece.name, type, range: piece.range };
    if (given === undefined) findEmpty(work, part, field, name, file, graph.selfWhenEmpty);
    checkKind(work, part, piece.name, type, name, source);
  }
}

/** Position in the facts of the graph file that a part runs. */
function graphOf(world: World, part: WorldPart): number | undefined {
  if (part.type || part.graph === undefined) return undefined;
  return itemAt(world.facts, part.graph).kind === 'graph' ? part.graph : undefined;
}

function findEmpty(
  work: Work,
  part: WorldPart,
  field: Pick<FieldFact, 'name' | 'type' | 'range'>,
  typeName: string,
  declaredIn: string,
  selfWhenEmpty = selfWhenEmptyOf(work.world, part),
): void {
  const { world } = work;
  const saved = part.values.filter((one) => one.value.name === field.name).at(-1);
  if (saved && !saved.value.empty) return;
  if (!saved && mayBeFilledUnread(world, part, field.name)) return;
  work.linked.emptySlots.push({
    part: part.piece,
    object: part.object,
    origin: originOf(world, part),
    field: field.name,
    fieldType: field.type,
    typeName,
    declaredIn,
    declaredAt: field.range,
    file: itemAt(world.facts, saved?.source ?? part.source).file,
    range: saved?.value.range ?? part.fact.range,
    isWritten: saved !== undefined,
    meansSelf: slotTypes(field.type).some((one) => selfWhenEmpty.includes(one)),
    source: saved?.source ?? part.source,
    pieceFact: saved?.pieceFact ?? part.pieceFact,
    partFact: saved?.partFact ?? part.partFact,
  });
}

/** Types for which the rule of the part's script says that an empty slot means the object itself. */
function selfWhenEmptyOf({ plan, facts }: World, { type }: WorldPart): readonly string[] {
  return type ? scriptRuleOf(plan, itemAt(facts, type.source)).exposed.selfWhenEmpty : [];
}

/** Whether a value may stand, or be given, where it was not read. */
function mayBeFilledUnread(world: World, part: WorldPart, field: string): boolean {
  const isCodeRead = part.type === undefined || isTypeRead(world, part.type);
  return world.trees.incomplete.has(part.object) || !isCodeRead || mayBeUnread(world, field, scripting);
}

function isSetInCode(work: Work, chain: WorldType[], field: string): boolean {
  const own = chain.some((type) =>
    type.script.fieldValues.some((one) => one.type === type.local && one.field === field && one.value.is !== 'nothing'),
  );
  return own || work.world.code.setElsewhere.has(field);
}

/** Values saved for fields that the script does not have. */
function findStale(work: Work, part: WorldPart, type: WorldType): void {
  const { world } = work;
  if (part.values.length === 0 || !isWhole(world, type) || !savesFields(type)) return;
  for (const { value, source } of part.values) {
    if (findMember(type, value.name) || isEngines(world.plan.engine.members, value.name)) continue;
    if (takesValue(type, value.name) || !isRead(world, source)) continue;
    work.linked.faults.push({
      is: 'stale value',
      part: part.piece,
      foundIn: '',
      object: part.object,
      origin: originOf(world, part),
      type: type.piece,
      typeName: type.name,
      field: value.name,
      fields: memberNames(type).filter((name) => isExposedIn(type, name)),
      file: itemAt(world.facts, source).file,
      range: value.range,
    });
  }
}

function isExposedIn(type: WorldType, name: string): boolean {
  return [type, ...type.ancestors].some(({ script, local }) =>
    itemAt(script.types, local).fields.some((field) => field.name === name && field.exposed),
  );
}

/** Whether what stands in a slot can be taken by its field. */
function checkKind(
  work: Work,
  part: WorldPart,
  field: string,
  written: string,
  typeName: string,
  declaredIn: number,
): void {
  const { world } = work;
  const saved = part.values.filter((one) => one.value.name === field).at(-1);
  if (!saved || !isRead(world, saved.source)) return;
  const references = work.slots.get(slotKey(saved.source, saved.pieceFact, saved.partFact, field)) ?? [];
  if (references.length === 0) return;
  const wanted = slotTypes(written);
  for (const reference of references) {
    const outcome = referenceOutcome(world, reference, saved.source, part.object);
    if (outcome.state !== 'found') continue;
    const common = {
      part: part.piece,
      foundIn: '',
      file: itemAt(world.facts, saved.source).file,
      range: reference.range,
    };
    const target = itemAt(outcome.pieces, 0);
    if (isBarred(world, target)) {
      work.linked.faults.push({ is: 'barred', from: part.piece, target, how: 'slot', label: field, ...common });
      continue;
    }
    if (
      wanted.length === 0 ||
      wanted.some((one) => outcome.pieces.some((piece) => fits(world, piece, one, declaredIn)))
    )
      continue;
    const children = world.trees.children.get(target) ?? [];
    work.linked.faults.push({
      is: 'wrong kind',
      ...common,
      object: part.object,
      origin: originOf(world, part),
      typeName,
      field,
      wants: wanted.join(' or '),
      target,
      below: children.find((child) => wanted.some((one) => carries(world, child, one))) ?? -1,
      text: reference.text,
    });
  }
}

export function isBarred(world: World, piece: number): boolean {
  return (cellAt(world.builder.graph.pieces.flags, piece) & FLAGS.barred) !== 0;
}

/** Whether a slot of a type can take a piece. What cannot be judged fits. */
export function fits(world: World, piece: number, wanted: string, source: number): boolean {
  const kind = kindOf(world.builder.graph, piece);
  const kinds = world.plan.engine.takes[wanted];
  if (kinds) return kinds.includes(kind);
  const type = typeNamed(world, wanted, source);
  const isPart = type ? itemAt(type.script.types, type.local).kind === 'class' && isCarried(world, type) : false;
  if (!isPart && !world.names.parts.has(wanted) && !isEngines(world.plan.engine.parts, wanted)) return true;
  if (kind === 'part') return true;
  // A text of the game's own may stand for an object; what else stands there, we cannot say of a type of parts.
  if (kind !== 'object') return kind !== 'media' && kind !== 'scene' && kind !== 'data asset' && kind !== 'record';
  return carries(world, piece, wanted) || hasUnknownParts(world, piece);
}

/** Whether a type, or one that descends from it, runs on any object. */
function isCarried(world: World, type: WorldType): boolean {
  return world.types.carried.has(type.name);
}

function carries(world: World, object: number, wanted: string): boolean {
  return (world.trees.partsOf.get(object) ?? []).some((one) => isOfType(one, wanted));
}

/** Wrappers of one type that say how many or whether, not what. */
const MANY = /^(?:readonly\s+)?(?:[\w.]+)[<[](.*)[>\]]$/s;

/** Names of types that a slot can take, from its declaration as written; none when it says nothing. */
export function slotTypes(written: string): string[] {
  return written
    .split('|')
    .map((one) => one.trim())
    .filter((one) => one !== '' && !/^(null|undefined|None|nil)$/.test(one))
    .flatMap((one) => {
      let type = one.replace(/[?!]$/, '').replace(/^readonly\s+/, '');
      while (type.endsWith('[]')) type = type.slice(0, -2).trim();
      const inner = MANY.exec(type)?.[1];
      if (inner !== undefined) return inner.includes(',') ? [] : slotTypes(inner);
      return /^[\w.]+$/.test(type) ? [must(type.split('.').pop())] : [];
    });
}
