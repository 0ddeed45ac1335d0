/**
 * Look-ups, evaluated from each object that carries the script: the same line may be right on one and broken on another.
 */
import { cellAt, itemAt } from '../../helpers/at.js';
import type { Value } from '../../reading/facts.js';
import type { Meaning } from '../../reading/plan/meanings.js';
import { referencesIn } from '../paths.js';
import { findTarget } from '../targets.js';
import { rootsOf, type World, type WorldType } from '../world/world.js';
import type { Evaluation, LookUpKind } from './evaluation.js';
import { find, labelled, ofType } from './in-scene.js';
import { named, stepUp } from './in-tree.js';
import { anyOf, NOTHING_KNOWN, start, type Outcome } from './outcome.js';
import { part } from './parts-of.js';
import { slotKey, type Place, type SlotReferences } from './place.js';
import { referenceOutcome } from './reference.js';
import { given, textsOf } from './texts.js';
import { objectsOf } from './walk-path.js';

export interface Evaluator {
  /** What an operation of `type`'s script comes to. */
  operation(type: WorldType, operation: number): Outcome;
  value(type: WorldType, value: Value): Outcome;
}

/** Makes what evaluates values at one place; results are kept for the place. */
export function evaluateAt(
  world: World,
  place: Place,
  slots: SlotReferences,
  madeAtRun: ReadonlySet<string>,
): Evaluator {
  const evaluation: Evaluation = {
    world,
    place,
    slots,
    madeAtRun,
    self: start('found', [place.part.object], 'fixed'),
    operations: new Map(),
    fields: new Map(),
    value: (type, value) => valueOf(evaluation, type, value),
    texts: (value) => textsHere(evaluation, value),
  };
  return { operation: (type, index) => operationOf(evaluation, type, index), value: evaluation.value };
}

function valueOf(evaluation: Evaluation, type: WorldType, value: Value): Outcome {
  switch (value.is) {
    case 'self':
      return evaluation.self;
    case 'operation':
      return operationOf(evaluation, type, value.operation);
    case 'field':
      return fieldOf(evaluation, value.name);
    case 'any':
      return anyOf(value.of.map((one) => valueOf(evaluation, type, one)));
    default:
      return NOTHING_KNOWN;
  }
}

function operationOf(evaluation: Evaluation, type: WorldType, index: number): Outcome {
  const { operations, world } = evaluation;
  let ofScript = operations.get(type.script);
  if (!ofScript) operations.set(type.script, (ofScript = []));
  const known = ofScript[index];
  if (known) return known;
  // What leads back to itself is not known.
  ofScript[index] = NOTHING_KNOWN;
  const fact = itemAt(type.script.operations, index);
  const rule = itemAt(world.plan.calls, fact.rule);
  const receiver = valueOf(evaluation, type, fact.receiver);
  return (ofScript[index] = LOOK_UPS[rule.means](evaluation, { type, fact, rule, receiver }));
}

/** A field of the own object: the saved value if there is one, else what the code puts there. */
function fieldOf(evaluation: Evaluation, name: string): Outcome {
  const { fields } = evaluation;
  const known = fields.get(name);
  if (known) return known;
  fields.set(name, NOTHING_KNOWN);
  const outcome = savedIn(evaluation, name) ?? givenByCode(evaluation, name);
  fields.set(name, outcome);
  return outcome;
}

/** Texts that a value stands for at this place: in a field, what is saved on the object, else what the code puts there. */
function textsHere(evaluation: Evaluation, value: Value): string[] {
  const { world, place } = evaluation;
  if (value.is === 'any') {
    const texts = value.of.map((one) => textsHere(evaluation, one));
    return value.each || texts.every((one) => one.length > 0) ? texts.flat() : [];
  }
  if (value.is !== 'field') return textsOf(world, value);
  const saved = place.part.values.filter((one) => one.value.name === value.name).at(-1)?.value;
  if (saved) return saved.text === undefined || saved.empty ? [] : [saved.text];
  if (world.code.setElsewhere.has(value.name) || !place.part.type) return [];
  return given(world, inForce(place.part.type, value.name), value.name);
}

