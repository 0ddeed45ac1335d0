/**
 * Look-ups, evaluated from each object that carries the script: the same line may be right on one and broken on another.
 */
import { kindOf, nameOf, titleOf } from '../model/graph.js';
import { weaker, type Grip, type Loss, type WalkStep } from '../model/link.js';
import type { Range } from '../model/piece.js';
import { UNKNOWN, type Operation, type ReferenceFact, type ScriptFacts, type Value } from '../reading/facts.js';
import type { CallRule } from '../reading/plan/plan.js';
import { elsewhere, emptyLoss, findTarget, isEngines } from './targets.js';
import { push } from '../helpers/push.js';
import { rootsOf, topOf, type World, type WorldPart, type WorldType } from './world/world.js';
import { typeNamed } from './world/types.js';

/** What a look-up comes to. */
export interface Outcome {
  state: 'found' | 'lost' | 'unknown';
  /** Pieces reached; for names built at run time, those that could be meant. */
  pieces: number[];
  grip: Grip;
  loss?: Loss;
  /** The step before this one. */
  before?: Outcome;
  /** What this step asked for, in words; empty for no step. */
  asks: string;
  /** Steps up the tree on the way here, and whether it then went down again. */
  ups: number;
  down: boolean;
  /** Where the last step up is written in the code. */
  climbAt?: Range;
}

/** Where a look-up runs: a part on an object, with the type whose code it is. */
export interface Place {
  part: WorldPart;
  /** In a prefab that no scene holds: what stands above it is not known. */
  isLoose: boolean;
}

const MOST_AMONG = 12;
/** Stands for what is only known at run time, in a text that is being taken apart. */
const MADE_UP = '\u0000';

export interface Evaluator {
  /** What an operation of `type`'s script comes to. */
  operation(type: WorldType, operation: number): Outcome;
  value(type: WorldType, value: Value): Outcome;
}

/** References written as saved values: by part fact and field. */
export type SlotReferences = Map<string, ReferenceFact[]>;

export function slotKey(source: number, pieceFact: number, partFact: number, field: string): string {
  return `${source}/${pieceFact}/${partFact}/${field}`;
}

