/** Look-ups and slots, evaluated from each place where a script runs. */
import { kindOf } from '../model/graph.js';
import type { Verb } from '../model/link.js';
import type { Operation, Value } from '../reading/facts.js';
import type { CallRule } from '../reading/plan/plan.js';
import { evaluateAt, walkOf, type Evaluator, type Outcome, type Place } from './evaluate.js';
import type { EmptySlot, LookUp } from './linked.js';
import { addLost, type LookUpPlan, type Work } from './work.js';
import { topOf, type World, type WorldPart, type WorldType } from './world.js';

/** Evaluates everything that runs on some parts. */
export function linkPlaces(work: Work, parts: Iterable<WorldPart>): void {
  const { world } = work;
  for (const part of parts) {
    if (!part.type) continue;
    const top = topOf(world, part.object);
    const isLoose = kindOf(world.builder.graph, top) !== 'scene';
    if (isLoose && isInstanced(world, top)) continue;
    const place: Place = { part, isLoose };
    const evaluator = evaluateAt(world, place, work.slots, work.madeAtRun);
    let todo = work.lookUpPlans.get(part.type);
    if (!todo) work.lookUpPlans.set(part.type, (todo = lookUpsOf(world, part.type)));
    const outcomes = new Uint8Array(todo.length);
    todo.forEach((one, at) => (outcomes[at] = STATES.indexOf(linkLookUp(work, place, evaluator, one))));
    if (todo.length > 0) work.outcomes.set(part.piece, outcomes);
    findEmptySlots(work, part, part.type);
  }
}

const STATES = ['unknown', 'found', 'lost'] as const;

/** Takes back what {@link linkPlaces} noted of some parts, links left alone. Plans must still be as they were then. */
export function forgetPlaces(work: Work, parts: ReadonlySet<WorldPart>): void {
  const pieces = new Set([...parts].map((part) => part.piece));
  const touched = new Set<LookUp>();
  for (const part of parts) {
    const outcomes = work.outcomes.get(part.piece);
    if (!outcomes || !part.type) continue;
    work.lookUpPlans.get(part.type)!.forEach(({ type, operation }, at) => {
      const lookUp = work.lookUps.get(type.source)?.[operation];
      if (!lookUp) return;
      touched.add(lookUp);
      if (STATES[outcomes[at]] === 'found') lookUp.foundCount--;
      else if (STATES[outcomes[at]] === 'unknown') lookUp.unknownCount--;
    });
    work.outcomes.delete(part.piece);
  }
  for (const lookUp of touched) {
    lookUp.lost = lookUp.lost.filter((place) => !pieces.has(place.part));
    if (lookUp.firstFound && pieces.has(lookUp.firstFound.part)) lookUp.firstFound = undefined;
  }
  work.linked.emptySlots = work.linked.emptySlots.filter((slot) => !pieces.has(slot.part));
}

/** All look-ups, and an example of where each holds. */
export function gatherLookUps({ lookUps, lookUpPlans, outcomes, world }: Work): LookUp[] {
  const all = [...lookUps.values()].flatMap((found) => found.filter(Boolean));
  const without = new Set(all.filter((lookUp) => lookUp.foundCount > 0 && !lookUp.firstFound));
  if (without.size > 0) {
    for (const part of world.partByPiece.values()) {
      const states = outcomes.get(part.piece);
      if (!states) continue;
      lookUpPlans.get(part.type!)!.forEach(({ type, operation }, at) => {
        const lookUp = lookUps.get(type.source)?.[operation];
        if (lookUp && without.has(lookUp) && STATES[states[at]] === 'found')
          lookUp.firstFound ??= { part: part.piece, object: part.object };
      });
    }
  }
  return all.filter((lookUp) => lookUp.foundCount + lookUp.unknownCount + lookUp.lost.length > 0);
}

function isInstanced(world: World, top: number): boolean {
  const path = world.builder.graph.texts[world.builder.graph.pieces.file[top]];
  return world.instanced.has(world.sourceOf.get(path) ?? -1);
}

const LOOK_UPS = new Set<CallRule['means']>([
  'step up',
  'child',
  'object path',
  'find',
  'part',
  'find label',
  'find type',
]);
/** Calls that do something to what a look-up found: how their links read. */
const ACTS: Partial<Record<CallRule['means'], Verb>> = { destroy: 'destroys', switch: 'switches', move: 'moves' };

/** The look-ups that run with a type: its own and those of parents whose function it does not replace. */
function lookUpsOf(world: World, type: WorldType): LookUpPlan[] {
  const found: LookUpPlan[] = [];
  const replaced = new Set<string>();
  for (const from of [type, ...type.ancestors]) {
    const { operations, functions } = from.script;
    const receivers = new Set(operations.flatMap((one) => operationsIn(one.receiver)));
    operations.forEach((operation, index) => {
      const { means } = world.plan.calls[operation.rule];
      if (operation.type !== from.local || (!LOOK_UPS.has(means) && !ACTS[means])) return;
      const isStep = means === 'step up' && receivers.has(index);
      const name = operation.function >= 0 ? functions[operation.function].name : '';
      if (!isStep && !replaced.has(name)) found.push({ type: from, operation: index });
    });
    for (const code of functions)
      if (code.type === from.local && code.name && !code.callsParent) replaced.add(code.name);
  }
  return found;
}