/** A type and its parents, as far as the nearest that says what a field starts as; assignments count in all of them. */
function inForce(own: WorldType, name: string): WorldType[] {
  const chain = [own, ...own.ancestors];
  const nearest = chain.findIndex(({ script, local }) =>
    script.fieldValues.some((one) => one.type === local && one.field === name && one.function < 0),
  );
  const others = chain
    .slice(nearest + 1)
    .some(({ script, local }) =>
      script.fieldValues.some((one) => one.type === local && one.field === name && one.function >= 0),
    );
  return nearest < 0 || others ? chain : chain.slice(0, nearest + 1);
}

function savedIn({ world, place, slots }: Evaluation, name: string): Outcome | undefined {
  const saved = place.part.values.filter((one) => one.value.name === name).at(-1);
  if (!saved) return undefined;
  const [reference] = slots.get(slotKey(saved.source, saved.pieceFact, saved.partFact, name)) ?? [];
  if (!reference) return undefined;
  const found = referenceOutcome(world, reference, saved.source, place.part.object);
  // What the slot itself has lost is reported there, once.
  return found.state === 'lost' ? NOTHING_KNOWN : found;
}

function givenByCode(evaluation: Evaluation, name: string): Outcome {
  const own = evaluation.place.part.type;
  const values = (own ? [own, ...own.ancestors] : []).flatMap((type) =>
    type.script.fieldValues
      .filter((one) => one.type === type.local && one.field === name && one.value.is !== 'nothing')
      .map((one) => valueOf(evaluation, type, one.value)),
  );
  return values.length === 0 ? NOTHING_KNOWN : anyOf(values);
}

const nothing: LookUpKind = () => NOTHING_KNOWN;

const sameObject: LookUpKind = ({ world }, { receiver }) => ({
  ...receiver,
  pieces: objectsOf(world, receiver.pieces),
});

/** What a call destroys, switches or moves: its argument if it has one, else what it is called on. */
const actedOn: LookUpKind = (evaluation, { type, receiver, fact }) => {
  const { object } = fact.arguments;
  const outcome = object ? evaluation.value(type, object) : receiver;
  return outcome.state === 'found' ? outcome : NOTHING_KNOWN;
};

/** What was just spawned is looked at as the prefab describes it. */
const spawned: LookUpKind = ({ world }, { type, fact, rule }) => {
  const { graph } = world.builder;
  const texts = fact.arguments.path ? textsOf(world, fact.arguments.path, type) : [];
  const pieces = texts.flatMap((text) => {
    const [reference] = referencesIn(rule.target, text);
    if (!reference) return [];
    const target = findTarget(world, rule.target, { ...reference, piece: -1 }, type.source);
    if (target.state !== 'found') return [];
    const source = world.files.sourceOf.get(itemAt(graph.texts, cellAt(graph.pieces.file, itemAt(target.pieces, 0))));
    return source === undefined ? [] : rootsOf(world, source).slice(0, 1);
  });
  return pieces.length > 0 ? start('found', pieces, 'path') : NOTHING_KNOWN;
};

const LOOK_UPS: Record<Meaning, LookUpKind> = {
  'step up': stepUp,
  'same object': sameObject,
  child: named,
  'object path': named,
  find,
  part,
  'asks part': nothing,
  send: nothing,
  listen: nothing,
  'let go': nothing,
  spawn: spawned,
  load: nothing,
  'use file': nothing,
  'find label': labelled,
  'label of': nothing,
  'find type': ofType,
  attach: nothing,
  detach: nothing,
  refer: nothing,
  call: nothing,
  'take in': nothing,
  declare: nothing,
  destroy: actedOn,
  switch: actedOn,
  move: actedOn,
  travel: actedOn,
  keep: actedOn,
  'asks input': nothing,
};