/** Makes what evaluates values at one place; results are kept for the place. */
export function evaluateAt(
  world: World,
  place: Place,
  slots: SlotReferences,
  madeAtRun: ReadonlySet<string>,
): Evaluator {
  const { graph } = world.builder;
  const operations = new Map<ScriptFacts, Outcome[]>();
  const fields = new Map<string, Outcome>();
  const self = start('found', [place.part.object], 'fixed');

  const operation = (type: WorldType, index: number): Outcome => {
    let ofScript = operations.get(type.script);
    if (!ofScript) operations.set(type.script, (ofScript = []));
    if (!ofScript[index]) {
      ofScript[index] = NOTHING_KNOWN;
      const fact = type.script.operations[index];
      ofScript[index] = evaluate(type, fact, world.plan.calls[fact.rule]);
    }
    return ofScript[index];
  };

  const value = (type: WorldType, from: Value): Outcome => {
    switch (from.is) {
      case 'self':
        return self;
      case 'operation':
        return operation(type, from.operation);
      case 'field':
        return field(from.name);
      case 'any':
        return anyOf(from.of.map((one) => value(type, one)));
      default:
        return NOTHING_KNOWN;
    }
  };

  /** A field of the own object: the saved value if there is one, else what the code puts there. */
  const field = (name: string): Outcome => {
    let outcome = fields.get(name);
    if (!outcome) {
      fields.set(name, NOTHING_KNOWN);
      outcome = slotOutcome(name) ?? fieldInCode(name);
      fields.set(name, outcome);
    }
    return outcome;
  };

  const slotOutcome = (name: string): Outcome | undefined => {
    const saved = place.part.values.filter((one) => one.value.name === name).at(-1);
    if (!saved) return undefined;
    const [reference] = slots.get(slotKey(saved.source, saved.pieceFact, saved.partFact, name)) ?? [];
    if (!reference) return undefined;
    const found = referenceOutcome(world, reference, saved.source, place.part.object);
    // What the slot itself has lost is reported there, once.
    return found.state === 'lost' ? NOTHING_KNOWN : found;
  };

  const fieldInCode = (name: string): Outcome => {
    const own = place.part.type;
    if (!own) return NOTHING_KNOWN;
    const values = [own, ...own.ancestors].flatMap((type) =>
      type.script.fieldValues
        .filter((one) => one.type === type.local && one.field === name && one.value.is !== 'nothing')
        .map((one) => value(type, one.value)),
    );
    return values.length === 0 ? NOTHING_KNOWN : anyOf(values);
  };

  const evaluate = (type: WorldType, fact: Operation, rule: CallRule): Outcome => {
    const receiver = value(type, fact.receiver);
    switch (rule.means) {
      case 'step up':
        return { ...stepUp(receiver, fact.arguments.count), climbAt: fact.range };
      case 'same object':
        return { ...receiver, pieces: receiver.pieces.map(objectOf) };
      case 'child':
      case 'object path':
        return named(receiver, fact, rule);
      case 'find':
        return find(fact, rule);
      case 'part':
        return part(type, receiver, fact, rule);
      case 'find label':
        return labelled(fact);
      case 'find type':
        return ofType(fact);
      case 'destroy':
      case 'switch':
      case 'move':
      case 'travel':
      case 'keep':
        return actedOn(type, receiver, fact);
      case 'spawn':
        return spawned(type, fact, rule);
      default:
        return NOTHING_KNOWN;
    }
  };

  const objectOf = (piece: number): number => world.trees.partByPiece.get(piece)?.object ?? piece;

  const stepUp = (receiver: Outcome, count: Value | undefined): Outcome => {
    const steps = count?.is === 'number' ? Math.min(count.number, 64) : 1;
    let outcome = receiver;
    for (let step = 0; step < steps && outcome.state === 'found'; step++) outcome = oneUp(outcome);
    return outcome;
  };

  const oneUp = (receiver: Outcome): Outcome => {
    const reached: number[] = [];
    let from = -1;
    for (const piece of receiver.pieces.map(objectOf)) {
      const parent = graph.pieces.parent[piece];
      if (parent >= 0 && kindOf(graph, parent) === 'object') reached.push(parent);
      else if (place.isLoose || kindOf(graph, topOf(world, piece)) !== 'scene') return NOTHING_KNOWN;
      else from = piece;
    }
    const step: Step = {
      before: receiver,
      asks: 'one step up',
      ups: receiver.ups + 1,
      down: receiver.down,
      climbAt: undefined,
    };
    if (reached.length > 0) return found(step, reached, weaker(receiver.grip, 'path'));
    return lost(step, { ...emptyLoss('object', 'one step up'), lastObject: from });
  };

  /** A child by name, or a path of names with steps up. */
  const named = (receiver: Outcome, fact: Operation, rule: CallRule): Outcome => {
    const wanted = fact.arguments.name ?? fact.arguments.path ?? fact.arguments.object;
    if (receiver.state !== 'found' || !wanted) return NOTHING_KNOWN;
    if (wanted.is === 'join') return built(receiver, wanted.parts, rule);
    const texts = textsOf(world, wanted);
    if (texts.length === 0) return NOTHING_KNOWN;
    if (texts.length === 1) return walkPath(world, receiver, texts[0], rule.target, place.isLoose, madeAtRun);
    return anyOf(texts.map((text) => walkPath(world, receiver, text, rule.target, place.isLoose, madeAtRun)));
  };

  /**
   * A name or path put together at run time. Steps before the first that is made up are walked as they stand; from
   * there on, any child whose name fits what is known of it may be meant.
   */
  const built = (receiver: Outcome, parts: Value[], { target, means }: CallRule): Outcome => {
    const whole = parts.map((part) => (part.is === 'text' ? part.text : MADE_UP)).join('');
    const steps = means === 'object path' ? whole.split(target.separator) : [whole];
    const first = steps.findIndex((step) => step.includes(MADE_UP));
    const lead = steps.slice(0, first).join(target.separator);
    const before = first > 0 ? walkPath(world, receiver, lead, target, place.isLoose, madeAtRun) : receiver;
    if (before.state !== 'found') return before;
    let pieces = objectsOf(world, before.pieces);
    for (const step of steps.slice(first)) {
      const fits = patternOf(
        step.split(MADE_UP).flatMap((text, at): Value[] => [...(at > 0 ? [UNKNOWN] : []), { is: 'text', text }]),
      );
      pieces = pieces
        .flatMap((piece) => world.trees.children.get(piece) ?? [])
        .filter((child) => fits.test(nameOf(graph, child)));
    }
    return { ...NOTHING_KNOWN, pieces, before, asks: 'a child whose name is made at run time' };
  };

  const find = (fact: Operation, rule: CallRule): Outcome => {
    const texts = fact.arguments.name ? textsOf(world, fact.arguments.name) : [];
    if (texts.length === 0) return NOTHING_KNOWN;
    return anyOf(texts.map((text) => findOne(text, rule)));
  };

  /** Objects whose name fits a pattern, in some scenes or in all. */
  const findWild = (name: string, scenes: number[] | undefined): Outcome => {
    const fits = patternOf(
      name.split('*').flatMap((text, at) => (at > 0 ? [UNKNOWN, { is: 'text', text }] : [{ is: 'text', text }])),
    );
    const pieces: number[] = [];
    for (const [other, named] of world.names.inTree)
      if (fits.test(other)) pieces.push(...named.filter((piece) => !scenes || scenes.includes(topOf(world, piece))));
    const step = beginning(inWords('objects named like', name));
    if (pieces.length > 0) return found(step, pieces, 'name');
    const mayCome =
      [...madeAtRun].some((made) => fits.test(made)) ||
      world.plan.engine.objects.length > 0 ||
      (scenes ?? []).some((scene) => hasIncomplete(world, scene));
    return mayCome ? NOTHING_KNOWN : lost(step, emptyLoss('object', name));
  };

  const findOne = (name: string, rule: CallRule): Outcome => {
    const top = topOf(world, place.part.object);
    const isEverywhere = place.isLoose || rule.reach === 'project';
    const scenes = world.trees.loadedWith.get(top) ?? [top];
    if (rule.wild && name.includes('*')) return findWild(name, isEverywhere ? undefined : scenes);
    const here = isEverywhere
      ? (world.names.inTree.get(name) ?? [])
      : scenes.flatMap((scene) => namedIn(world, name, scene));
    const step = beginning(inWords('an object of the scene named', name));
    if (here.length > 0) return found(step, here, 'name');
    if (isMadeAtRun(world, name, madeAtRun) || scenes.some((scene) => hasIncomplete(world, scene)))
      return NOTHING_KNOWN;
    const lower = name.toLowerCase();
    const capitals = (world.names.inTreeLower.get(lower) ?? []).filter(
      (piece) => isEverywhere || scenes.includes(topOf(world, piece)),
    );
    const loss: Loss = {
      ...emptyLoss('object', name),
      otherCapitals: capitals.length > 0 ? nameOf(graph, capitals[0]) : '',
    };
    return lost(step, loss);
  };

  /** Objects of the scene that carry a label. */
  const labelled = (fact: Operation): Outcome => {
    const wanted = fact.arguments.label ?? fact.arguments.name;
    const texts = wanted ? textsOf(world, wanted) : [];
    if (texts.length === 0) return NOTHING_KNOWN;
    const top = topOf(world, place.part.object);
    const isHere = (piece: number): boolean => place.isLoose || topOf(world, piece) === top;
    const pieces = texts.flatMap((text) => (byLabel(world).get(text) ?? []).filter(isHere));
    return pieces.length > 0
      ? found(beginning(`objects labelled “${texts.join('” or “')}”`), pieces, 'name')
      : NOTHING_KNOWN;
  };

  /** Every part of a type in the scene. */
  const ofType = (fact: Operation): Outcome => {
    const wanted = fact.arguments.type && typeName(fact.arguments.type);
    if (!wanted) return NOTHING_KNOWN;
    const top = topOf(world, place.part.object);
    const pieces = partsOfType(world, wanted)
      .filter((one) => place.isLoose || topOf(world, one.object) === top)
      .map((one) => one.piece);
    return pieces.length > 0 ? found(beginning(`everything of the type ${wanted}`), pieces, 'name') : NOTHING_KNOWN;
  };

  /** What a call destroys, switches or moves: its argument if it has one, else what it is called on. */
  const actedOn = (type: WorldType, receiver: Outcome, fact: Operation): Outcome => {
    const { object } = fact.arguments;
    const outcome = object ? value(type, object) : receiver;
    return outcome.state === 'found' ? outcome : NOTHING_KNOWN;
  };

  const part = (type: WorldType, receiver: Outcome, fact: Operation, { on }: CallRule): Outcome => {
    const wanted = fact.arguments.type && typeName(fact.arguments.type);
    if (receiver.state !== 'found' || !wanted) return NOTHING_KNOWN;
    const step = after(receiver, `${PARTS_OF[on]} ${wanted}`);
    const own = receiver.pieces.map(objectOf);
    const objects = on === 'object' ? own : own.flatMap((object) => (on === 'below' ? below(object) : above(object)));
    if (on === 'above' && place.isLoose) return NOTHING_KNOWN;
    const pieces = objects.flatMap((object) =>
      (world.trees.partsOf.get(object) ?? []).filter((one) => isOfType(one, wanted)).map((one) => one.piece),
    );
    if (pieces.length > 0) return found(step, pieces, weaker(receiver.grip, 'name'));
    if (isEngines(world.plan.engine.parts, wanted) || objects.some((one) => hasUnknownParts(world, one)))
      return NOTHING_KNOWN;
    // A type that the map does not know may be anything.
    if (!typeNamed(world, wanted, type.source) && !world.names.parts.has(wanted)) return NOTHING_KNOWN;
    const [object] = own;
    const carried = (world.trees.partsOf.get(object) ?? [])
      .map((one) => one.type?.name || one.typeName)
      .filter(Boolean);
    const nearby = (world.trees.children.get(object) ?? []).filter((child) =>
      (world.trees.partsOf.get(child) ?? []).some((one) => isOfType(one, wanted)),
    );
    const loss: Loss = {
      ...emptyLoss('part', wanted),
      otherCapitals: carried.find((name) => name !== wanted && name.toLowerCase() === wanted.toLowerCase()) ?? '',
      lastObject: object,
      among: carried.slice(0, MOST_AMONG),
      elsewhere: nearby.slice(0, 5).map((child) => titleOf(graph, child)),
    };
    return lost(step, loss);
  };

  const below = (object: number): number[] =>
    (world.trees.children.get(object) ?? []).flatMap((child) => [child, ...below(child)]);

  const above = (object: number): number[] => {
    const parent = graph.pieces.parent[object];
    return parent >= 0 && kindOf(graph, parent) === 'object' ? [parent, ...above(parent)] : [];
  };

  /** What was just spawned is looked at as the prefab describes it. */
  const spawned = (type: WorldType, fact: Operation, rule: CallRule): Outcome => {
    const texts = fact.arguments.path ? textsOf(world, fact.arguments.path) : [];
    const pieces = texts.flatMap((text) => {
      const target = findTarget(world, rule.target, { text, piece: -1 }, type.source);
      if (target.state !== 'found') return [];
      const source = world.files.sourceOf.get(graph.texts[graph.pieces.file[target.pieces[0]]]);
      return source === undefined ? [] : rootsOf(world, source).slice(0, 1);
    });
    return pieces.length > 0 ? start('found', pieces, 'path') : NOTHING_KNOWN;
  };

  return { operation, value };
}