function operationsIn(value: Value): number[] {
  if (value.is === 'operation') return [value.operation];
  return value.is === 'any' ? value.of.flatMap(operationsIn) : [];
}

function linkLookUp(
  work: Work,
  place: Place,
  evaluator: Evaluator,
  { type, operation: index }: LookUpPlan,
): Outcome['state'] {
  const { world } = work;
  const outcome = evaluator.operation(type, index);
  const operation = type.script.operations[index];
  const { file } = world.facts[type.source];
  const rule = world.plan.calls[operation.rule];
  const act = ACTS[rule.means];
  if (act) {
    linkAct(work, place, outcome, operation, rule, act, file);
    return outcome.state;
  }
  let found = work.lookUps.get(type.source);
  if (!found) work.lookUps.set(type.source, (found = []));
  let lookUp = found[index];
  if (!lookUp) {
    lookUp = {
      file,
      range: operation.range,
      typePiece: type.piece,
      typeName: type.name,
      ups: 0,
      down: false,
      guarded: operation.guarded,
      isSureToRun: operation.moment !== 'unknown' || work.wiredHandlers.has(functionName(type, operation)),
      foundCount: 0,
      unknownCount: 0,
      lost: [],
    };
    found[index] = lookUp;
  }
  noteClimb(lookUp, outcome);
  const { piece: part, object } = place.part;
  const walk = outcome.state === 'lost' ? walkOf(world, outcome) : [];
  if (outcome.state === 'lost')
    lookUp.lost.push({ part, object, origin: originOf(world, place.part), loss: outcome.loss!, walk });
  else if (outcome.state === 'unknown') lookUp.unknownCount++;
  else {
    lookUp.foundCount++;
    lookUp.firstFound ??= { part, object };
  }
  const { range } = operation;
  if (outcome.state === 'lost') {
    addLost(work, { from: part, verb: 'uses', file, field: '', range }, outcome.loss!, walk);
    return outcome.state;
  }
  for (const to of outcome.pieces) {
    world.builder.addLink({
      from: part,
      to,
      verb: 'uses',
      grip: outcome.grip,
      scope: rule.scope,
      moment: operation.moment,
      side: rule.side,
      label: outcome.asks,
      file,
      range,
    });
  }
  return outcome.state;
}

/** What is done to the pieces that a look-up found; what it has lost is told by the look-up itself. */
function linkAct(
  { world }: Work,
  { part }: Place,
  outcome: Outcome,
  { moment, range }: Operation,
  { scope, side }: CallRule,
  verb: Verb,
  file: string,
): void {
  for (const to of outcome.pieces)
    world.builder.addLink({ from: part.piece, to, verb, grip: outcome.grip, scope, moment, side, file, range });
}

/** The object of the prefab that the part was copied from; its own object if it was not. */
function originOf(world: World, part: WorldPart): number {
  const { origin, parent } = world.builder.graph.pieces;
  return origin[part.piece] >= 0 ? parent[origin[part.piece]] : part.object;
}

function functionName(type: WorldType, operation: Operation): string {
  return operation.function >= 0 ? type.script.functions[operation.function].name : '';
}

function noteClimb(lookUp: LookUp, outcome: Outcome): void {
  if (outcome.state === 'unknown') return;
  lookUp.ups = Math.max(lookUp.ups, outcome.ups);
  lookUp.climbAt ??= outcome.climbAt;
  lookUp.down ||= outcome.down && outcome.ups > 0;
}

/** Exposed fields of the type and its parents that must be filled and are not, on this part. */
function findEmptySlots(work: Work, part: WorldPart, type: WorldType): void {
  const { world } = work;
  const chain = [type, ...type.ancestors];
  for (const declaring of chain) {
    for (const field of declaring.script.types[declaring.local].fields) {
      if (!field.required || isSetInCode(work, chain, field.name)) continue;
      const saved = part.values.filter((one) => one.value.name === field.name).at(-1);
      if (saved && !saved.value.empty) continue;
      const slot: EmptySlot = {
        part: part.piece,
        object: part.object,
        origin: originOf(world, part),
        field: field.name,
        fieldType: field.type,
        typeName: type.name,
        declaredIn: world.facts[declaring.source].file,
        declaredAt: field.range,
        file: world.facts[saved?.source ?? part.source].file,
        range: saved?.value.range ?? part.fact.range,
        isWritten: saved !== undefined,
      };
      work.linked.emptySlots.push(slot);
    }
  }
}

function isSetInCode(work: Work, chain: WorldType[], field: string): boolean {
  const own = chain.some((type) =>
    type.script.fieldValues.some((one) => one.type === type.local && one.field === field && one.value.is !== 'nothing'),
  );
  return own || work.world.setElsewhere.has(field);
}
