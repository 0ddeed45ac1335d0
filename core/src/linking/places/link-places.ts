/** Look-ups and slots, evaluated from each place where a script runs. */
import { cellAt, itemAt, must } from '../../helpers/at.js';
import { kindOf, nameOf } from '../../model/graph.js';
import type { Operation, Value } from '../../reading/facts.js';
import { MEANING } from '../../reading/plan/meanings.js';
import type { CallRule } from '../../reading/plan/plan.js';
import type { LookUp } from '../linked.js';
import { evaluateAt, type Evaluator } from '../look-ups/evaluate.js';
import { walkOf, type Outcome } from '../look-ups/outcome.js';
import type { Place } from '../look-ups/place.js';
import { sideOf } from '../scripts/operations.js';
import { checkSlots, checkVariables, originOf } from '../slots.js';
import { addLost, type LookUpPlan, type Work } from '../work.js';
import { topOf, type World, type WorldPart, type WorldType } from '../world/world.js';
import { linkAct } from './acts.js';
import { STATES } from './gather.js';

/** Evaluates everything that runs on some parts. */
export function linkPlaces(work: Work, parts: Iterable<WorldPart>): void {
  const { world } = work;
  for (const part of parts) {
    if (!part.type && part.graph === undefined) continue;
    const top = topOf(world, part.object);
    const isLoose = kindOf(world.builder.graph, top) !== 'scene';
    if (isLoose && isInstanced(world, top)) continue;
    if (!part.type) {
      checkVariables(work, part);
      continue;
    }
    const place: Place = { part, isLoose };
    const evaluator = evaluateAt(world, place, work.slots, work.madeAtRun);
    let todo = work.lookUpPlans.get(part.type);
    if (!todo) work.lookUpPlans.set(part.type, (todo = lookUpsOf(world, part.type)));
    const outcomes = new Uint8Array(todo.length);
    todo.forEach((one, at) => (outcomes[at] = STATES.indexOf(linkLookUp(work, place, evaluator, one))));
    if (todo.length > 0) work.outcomes.set(part.piece, outcomes);
    checkSlots(work, part, part.type);
  }
}

function isInstanced(world: World, top: number): boolean {
  const path = itemAt(world.builder.graph.texts, cellAt(world.builder.graph.pieces.file, top));
  return world.prefabs.instanced.has(world.files.sourceOf.get(path) ?? -1);
}

/** The look-ups that run with a type: its own and those of parents whose function it does not replace. */
function lookUpsOf(world: World, type: WorldType): LookUpPlan[] {
  const found: LookUpPlan[] = [];
  const replaced = new Set<string>();
  for (const from of [type, ...type.ancestors]) {
    const { operations, functions } = from.script;
    const lookingUp = operations.filter(({ rule }) => MEANING[itemAt(world.plan.calls, rule).means].isLookUp);
    const receivers = new Set(lookingUp.flatMap((one) => operationsIn(one.receiver)));
    operations.forEach((operation, index) => {
      const { means } = itemAt(world.plan.calls, operation.rule);
      if (operation.type !== from.local || (!MEANING[means].isLookUp && !MEANING[means].act)) return;
      const isStep = means === 'step up' && receivers.has(index);
      const name = operation.function >= 0 ? itemAt(functions, operation.function).name : '';
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
  const operation = itemAt(type.script.operations, index);
  const { file } = itemAt(world.facts, type.source);
  const rule = itemAt(world.plan.calls, operation.rule);
  const { act } = MEANING[rule.means];
  if (act) {
    linkAct(work, place, outcome, operation, rule, act, file, type);
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
      moment: operation.moment,
      isConditional: operation.isConditional,
      isStep: rule.means === 'step up',
      isSureToRun: operation.moment !== 'unknown' || work.wiredHandlers.has(functionName(type, operation)),
      foundCount: 0,
      unknownCount: 0,
      lost: [],
    };
    found[index] = lookUp;
  }
  noteClimb(lookUp, outcome);
  if (!place.isLoose) noteAmbiguous(work, place, outcome, rule, type, file, operation);
  const { piece: part, object } = place.part;
  const walk = outcome.state === 'lost' ? walkOf(world, outcome) : [];
  if (outcome.state === 'lost')
    lookUp.lost.push({ part, object, origin: originOf(world, place.part), loss: must(outcome.loss), walk });
  else if (outcome.state === 'unknown') lookUp.unknownCount++;
  else {
    lookUp.foundCount++;
    lookUp.firstFound ??= { part, object };
  }
  const { range } = operation;
  if (outcome.state === 'lost') {
    addLost(work, { from: part, verb: 'uses', file, field: '', range }, must(outcome.loss), walk);
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
      side: sideOf(rule, operation),
      label: outcome.asks,
      file,
      range,
    });
  }
  return outcome.state;
}

/** Several objects of one name where one is meant. */
function noteAmbiguous(
  { world, linked }: Work,
  { part }: Place,
  { state, pieces, before }: Outcome,
  { means, scope }: CallRule,
  type: WorldType,
  file: string,
  { range }: Operation,
): void {
  const isOne = means === 'find' ? scope === 'one' : (means === 'child' || means === 'object path') && scope !== 'all';
  // A choice that was open before is told where it was first made.
  if (!isOne || state !== 'found' || pieces.length < 2 || (before?.pieces.length ?? 1) > 1) return;
  const { graph } = world.builder;
  const wanted = nameOf(graph, itemAt(pieces, 0));
  if (!pieces.every((piece) => nameOf(graph, piece) === wanted)) return;
  linked.faults.push({
    is: 'ambiguous',
    part: part.piece,
    foundIn: '',
    file,
    range,
    object: part.object,
    origin: originOf(world, part),
    typeName: type.name,
    wanted,
    matches: pieces,
  });
}

function functionName(type: WorldType, operation: Operation): string {
  return operation.function >= 0 ? itemAt(type.script.functions, operation.function).name : '';
}

function noteClimb(lookUp: LookUp, outcome: Outcome): void {
  if (outcome.state === 'unknown') return;
  lookUp.ups = Math.max(lookUp.ups, outcome.ups);
  lookUp.climbAt ??= outcome.climbAt;
  lookUp.down ||= outcome.down && outcome.ups > 0;
}
