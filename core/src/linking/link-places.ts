/** Look-ups and slots, evaluated from each place where a script runs. */
import { kindOf, nameOf } from '../model/graph.js';
import type { Side } from '../model/link.js';
import { ATTACHED } from '../model/life.js';
import type { Operation, PartFact, Value } from '../reading/facts.js';
import { MEANING, type MeaningOf } from '../reading/plan/meanings.js';
import type { CallRule } from '../reading/plan/plan.js';
import { evaluateAt, type Evaluator } from './look-ups/evaluate.js';
import { typeName } from './look-ups/texts.js';
import { walkOf, type Outcome } from './look-ups/outcome.js';
import type { Place } from './look-ups/place.js';
import { sideOf } from './link-scripts.js';
import type { LookUp } from './linked.js';
import { checkSlots, checkVariables, isBarred, originOf } from './slots.js';
import { addLost, type LookUpPlan, type Work } from './work.js';
import { addPart, partsRunning } from './world/parts.js';
import { topOf, type World, type WorldPart, type WorldType } from './world/world.js';
import { typeNamed } from './world/types.js';

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
      if (lookUp.firstFound?.part === part.piece) work.unsureFirsts.set(lookUp, { type, operation });
      touched.add(lookUp);
      if (STATES[outcomes[at]] === 'found') lookUp.foundCount--;
      else if (STATES[outcomes[at]] === 'unknown') lookUp.unknownCount--;
    });
    work.outcomes.delete(part.piece);
  }
  for (const lookUp of touched) {
    lookUp.lost = lookUp.lost.filter((place) => !pieces.has(place.part));
  }
  work.linked.emptySlots = work.linked.emptySlots.filter((slot) => !pieces.has(slot.part));
  work.linked.faults = work.linked.faults.filter((fault) => !pieces.has(fault.part));
}

/** All look-ups, and an example of where each holds. */
export function gatherLookUps(work: Work): LookUp[] {
  for (const [lookUp, plan] of work.unsureFirsts) lookUp.firstFound = firstFound(work, plan);
  work.unsureFirsts.clear();
  return [...work.lookUps.values()]
    .flatMap((found) => found.filter(Boolean))
    .filter((lookUp) => lookUp.foundCount + lookUp.unknownCount + lookUp.lost.length > 0);
}

/** The first part from which a look-up holds. */
function firstFound({ world, lookUpPlans, outcomes }: Work, plan: LookUpPlan): LookUp['firstFound'] {
  const found = STATES.indexOf('found');
  for (const part of partsRunning(world, plan.type)) {
    const at = lookUpPlans
      .get(part.type!)
      ?.findIndex(({ type, operation }) => type === plan.type && operation === plan.operation);
    if (at !== undefined && at >= 0 && outcomes.get(part.piece)?.[at] === found)
      return { part: part.piece, object: part.object };
  }
  return undefined;
}

function isInstanced(world: World, top: number): boolean {
  const path = world.builder.graph.texts[world.builder.graph.pieces.file[top]];
  return world.prefabs.instanced.has(world.files.sourceOf.get(path) ?? -1);
}

/**
 * Scripts that code attaches: `this.child('Hull').attach(Leak)` runs Leak on every Hull below an object that carries
 * the code. What is attached so may attach more; three rounds are as deep as code goes.
 */
export function attachByCode(work: Work): void {
  const { world } = work;
  const attaching = new Set(
    world.types.all.filter(({ script, local }) =>
      script.operations.some((one) => one.type === local && world.plan.calls[one.rule].means === 'attach'),
    ),
  );
  work.isAttachedByCode = attaching.size > 0;
  if (attaching.size === 0) return;
  const done = new Set<string>();
  let parts = [...world.trees.partByPiece.values()];
  for (let round = 0; round < 3 && parts.length > 0; round++)
    parts = parts.flatMap((part) => attachedBy(work, part, attaching, done));
}