const PARTS_OF = { object: 'its part', below: 'a part below it', above: 'a part above it' } as const;

/** A part that is neither a type of the project nor the engine's may be of any type. */
export function hasUnknownParts(world: World, object: number): boolean {
  return (
    world.trees.incomplete.has(object) ||
    (world.trees.partsOf.get(object) ?? []).some(
      (one) => !one.type && !isEngines(world.plan.engine.parts, one.typeName),
    )
  );
}

export const NOTHING_KNOWN: Outcome = start('unknown', [], 'built');

/** A step of a look-up before it is known what it comes to. */
interface Step {
  before: Outcome | undefined;
  asks: string;
  ups: number;
  down: boolean;
  climbAt: Range | undefined;
}

/** The beginning of a look-up. */
function start(state: Outcome['state'], pieces: number[], grip: Grip): Outcome {
  return { state, pieces, grip, loss: undefined, before: undefined, asks: '', ups: 0, down: false, climbAt: undefined };
}

/** A first step that starts from the scene. */
function beginning(asks: string): Step {
  return { before: undefined, asks, ups: 0, down: false, climbAt: undefined };
}

const labelIndexes = new WeakMap<World, Map<string, number[]>>();

function byLabel(world: World): Map<string, number[]> {
  let index = labelIndexes.get(world);
  if (!index) {
    labelIndexes.set(world, (index = new Map()));
    for (const [piece, labels] of world.labels.of) for (const label of labels) push(index, label, piece);
  }
  return index;
}

