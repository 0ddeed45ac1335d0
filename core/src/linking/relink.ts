/**
 * Linking again after a few files changed. As long as what other files build on – names, identities, types, trees –
 * is as it was, only what rests on the changed files is linked anew; otherwise everything is.
 */
import { cellAt, itemAt, must } from '../helpers/at.js';
import type { FileFacts, Operation, ScriptFacts, Value } from '../reading/facts.js';
import type { Plan } from '../reading/plan/plan.js';
import { kindOf } from '../model/graph.js';
import { VERBS } from '../model/link.js';
import { slotKey } from './look-ups/place.js';
import { collectSlots, finish, linkAll, linkFile, calledFunctions } from './link.js';
import { linkAttachments } from './files/bases.js';
import { forgetPlaces } from './places/gather.js';
import { linkPlaces } from './places/link-places.js';
import { withHanded, type Handed } from './handed.js';
import { declarations } from './scripts/declare.js';
import type { Linked } from './linked.js';
import { countFile, countOf } from './rule-counts.js';
import type { Work } from './work.js';
import { partsRunning } from './world/parts.js';
import { push } from '../helpers/push.js';
import { topOf, type World, type WorldPart, type WorldType } from './world/world.js';

/** More changed files than this are linked sooner together with all others. */
const MOST_CHANGED = 50;

export interface Linker {
  /**
   * Links a project. What it gives holds until it is called again.
   * @param facts in the same order as the time before; those of unchanged files must be the very same objects
   */
  link(facts: FileFacts[], otherPaths: string[], plan: Plan): Linked;
}

/** Remembers what it linked, so that a small change costs little. */
export function createLinker(): Linker {
  const handed: Handed = new WeakMap();
  let before: { work: Work; facts: FileFacts[]; otherPaths: string; plan: Plan; parts: PartIndex } | undefined;

  return {
    link(read, otherPaths, plan) {
      const facts = withHanded(read, handed);
      const others = otherPaths.join('\n');
      if (before && before.plan === plan && before.otherPaths === others && before.facts.length === facts.length) {
        const changed = facts.flatMap((fact, at) => (fact === must(before).facts[at] ? [] : [at]));
        if (canStay(before.work, changed, facts)) {
          const sources = new Map(changed.map((at) => [at, itemAt(facts, at)]));
          if (sources.size > 0) relink(before.work, before.parts, sources);
          before.facts = facts;
          return finish(before.work);
        }
      }
      const work = linkAll(facts, otherPaths, plan);
      before = { work, facts, otherPaths: others, plan, parts: indexParts(work.world) };
      return finish(work);
    },
  };
}

/** Parts by what changes touch: the file they are written in, the scene or prefab they stand in. */
interface PartIndex {
  bySource: Map<number, WorldPart[]>;
  byTop: Map<number, WorldPart[]>;
}

function indexParts(world: World): PartIndex {
  const index: PartIndex = { bySource: new Map(), byTop: new Map() };
  for (const part of world.trees.partByPiece.values()) {
    push(index.bySource, part.source, part);
    push(index.byTop, topOf(world, part.object), part);
  }
  return index;
}

/** Whether the changed files may be linked by themselves. */
function canStay(work: Work, changed: number[], facts: FileFacts[]): boolean {
  const { world } = work;
  return (
    changed.length <= MOST_CHANGED &&
    world.files.replacedBy.size === 0 &&
    !work.isAttachedByCode &&
    changed.every((source) => {
      const old = itemAt(world.facts, source);
      const fact = itemAt(facts, source);
      // What the rest of a file may hold decides what is lost elsewhere.
      if (old.unread !== undefined || fact.unread !== undefined) return false;
      // Copies of a prefab's objects stand in other files.
      if (old.pieces.length > 0 && world.prefabs.instanced.has(source)) return false;
      return signatureOf(world, old) === signatureOf(world, fact);
    })
  );
}

/** Everything in a file's facts that other files build on. Places and saved values are not among it. */
function signatureOf(world: World, fact: FileFacts): string {
  const { file, rule, kind, name, id, extends: base, package: pack, pieces, attachments, given, events, script } = fact;
  const wires = events.map((wire) => [wire.event, wire.handler]);
  const told = pieces.map(
    ({ parts, overrides, range: _range, details: _details, values, labels, madeFrom, extends: from, ...piece }) => ({
      ...piece,
      saysValues: values !== undefined,
      madeFrom: madeFrom?.text,
      from: from?.map(({ text }) => text),
      labels: labels?.map((label) => label.text),
      parts: parts.map((part) => [part.rule, part.type, part.script?.text, part.values.length > 0]),
      overrides: overrides?.map(({ on, part, adds, values, rule: at }) => [on, part, adds, values.length > 0, at]),
    }),
  );
  return JSON.stringify([
    [file, rule, kind, name, id, base?.map(({ text }) => text), pack, attachments, given],
    sorted([...wires, ...calledFunctions(fact, world.plan)]),
    eventsFilled(world, fact),
    told,
    script && scriptSignature(world, script),
  ]);
}