/** Parts that the code of one part attaches. */
function attachedBy(work: Work, part: WorldPart, attaching: ReadonlySet<WorldType>, done: Set<string>): WorldPart[] {
  const { world } = work;
  const own = part.type;
  if (!own || ![own, ...own.ancestors].some((type) => attaching.has(type))) return [];
  const isLoose = kindOf(world.builder.graph, topOf(world, part.object)) !== 'scene';
  const evaluator = evaluateAt(world, { part, isLoose }, work.slots, work.madeAtRun);
  return [own, ...own.ancestors].flatMap((type) =>
    type.script.operations.flatMap((operation) => {
      if (operation.type !== type.local || world.plan.calls[operation.rule].means !== 'attach') return [];
      const name = operation.arguments.type && typeName(operation.arguments.type);
      const attached = name ? typeNamed(world, name, type.source) : undefined;
      if (!attached) return [];
      const outcome = evaluator.value(type, operation.receiver);
      return (outcome.state === 'found' ? outcome.pieces : []).flatMap((piece) => {
        const object = world.trees.partByPiece.get(piece)?.object ?? piece;
        const key = `${object} ${attached.index}`;
        if (done.has(key)) return [];
        done.add(key);
        const fact: PartFact = { rule: -1, type: attached.name, values: [], range: operation.range };
        const place = { source: type.source, pieceFact: -1, partFact: -1, values: [] };
        const added = addPart(world, { object, typeName: attached.name, type: attached, fact, ...place });
        const { file } = world.facts[type.source];
        const { moment, range } = operation;
        const from = part.piece;
        const link = {
          from,
          to: added.piece,
          verb: 'carries',
          grip: 'name',
          label: ATTACHED,
          moment,
          file,
          range,
        } as const;
        world.builder.addLink(link);
        return [added];
      });
    }),
  );
}

/** The look-ups that run with a type: its own and those of parents whose function it does not replace. */
function lookUpsOf(world: World, type: WorldType): LookUpPlan[] {
  const found: LookUpPlan[] = [];
  const replaced = new Set<string>();
  for (const from of [type, ...type.ancestors]) {
    const { operations, functions } = from.script;
    const receivers = new Set(operations.flatMap((one) => operationsIn(one.receiver)));
    operations.forEach((operation, index) => {
      const { means } = world.plan.calls[operation.rule];
      if (operation.type !== from.local || (!MEANING[means].isLookUp && !MEANING[means].act)) return;
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
  const wanted = nameOf(graph, pieces[0]);
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

/** What is done to the pieces that a look-up found; what it has lost is told by the look-up itself. */
function linkAct(
  { world, linked }: Work,
  { part }: Place,
  outcome: Outcome,
  operation: Operation,
  rule: CallRule,
  { verb, label }: NonNullable<MeaningOf['act']>,
  file: string,
  type: WorldType,
): void {
  const { scope } = rule;
  const { moment, range } = operation;
  const side = sideOf(rule, operation);
  const wanted = typeActedOn(world, operation, type);
  if (wanted && outcome.state === 'found' && outcome.pieces.length > 1) {
    const place = { part: part.piece, foundIn: '', file, range };
    linked.faults.push({ is: 'wide', typeName: type.name, verb, wanted, matches: outcome.pieces, ...place });
  }
  for (const to of outcome.pieces) {
    const object = world.trees.partByPiece.get(to)?.object ?? to;
    const words = label ?? (object === part.object ? 'itself' : undefined);
    // A call for one thing made on all of a type is done to all.
    const whom = wanted ? 'all' : scope;
    const link = {
      from: part.piece,
      to,
      verb,
      grip: outcome.grip,
      scope: whom,
      moment,
      side,
      label: words,
      file,
      range,
    };
    world.builder.addLink(link);
    const how =
      scope === 'self' && object !== part.object
        ? 'self only'
        : isBarred(world, object)
          ? 'act'
          : isOtherSide(rule.side, operation.side)
            ? 'other side'
            : undefined;
    if (!how || outcome.state !== 'found') continue;
    const place = { part: part.piece, foundIn: '', file, range };
    linked.faults.push({ is: 'barred', from: part.piece, target: object, how, label: verb, ...place });
  }
}

/** Whether a call that works on one side alone is made by code that runs on the other. */
function isOtherSide(works: Side, runs: Side): boolean {
  return (works === 'server' && runs === 'client') || (works === 'client' && runs === 'server');
}

/** The type of which everything is acted on; none when it is acted on single things. */
function typeActedOn(
  world: World,
  { arguments: given, receiver }: Operation,
  { script }: WorldType,
): string | undefined {
  const on = given.object ?? receiver;
  const operation = on.is === 'operation' ? script.operations[on.operation] : undefined;
  if (!operation || world.plan.calls[operation.rule].means !== 'find type') return undefined;
  return operation.arguments.type && typeName(operation.arguments.type);
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
