import { kindOf, nameOf } from '../model/graph.js';
import type { Grip, Loss, Verb, WalkStep } from '../model/link.js';
import type { FileFacts, Operation, PartFact, PieceFact, ScriptFacts, Value } from '../reading/facts.js';
import type { CallRule, Plan } from '../reading/plan/plan.js';
import {
  evaluateAt,
  patternOf,
  referenceOutcome,
  slotKey,
  textsOf,
  walkOf,
  type Evaluator,
  type Outcome,
  type Place,
  type SlotReferences,
} from './evaluate.js';
import type { EmptySlot, EventEnds, Linked, LookUp } from './linked.js';
import { countFacts, countOf } from './rule-counts.js';
import { findPath, findTarget, isEngines } from './targets.js';
import {
  buildWorld,
  fileRuleOf,
  push,
  rootsOf,
  topOf,
  typeNamed,
  type World,
  type WorldPart,
  type WorldType,
} from './world.js';

/** Everything under way while linking. */
interface Work {
  world: World;
  slots: SlotReferences;
  /** Names of objects that code can bring into a scene. */
  madeAtRun: Set<string>;
  events: Map<string, EventEnds>;
  /** Functions that wires in files call. */
  wiredHandlers: Set<string>;
  /** Patterns of event names made at run time, by whether they are sent or listened to. */
  builtSends: RegExp[];
  builtListeners: RegExp[];
  linked: Omit<Linked, 'graph' | 'events'>;
}

/**
 * Facts → links: works out where every script runs and what every reference ends on.
 * @param facts of all files that a rule reads
 * @param otherPaths files of the project that no rule reads; references may still lead to them
 */
export function linkFacts(facts: FileFacts[], otherPaths: string[], plan: Plan): Linked {
  const world = buildWorld(facts, otherPaths, plan, prefabOf, scriptOf);
  const work: Work = {
    world,
    slots: new Map(),
    madeAtRun: new Set(),
    events: new Map(),
    wiredHandlers: new Set(facts.flatMap((fact) => fact.events.map((wire) => wire.handler))),
    builtSends: [],
    builtListeners: [],
    linked: {
      plan,
      facts,
      lookUps: [],
      lostReferences: [],
      emptySlots: [],
      mentions: new Set(),
      unknownSends: false,
      unknownListeners: false,
      rules: countFacts(facts, plan),
      losses: new Map(),
    },
  };
  collectSlots(work);
  collectMadeAtRun(work);
  linkTypes(work);
  linkInstances(work);
  linkAttachments(work);
  linkReferences(work);
  linkWrittenEvents(work);
  linkScripts(work);
  linkPlaces(work);
  markBuiltEvents(work);
  return { ...work.linked, events: [...work.events.values()], graph: world.builder.finish() };
}

/** The path of the prefab an object is made from; undefined when it leads nowhere. */
function prefabOf(world: World, source: number, piece: PieceFact): string | undefined {
  const form = fileRuleOf(world, source).pieces[piece.rule].madeFrom!;
  return pathOf(world, form, piece.madeFrom!.text, source);
}

/** The path of the script a part runs. */
function scriptOf(world: World, source: number, piece: PieceFact, part: PartFact): string | undefined {
  const form = fileRuleOf(world, source).pieces[piece.rule].parts[part.rule].script!;
  return pathOf(world, form, part.script!.text, source);
}

type Form = NonNullable<ReturnType<typeof fileRuleOf>['pieces'][string]['madeFrom']>;

function pathOf(world: World, form: Form, text: string, source: number): string | undefined {
  if (form.by === 'path') return findPath(world, form, text, world.facts[source].file).path;
  const target = findTarget(world, form, text, source);
  if (target.state !== 'found') return undefined;
  const { graph } = world.builder;
  return graph.texts[graph.pieces.file[target.pieces[0]]];
}