/** What fills fields that stand for events: the scripts that send and hear them name those. */
function eventsFilled({ code }: World, { pieces, references }: FileFacts): unknown {
  const fields = new Set([...code.eventsInSlots.keys()].map((key) => key.slice(key.indexOf(' ') + 1)));
  if (fields.size === 0) return [];
  return [
    references.filter((one) => one.part >= 0 && fields.has(one.field)),
    pieces.map(({ parts, overrides }) =>
      [...parts, ...(overrides ?? [])].map(({ values }) =>
        values.filter(({ name }) => fields.has(name)).map(({ name, text, empty }) => [name, text, empty]),
      ),
    ),
  ].map((all) => JSON.stringify(all, (key, value: unknown) => (key === 'range' ? undefined : value)));
}

function scriptSignature(
  { plan }: World,
  { types, functions, fieldValues, constants, memberWrites, operations, imports, namedTables, gives }: ScriptFacts,
): unknown {
  const meaning = (operation: Operation): string => itemAt(plan.calls, operation.rule).means;
  const events = operations
    .filter((one) => ['send', 'listen'].includes(meaning(one)))
    .map((one) => one.arguments.event);
  const made = operations
    .filter((one) => ['declare', 'spawn', 'attach', 'take in', 'use file'].includes(meaning(one)))
    .map((one) => [one.rule, one.arguments]);
  // Texts in fields, and files taken in, are what code of parents and children names by them.
  const textsHeld = (value: Value): unknown =>
    value.is === 'operation'
      ? meaning(itemAt(operations, value.operation)) === 'use file' && value.operation
      : value.is === 'any'
        ? value.of.map(textsHeld)
        : (value.is === 'text' && value.text) || value.is === 'nothing';
  return [
    types.map(({ range: _range, fields, flags, ...type }) => ({
      ...type,
      flags: flags.map((flag) => flag.name),
      fields: fields.map(({ range: _place, default: _given, ...field }) => field),
    })),
    functions.map((code) => [code.type, code.name, code.hidden]),
    sorted(fieldValues.map(({ type, field, value }) => [type, field, textsHeld(value)])),
    constants,
    memberWrites,
    sorted(events),
    made,
    imports.map(({ from, names }) => [from, names]),
    gives,
    namedTables.map(({ name, isWhole, members }) => [name, isWhole, members.map((one) => [one.name, one.piece])]),
  ];
}

/** The same things in the same order, whatever order they came in; each once. */
function sorted(values: unknown[]): string[] {
  return [...new Set(values.map((value) => JSON.stringify(value) ?? ''))].sort();
}

/** Links the changed files anew, and every part whose look-ups may come out differently. */
function relink(work: Work, index: PartIndex, changed: Map<number, FileFacts>): void {
  const { world } = work;
  const parts = new Set<WorldPart>();
  const types = new Set<WorldType>();
  for (const source of changed.keys()) {
    for (const part of index.byTop.get(itemAt(world.files.piece, source)) ?? []) parts.add(part);
    for (const type of world.types.inFile.get(source) ?? []) types.add(type);
  }
  for (const type of types) for (const part of partsRunning(world, type)) parts.add(part);

  forgetPlaces(work, parts);
  removeLinks(work, parts, changed);
  for (const [source, fact] of changed) forgetFile(work, source, fact);
  for (const part of parts)
    if (part.type && [part.type, ...part.type.ancestors].some((type) => types.has(type)))
      work.lookUpPlans.delete(part.type);

  for (const [source, fact] of changed) replaceFacts(work, index, source, fact);
  for (const part of parts) renewValues(world, part, changed);
  for (const source of changed.keys()) {
    collectSlots(work, source);
    linkFile(work, source);
    linkAttachments(work, index.bySource.get(source) ?? []);
  }
  linkPlaces(work, parts);
}