const typeIndexes = new WeakMap<World, Map<string, WorldPart[]>>();

/** Parts by the name of their type and of each type it descends from. */
function partsOfType(world: World, name: string): WorldPart[] {
  let index = typeIndexes.get(world);
  if (!index) {
    typeIndexes.set(world, (index = new Map()));
    for (const part of world.trees.partByPiece.values()) {
      const names = new Set([
        part.typeName,
        ...(part.type ? [part.type, ...part.type.ancestors] : []).map((one) => one.name),
      ]);
      for (const one of names) push(index, one, part);
    }
  }
  return index.get(world.plan.typeNames[name] ?? name) ?? [];
}

// Outcomes are written out field by field: there are millions of them, and copies by spreading cost many times as much.

function found({ before, asks, ups, down, climbAt }: Step, pieces: number[], grip: Grip): Outcome {
  return { state: 'found', pieces, grip, loss: undefined, before, asks, ups, down, climbAt };
}

function lost({ before, asks, ups, down, climbAt }: Step, loss: Loss): Outcome {
  return { state: 'lost', pieces: [], grip: 'lost', loss, before, asks, ups, down, climbAt };
}

/** The step after `before`. */
function after(before: Outcome, asks: string): Step {
  return { before, asks, ups: before.ups, down: before.down, climbAt: before.climbAt };
}