/** References that are saved values of parts, so that a field can be followed to its target. */
function collectSlots(work: Work): void {
  work.world.facts.forEach((fact, source) => {
    for (const reference of fact.references) {
      if (reference.part >= 0)
        push(work.slots, slotKey(source, reference.piece, reference.part, reference.field), reference);
    }
  });
}

/** Whatever code spawns may turn up under any parent, so its name cannot be said to be missing. */
function collectMadeAtRun(work: Work): void {
  const { world } = work;
  for (const [source, fact] of world.facts.entries()) {
    for (const operation of fact.script?.operations ?? []) {
      const rule = world.plan.calls[operation.rule];
      if (rule.means !== 'spawn' || !operation.arguments.path) continue;
      for (const text of textsOf(world, operation.arguments.path)) {
        const path = findPath(world, rule.target, text, fact.file).path;
        const prefab = path === undefined ? undefined : world.sourceOf.get(path);
        if (prefab === undefined || prefab === source) continue;
        work.madeAtRun.add(world.facts[prefab].name);
        for (const root of rootsOf(world, prefab)) work.madeAtRun.add(nameOf(world.builder.graph, root));
      }
    }
  }
}

function linkTypes(work: Work): void {
  const { world } = work;
  for (const type of world.types) {
    for (const written of type.script.types[type.local].parents) {
      const parent = typeNamed(world, written, type.source);
      if (!parent || parent === type) continue;
      const { file } = world.facts[type.source];
      world.builder.addLink({
        from: type.piece,
        to: parent.piece,
        verb: 'extends',
        grip: 'name',
        file,
        range: type.script.types[type.local].range,
      });
    }
  }
}

function linkInstances(work: Work): void {
  const { world } = work;
  for (const { object, prefab, source, pieceFact } of world.madeFrom) {
    const { madeFrom } = world.facts[source].pieces[pieceFact];
    const form = fileRuleOf(world, source).pieces[world.facts[source].pieces[pieceFact].rule].madeFrom!;
    world.builder.addLink({
      from: object,
      to: world.filePiece[prefab],
      verb: 'made from',
      grip: form.by === 'id' ? 'fixed' : 'path',
      file: world.facts[source].file,
      range: madeFrom!.range,
    });
  }
  world.facts.forEach((fact, source) =>
    fact.pieces.forEach((piece, at) => {
      if (!piece.madeFrom || !world.incomplete.has(world.pieceOf[source][at])) return;
      const form = fileRuleOf(world, source).pieces[piece.rule].madeFrom!;
      const target = findTarget(world, form, piece.madeFrom.text, source);
      if (target.state === 'lost') {
        lose(
          work,
          { from: world.pieceOf[source][at], verb: 'made from', file: fact.file, field: '', ...piece.madeFrom },
          target.loss,
        );
      }
    }),
  );
}

/** Which script each part runs. */
function linkAttachments(work: Work): void {
  const { world } = work;
  for (const part of world.partByPiece.values()) {
    const { file } = world.facts[part.source];
    if (part.type) {
      const grip: Grip = part.fact.script ? 'path' : 'name';
      world.builder.addLink({
        from: part.piece,
        to: part.type.piece,
        verb: 'runs',
        grip,
        file,
        range: part.fact.range,
      });
    } else if (part.fact.script && world.builder.graph.pieces.origin[part.piece] < 0) {
      const piece = world.facts[part.source].pieces[part.pieceFact];
      const form = fileRuleOf(world, part.source).pieces[piece.rule].parts[part.fact.rule].script!;
      const target = findTarget(world, form, part.fact.script.text, part.source);
      if (target.state === 'lost')
        lose(work, { from: part.piece, verb: 'runs', file, field: '', ...part.fact.script }, target.loss);
      else if (target.state === 'found') {
        world.builder.addLink({
          from: part.piece,
          to: target.pieces[0],
          verb: 'runs',
          grip: target.grip,
          file,
          range: part.fact.script.range,
        });
      }
    }
  }
}