/** Takes out the links that are written in changed files, and those of look-ups that are evaluated again. */
function removeLinks({ world, linked }: Work, parts: ReadonlySet<WorldPart>, changed: Map<number, FileFacts>): void {
  const { builder } = world;
  const { links, linkCount } = builder.graph;
  const isChanged = new Uint8Array(builder.graph.texts.length);
  const isScript = new Uint8Array(builder.graph.texts.length);
  const isPart = new Uint8Array(builder.graph.pieceCount);
  for (const { file } of changed.values()) isChanged[builder.text(file)] = 1;
  for (const type of world.types.all) isScript[builder.text(itemAt(world.facts, type.source).file)] = 1;
  for (const { piece } of parts) isPart[piece] = 1;
  const runs = VERBS.indexOf('runs');
  const gone: number[] = [];
  for (let at = 0; at < linkCount; at++) {
    const file = cellAt(links.file, at);
    if (isChanged[file] || (isPart[cellAt(links.from, at)] && isScript[file] && cellAt(links.verb, at) !== runs))
      gone.push(at);
  }
  for (const at of gone) linked.losses.delete(at);
  builder.removeLinks(gone, (from, to) => {
    const loss = linked.losses.get(from);
    if (!loss) return;
    linked.losses.set(to, loss);
    linked.losses.delete(from);
  });
}

/** Takes back what else a file gave. */
function forgetFile(work: Work, source: number, fact: FileFacts): void {
  const { world, linked } = work;
  const old = itemAt(world.facts, source);
  linked.lostReferences = linked.lostReferences.filter((lost) => lost.file !== old.file);
  linked.faults = linked.faults.filter((fault) => fault.foundIn !== old.file);
  linked.roles = linked.roles.filter((role) => role.file !== old.file);
  for (const ends of work.events.values()) {
    if (ends.senders.some((end) => end.file === old.file))
      ends.senders = ends.senders.filter((end) => end.file !== old.file);
    if (ends.listeners.some((end) => end.file === old.file))
      ends.listeners = ends.listeners.filter((end) => end.file !== old.file);
  }
  for (const { piece, part, field } of old.references)
    if (part >= 0) work.slots.delete(slotKey(source, piece, part, field));
  for (const { rule, links, lost } of work.ruleShares.get(source) ?? []) {
    const count = countOf(linked.rules, rule);
    count.links -= links;
    count.lost -= lost;
  }
  work.ruleShares.delete(source);
  work.lookUps.delete(source);
  countFile(linked.rules, old, world.plan, -1);
  countFile(linked.rules, fact, world.plan);
}

/** Puts the new facts in the place of the old ones: everything stands where it stood, on other lines perhaps. */
function replaceFacts(work: Work, index: PartIndex, source: number, fact: FileFacts): void {
  const { world } = work;
  const { builder } = world;
  work.areMentionsStale ||= !isSame(itemAt(world.facts, source).script?.mentions, fact.script?.mentions);
  world.facts[source] = fact;
  builder.setRange(itemAt(world.files.piece, source), fact.range);
  for (const type of world.types.inFile.get(source) ?? []) {
    type.script = must(fact.script);
    const { range, flags } = itemAt(type.script.types, type.local);
    builder.setRange(type.piece, range);
    for (const flag of flags) {
      const piece = type.flags.get(flag.name);
      if (piece !== undefined) builder.setRange(piece, flag.range);
    }
  }
  fact.pieces.forEach((piece, at) => builder.setRange(itemAt(itemAt(world.trees.pieceOf, source), at), piece.range));
  for (const part of index.bySource.get(source) ?? []) {
    if (part.pieceFact < 0 || kindOf(builder.graph, part.piece) !== 'part') continue;
    part.fact = itemAt(itemAt(fact.pieces, part.pieceFact).parts, part.partFact);
    builder.setRange(part.piece, part.fact.range);
  }
  const declared = world.names.declared.get(source) ?? [];
  let at = 0;
  for (const { id, range } of declarations(world, fact)) if (id) builder.setRange(itemAt(declared, at++), range);
}

function isSame(some: string[] | undefined, others: string[] | undefined): boolean {
  return some?.length === others?.length && (some ?? []).every((text, at) => text === must(others)[at]);
}

/** Saved values of changed files, in the places of the old ones. */
function renewValues(world: World, part: WorldPart, changed: Map<number, FileFacts>): void {
  if (!part.values.some((value) => changed.has(value.source))) return;
  const done = new Set<string>();
  part.values = part.values.flatMap((value) => {
    const { source, pieceFact, partFact } = value;
    if (!changed.has(source)) return [value];
    const key = `${source}/${pieceFact}/${partFact}`;
    if (done.has(key)) return [];
    done.add(key);
    return valuesAt(world, source, pieceFact, partFact).map((one) => ({ value: one, source, pieceFact, partFact }));
  });
}

function valuesAt(
  world: World,
  source: number,
  pieceFact: number,
  partFact: number,
): WorldPart['values'][number]['value'][] {
  const { parts, overrides } = itemAt(itemAt(world.facts, source).pieces, pieceFact);
  return partFact < parts.length
    ? itemAt(parts, partFact).values
    : itemAt(must(overrides), partFact - parts.length).values;
}