/** Found if any may be found, lost only if all are. */
function anyOf(outcomes: Outcome[]): Outcome {
  if (outcomes.length === 1) return outcomes[0];
  const holding = outcomes.filter((outcome) => outcome.state === 'found');
  if (holding.length > 0) {
    const pieces = [...new Set(holding.flatMap((outcome) => outcome.pieces))];
    return { ...holding[0], pieces, grip: holding.map((outcome) => outcome.grip).reduce(weaker) };
  }
  return outcomes.length > 0 && outcomes.every((outcome) => outcome.state === 'lost') ? outcomes[0] : NOTHING_KNOWN;
}

/** Walks a path of names from where `receiver` stands. */
export function walkPath(
  world: World,
  receiver: Outcome,
  text: string,
  form: { separator: string; up: string },
  isLoose: boolean,
  madeAtRun: ReadonlySet<string>,
): Outcome {
  const { graph } = world.builder;
  let outcome = receiver;
  const isStep = text !== '' && text !== '.' && text !== form.up && !text.includes(form.separator);
  if (isStep && receiver.state === 'found')
    return childStep(world, receiver, objectsOf(world, receiver.pieces), text, madeAtRun);
  const steps = text.split(form.separator);
  if (steps[0] === '' && steps.length > 1) {
    const tops = [...new Set(receiver.pieces.map((piece) => topOf(world, piece)))];
    outcome = { ...receiver, pieces: tops, ups: 0, down: false };
    steps.shift();
  }
  for (const step of steps) {
    if (outcome.state !== 'found') return outcome;
    if (step === '.' || step === '') continue;
    const objects = objectsOf(world, outcome.pieces);
    if (step === form.up) {
      const parents = objects.map((piece) => graph.pieces.parent[piece]).filter((piece) => piece >= 0);
      const inTree = parents.filter((piece) => kindOf(graph, piece) === 'object' || kindOf(graph, piece) === 'scene');
      if (inTree.length === 0) {
        if (isLoose || kindOf(graph, topOf(world, objects[0])) !== 'scene') return NOTHING_KNOWN;
        return lost(after(outcome, 'one step up'), { ...emptyLoss('object', text), lastObject: objects[0] });
      }
      const climb = after(outcome, 'one step up');
      climb.ups++;
      outcome = found(climb, inTree, weaker(outcome.grip, 'path'));
      continue;
    }
    outcome = childStep(world, outcome, objects, step, madeAtRun);
  }
  return outcome;
}