interface Losing {
  from: number;
  verb: Verb;
  file: string;
  field: string;
  range: LookUp['range'];
}

function lose(work: Work, { from, verb, file, field, range }: Losing, loss: Loss, walk: WalkStep[] = []): void {
  work.linked.lostReferences.push({ file, range, from, field, loss });
  addLost(work, { from, verb, file, field, range }, loss, walk);
}

function addLost(work: Work, { from, verb, file, field, range }: Losing, loss: Loss, walk: WalkStep[]): void {
  const label = field ? `${field}: ${loss.wanted}` : loss.wanted;
  const link = work.world.builder.addLink({ from, to: -1, verb, grip: 'lost', label, file, range });
  work.linked.losses.set(link, { loss, walk });
}

/** References written in structured files. */
function linkReferences(work: Work): void {
  const { world } = work;
  world.facts.forEach((fact, source) => {
    const rule = world.plan.files[fact.rule];
    for (const reference of fact.references) {
      const object = reference.piece >= 0 ? world.pieceOf[source][reference.piece] : world.filePiece[source];
      const part =
        reference.part >= 0
          ? world.partsOf.get(object)?.find((one) => isWritten(one, source, reference.part))
          : undefined;
      const from = part?.piece ?? object;
      const { verb } = rule.references[reference.rule];
      const isObject = kindOf(world.builder.graph, object) === 'object';
      const isLoose = kindOf(world.builder.graph, topOf(world, object)) !== 'scene';
      const outcome = referenceOutcome(world, reference, source, isObject ? object : -1, isLoose);
      const count = countOf(work.linked.rules, `files.${fact.rule}.references.${reference.rule}`);
      count.links += outcome.state === 'found' ? outcome.pieces.length : 0;
      count.lost += outcome.state === 'lost' ? 1 : 0;
      if (outcome.state === 'lost') {
        lose(
          work,
          { from, verb, file: fact.file, field: reference.field, range: reference.range },
          outcome.loss!,
          outcome.before ? walkOf(world, outcome) : [],
        );
      }
      for (const to of outcome.state === 'found' ? outcome.pieces : []) {
        world.builder.addLink({
          from,
          to,
          verb,
          grip: outcome.grip,
          label: reference.field,
          file: fact.file,
          range: reference.range,
        });
      }
    }
  });
}

function isWritten(part: WorldPart, source: number, partFact: number): boolean {
  return part.source === source && part.partFact === partFact;
}

// Events ------------------------------------------------------------------------------------------------------------

function eventNamed(work: Work, name: string): EventEnds {
  let ends = work.events.get(name);
  if (!ends) {
    const { world } = work;
    const isEvent = (piece: number): boolean => kindOf(world.builder.graph, piece) === 'event';
    const declared = [...(world.byId.get(name) ?? []), ...(world.byName.get(name) ?? [])].find(isEvent);
    const type = declared === undefined ? typeNamed(world, name, -1) : undefined;
    const piece =
      declared ?? (type && !name.includes(' ') ? type.piece : world.builder.addPiece({ kind: 'event', name }));
    ends = { name, piece, declared: declared !== undefined, senders: [], listeners: [] };
    work.events.set(name, ends);
  }
  return ends;
}

/** Wires saved in files: from one object's event to another's handler. */
function linkWrittenEvents(work: Work): void {
  const { world } = work;
  world.facts.forEach((fact, source) => {
    for (const wire of fact.events) {
      const rule = world.plan.files[fact.rule].events[wire.rule];
      const ends = eventNamed(work, wire.event);
      const common = { file: fact.file, range: wire.range };
      const at = (named: string): number => {
        const index = fact.pieces.findIndex((piece) => piece[rule.by] === named);
        return index >= 0
          ? world.pieceOf[source][index]
          : wire.piece >= 0
            ? world.pieceOf[source][wire.piece]
            : world.filePiece[source];
      };
      if (rule.from) {
        const piece = at(wire.from);
        ends.senders.push({ ...common, piece, handler: '' });
        world.builder.addLink({
          from: piece,
          to: ends.piece,
          verb: 'sends',
          grip: 'name',
          label: wire.event,
          ...common,
        });
      }
      if (rule.to || rule.handler) {
        const piece = at(wire.to);
        ends.listeners.push({ ...common, piece, handler: wire.handler });
        world.builder.addLink({
          from: piece,
          to: ends.piece,
          verb: 'listens to',
          grip: 'name',
          label: wire.handler && `→ ${wire.handler}()`,
          ...common,
        });
      }
    }
  });
}