const words = new Map<string, Map<string, string>>();

/** `child “Cleat”`: made once for each name, since millions of links say it. */
function inWords(what: string, name: string): string {
  let known = words.get(what);
  if (!known) words.set(what, (known = new Map()));
  let text = known.get(name);
  if (text === undefined) known.set(name, (text = `${what} “${name}”`));
  return text;
}

/** The objects that pieces are, or are parts of. */
function objectsOf(world: World, pieces: number[]): number[] {
  return pieces.map((piece) => world.trees.partByPiece.get(piece)?.object ?? piece);
}

function childStep(
  world: World,
  before: Outcome,
  objects: number[],
  name: string,
  madeAtRun: ReadonlySet<string>,
): Outcome {
  const { graph } = world.builder;
  // Names are compared by their numbers: most children have another one.
  const wanted = world.builder.text(name);
  const exact: number[] = [];
  for (const object of objects) {
    for (const child of world.trees.children.get(object) ?? [])
      if (graph.pieces.name[child] === wanted) exact.push(child);
  }
  const asked = after(before, inWords('child', name));
  asked.down ||= before.ups > 0;
  if (exact.length > 0) return found(asked, exact, weaker(before.grip, 'path'));
  if (isMadeAtRun(world, name, madeAtRun) || objects.some((object) => world.trees.incomplete.has(object)))
    return NOTHING_KNOWN;
  const names = objects
    .flatMap((object) => world.trees.children.get(object) ?? [])
    .map((child) => nameOf(graph, child));
  const loss: Loss = {
    ...emptyLoss('object', name),
    otherCapitals: names.find((other) => other.toLowerCase() === name.toLowerCase()) ?? '',
    lastObject: objects[0],
    among: [...new Set(names)].slice(0, MOST_AMONG),
    elsewhere: elsewhere(world, name, objects[0]),
  };
  return lost(asked, loss);
}