/** What scripts do wherever they run: events, spawns, files they name. */
function linkScripts(work: Work): void {
  const { world } = work;
  world.facts.forEach((fact, source) => {
    if (!fact.script) return;
    for (const mention of fact.script.mentions) work.linked.mentions.add(mention);
    for (const operation of fact.script.operations) {
      const rule = world.plan.calls[operation.rule];
      const from =
        (world.typesIn.get(source) ?? []).find((type) => type.local === operation.type)?.piece ??
        world.filePiece[source];
      if (rule.means === 'send' || rule.means === 'listen') linkEvent(work, fact, from, operation, rule, source);
      else if (rule.means === 'spawn' || rule.means === 'load' || rule.means === 'use file')
        linkFile(work, fact, from, operation, rule, source);
    }
  });
}

function linkEvent(
  work: Work,
  fact: FileFacts,
  from: number,
  operation: Operation,
  rule: CallRule,
  source: number,
): void {
  const { world } = work;
  const isSend = rule.means === 'send';
  const names = operation.arguments.event ? eventNames(work, operation.arguments.event, source) : [];
  if (names.length === 0) return noteUnknownEvent(work, operation, isSend);
  if (rule.under && !names.some((name) => isUnder(world, name, source, rule.under!))) return;
  const handler = operation.arguments.handler;
  const handlerName = handler?.is === 'function' ? handler.name : '';
  for (const name of names) {
    const ends = eventNamed(work, name);
    (isSend ? ends.senders : ends.listeners).push({
      file: fact.file,
      range: operation.range,
      piece: from,
      handler: handlerName,
    });
    world.builder.addLink({
      from,
      to: ends.piece,
      verb: isSend ? 'sends' : 'listens to',
      grip: 'name',
      scope: rule.scope,
      moment: operation.moment,
      side: rule.side,
      label: isSend ? '' : handlerName ? `→ ${handlerName}()` : '',
      file: fact.file,
      range: operation.range,
    });
  }
}

/** Names an event argument can stand for. A name that is no text of ours may be a type that is the event. */
function eventNames(work: Work, value: Value, source: number): string[] {
  const texts = textsOf(work.world, value);
  if (texts.length > 0) return texts;
  if (value.is === 'any') return value.of.flatMap((one) => eventNames(work, one, source));
  if (value.is === 'constant') {
    const last = value.name.split('.').pop()!;
    if (typeNamed(work.world, last, source)) return [last];
    if (value.name.includes('.')) return [value.name];
  }
  return [];
}

function isUnder(world: World, name: string, source: number, parent: string): boolean {
  const type = typeNamed(world, name, source);
  return (
    type !== undefined &&
    (type.name === parent ||
      type.ancestors.some((ancestor) => ancestor.name === parent) ||
      type.script.types[type.local].parents.includes(parent))
  );
}

function noteUnknownEvent(work: Work, operation: Operation, isSend: boolean): void {
  const { event } = operation.arguments;
  if (event?.is === 'join') (isSend ? work.builtSends : work.builtListeners).push(patternOf(event.parts));
  else if (isSend) work.linked.unknownSends = true;
  else work.linked.unknownListeners = true;
}