/** What a reference written in a file comes to; `object` is where relative object paths start. */
export function referenceOutcome(
  world: World,
  reference: ReferenceFact,
  source: number,
  object: number,
  isLoose = false,
): Outcome {
  const rule = world.plan.files[world.facts[source].rule].references[reference.rule];
  if (rule.by === 'object path') {
    const from = start('found', [object], 'fixed');
    return object < 0 ? NOTHING_KNOWN : walkPath(world, from, reference.text, rule, isLoose, new Set());
  }
  const target = findTarget(world, rule, reference, source);
  if (target.state === 'unknown') return NOTHING_KNOWN;
  if (target.state === 'lost') return { ...start('lost', [], 'lost'), loss: target.loss };
  return start('found', target.pieces, target.grip);
}

/** Texts that a value can stand for: literals, constants of other scripts, choices between them. */
export function textsOf(world: World, value: Value): string[] {
  if (value.is === 'text') return [value.text];
  if (value.is === 'any') {
    const texts = value.of.map((one) => textsOf(world, one));
    return texts.every((one) => one.length > 0) ? texts.flat() : [];
  }
  if (value.is === 'constant') {
    const text = world.code.constants.get(value.name);
    return text === undefined ? [] : [text];
  }
  return [];
}

/** The name of a type given as an argument: by name or as a text. */
export function typeName(value: Value): string {
  if (value.is === 'constant') return value.name.split('.').pop()!;
  return value.is === 'text' ? value.text : '';
}

/** An expression that matches what a text put together at run time can be. */
export function patternOf(parts: Value[]): RegExp {
  const body = parts
    .map((part) => (part.is === 'text' ? part.text.replace(/[.*+?^${}()|[\]\\]/g, '\\$&') : '.*'))
    .join('');
  return new RegExp(`^${body}$`, 'su');
}

export function isOfType(part: WorldPart, name: string): boolean {
  return (
    part.typeName === name ||
    part.type?.name === name ||
    (part.type?.ancestors.some((ancestor) => ancestor.name === name) ?? false)
  );
}

function isMadeAtRun(world: World, name: string, madeAtRun: ReadonlySet<string>): boolean {
  return madeAtRun.has(name) || isEngines(world.plan.engine.objects, name);
}

const namesInScenes = new WeakMap<World, Map<string, Map<number, number[]>>>();

/** Objects of a name in one scene; sorted out once for each name that is asked for. */
function namedIn(world: World, name: string, top: number): number[] {
  let names = namesInScenes.get(world);
  if (!names) namesInScenes.set(world, (names = new Map()));
  let scenes = names.get(name);
  if (!scenes) {
    names.set(name, (scenes = new Map()));
    for (const piece of world.names.inTree.get(name) ?? []) push(scenes, topOf(world, piece), piece);
  }
  return scenes.get(top) ?? [];
}

const incompleteTops = new WeakMap<World, Set<number>>();

/** Whether some instance in this scene has a prefab that is not known. */
function hasIncomplete(world: World, top: number): boolean {
  let tops = incompleteTops.get(world);
  if (!tops)
    incompleteTops.set(world, (tops = new Set([...world.trees.incomplete].map((piece) => topOf(world, piece)))));
  return tops.has(top);
}

/** The way a look-up took, step by step. */
export function walkOf(world: World, outcome: Outcome): WalkStep[] {
  const { graph } = world.builder;
  const steps: WalkStep[] = [];
  for (let at: Outcome | undefined = outcome; at; at = at.before) {
    const [piece] = at.pieces;
    const finds =
      piece !== undefined ? titleOf(graph, piece) : at.loss ? missingWords(at.loss) : 'not known before play';
    steps.unshift({ asks: at.asks || 'starts on', finds, piece: piece ?? -1, grip: at.grip });
  }
  return steps;
}

function missingWords(loss: Loss): string {
  if (loss.wanted === 'one step up') return 'nothing: this object stands at the top of its scene';
  return loss.among.length > 0 ? `not among: ${loss.among.join(', ')}` : 'there is none';
}