/** Event names made at run time that fit a known event count as an end of it. */
function markBuiltEvents(work: Work): void {
  for (const ends of work.events.values()) {
    if (
      work.builtSends.some((pattern) => pattern.test(ends.name)) ||
      work.builtListeners.some((pattern) => pattern.test(ends.name))
    ) {
      work.linked.mentions.add(ends.name);
      work.linked.unknownSends = true;
      work.linked.unknownListeners = true;
    }
  }
}

function linkFile(
  work: Work,
  fact: FileFacts,
  from: number,
  operation: Operation,
  rule: CallRule,
  source: number,
): void {
  const { world } = work;
  const verb: Verb = rule.means === 'spawn' ? 'spawns' : rule.means === 'load' ? 'loads' : 'uses';
  const written = operation.arguments.path ?? operation.arguments.name;
  if (!written) return;
  const place = { from, verb, file: fact.file, range: operation.range };
  for (const text of textsOf(world, written)) {
    const target = findTarget(world, rule.target, text, source);
    if (target.state === 'lost' && !operation.guarded) lose(work, { ...place, field: '' }, target.loss);
    if (target.state !== 'found') continue;
    for (const to of target.pieces) {
      world.builder.addLink({
        ...place,
        to,
        grip: target.grip,
        scope: rule.scope,
        moment: operation.moment,
        side: rule.side,
        label: text,
      });
    }
  }
}

// Look-ups from each place ------------------------------------------------------------------------------------------

function linkPlaces(work: Work): void {
  const { world } = work;
  const lookUps: LookUps = new Map();
  const plans = new Map<WorldType, LookUpPlan[]>();
  for (const part of world.partByPiece.values()) {
    if (!part.type) continue;
    const top = topOf(world, part.object);
    const isLoose = kindOf(world.builder.graph, top) !== 'scene';
    if (isLoose && isInstanced(world, top)) continue;
    const place: Place = { part, isLoose };
    const evaluator = evaluateAt(world, place, work.slots, work.madeAtRun);
    let todo = plans.get(part.type);
    if (!todo) plans.set(part.type, (todo = lookUpsOf(world, part.type)));
    for (const one of todo) linkLookUp(work, place, evaluator, one, lookUps);
    findEmptySlots(work, part, part.type);
  }
  work.linked.lookUps = [...lookUps.values()].flatMap((found) => found.filter(Boolean));
}

function isInstanced(world: World, top: number): boolean {
  const path = world.builder.graph.texts[world.builder.graph.pieces.file[top]];
  return world.instanced.has(world.sourceOf.get(path) ?? -1);
}

/** Look-ups by script and by the position of their operation. */
type LookUps = Map<ScriptFacts, LookUp[]>;

interface LookUpPlan {
  type: WorldType;
  operation: number;
}

const LOOK_UPS = new Set<CallRule['means']>(['step up', 'child', 'object path', 'find', 'part']);

/** The look-ups that run with a type: its own and those of parents whose function it does not replace. */
function lookUpsOf(world: World, type: WorldType): LookUpPlan[] {
  const found: LookUpPlan[] = [];
  const replaced = new Set<string>();
  for (const from of [type, ...type.ancestors]) {
    const { operations, functions } = from.script;
    const receivers = new Set(operations.flatMap((one) => operationsIn(one.receiver)));
    operations.forEach((operation, index) => {
      const { means } = world.plan.calls[operation.rule];
      if (operation.type !== from.local || !LOOK_UPS.has(means)) return;
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
  lookUps: LookUps,
): void {
  const { world } = work;
  const outcome = evaluator.operation(type, index);
  const operation = type.script.operations[index];
  const { file } = world.facts[type.source];
  let found = lookUps.get(type.script);
  if (!found) lookUps.set(type.script, (found = []));
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
  const rule = world.plan.calls[operation.rule];
  const { range } = operation;
  if (outcome.state === 'lost') return addLost(work, { from: part, verb: 'uses', file, field: '', range }, outcome.loss!, walk);
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

export function isEngineEvent(plan: Plan, name: string): boolean {
  return isEngines(plan.engine.events, name);
}
