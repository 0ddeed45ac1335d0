import { contentOf, scriptRuleOf } from '../reading/plan/content.js';
import { cellAt, entryOf, itemAt, must } from '../helpers/at.js';
import type { FileFacts, PartFact, PieceFact } from '../reading/facts.js';
import type { FieldTarget, Plan } from '../reading/plan/plan.js';
import { findSource } from '../reading/source.js';
import { slotKey } from './look-ups/place.js';
import { linkAttachments, linkBases, linkInstances, linkLabels, linkOverrides } from './files/bases.js';
import { linkConnections, linkWrittenEvents } from './files/wires.js';
import { linkGiven } from './files/given.js';
import { linkPackages } from './files/packages-needed.js';
import { linkReferences } from './files/link-files.js';
import { linkImports } from './link-imports.js';
import { attachByCode } from './places/attach.js';
import { gatherLookUps } from './places/gather.js';
import { linkPlaces } from './places/link-places.js';
import { collectMadeAtRun, declarePieces } from './scripts/declare.js';
import { linkScripts, linkTypes } from './scripts/link-scripts.js';
import { markBuiltEvents } from './scripts/script-events.js';
import { NO_HISTORY } from '../model/history.js';
import type { EventEnd, Linked } from './linked.js';
import { countFacts, withLookUps } from './rule-counts.js';
import { findPath } from './paths.js';
import { findTarget } from './targets.js';
import { storyBackward, storyForward } from './story.js';
import { valuesOf } from './values.js';
import { walkAt } from './walks.js';
import { lose, type Work } from './work.js';
import { addPart } from './world/parts.js';
import { buildWorld } from './world/build.js';
import { withHanded } from './handed.js';
import { contentAt, type World } from './world/world.js';
import { mainType } from './world/types.js';
import { push } from '../helpers/push.js';

/**
 * Facts → links: works out where every script runs and what every reference ends on.
 * @param facts of all files that a rule reads
 * @param otherPaths files of the project that no rule reads; references may still lead to them
 */
export function linkFacts(facts: FileFacts[], otherPaths: string[], plan: Plan): Linked {
  return finish(linkAll(withHanded(facts, new WeakMap()), otherPaths, plan));
}

/** Links everything anew, and leaves what is needed to link changed files alone afterwards. */
export function linkAll(facts: FileFacts[], otherPaths: string[], plan: Plan): Work {
  const world = buildWorld(facts, otherPaths, plan, prefabOf, scriptOf);
  const work: Work = {
    world,
    slots: new Map(),
    madeAtRun: new Set(),
    events: new Map(),
    wiredHandlers: new Set(facts.flatMap((fact) => calledFunctions(fact, plan))),
    builtSends: [],
    builtListeners: [],
    lookUps: new Map(),
    lookUpPlans: new Map(),
    unsureFirsts: new Map(),
    outcomes: new Map(),
    areMentionsStale: true,
    isAttachedByCode: false,
    ruleShares: new Map(),
    linked: {
      plan,
      facts: world.facts,
      replacedBy: world.files.replacedBy,
      labels: [...world.labels.piece.keys()],
      packages: world.files.packages.map(({ id, version }) => ({ id, version })),
      lookUps: [],
      lostReferences: [],
      emptySlots: [],
      faults: [],
      roles: [],
      mentions: new Set(),
      unknownSends: false,
      unknownListeners: false,
      rules: countFacts(world.facts, plan),
      losses: new Map(),
    },
  };
  declarePieces(world);
  attachByTable(work);
  world.facts.forEach((_fact, source) => collectSlots(work, source));
  collectMadeAtRun(work);
  attachByCode(work);
  world.facts.forEach((_fact, source) => linkFile(work, source));
  linkAttachments(work, world.trees.partByPiece.values());
  linkPlaces(work, world.trees.partByPiece.values());
  return work;
}

/** Functions that a file has called: handlers of its wires, and those that it names. */
export function calledFunctions(fact: FileFacts, plan: Plan): string[] {
  const { events, references } = fact;
  const rules = contentOf(plan, fact).references;
  const named = references.filter((one) => rules[one.rule]?.by === 'function');
  return [...events.map(({ handler }) => handler), ...named.map(({ text }) => text)];
}

/** All links that one file gives by itself. */
export function linkFile(work: Work, source: number): void {
  linkTypes(work, source);
  linkInstances(work, source);
  linkBases(work, source);
  linkOverrides(work, source);
  linkLabels(work, source);
  linkPackages(work, source);
  linkReferences(work, source);
  linkConnections(work, source);
  linkWrittenEvents(work, source);
  linkGiven(work, source);
  linkImports(work, source);
  linkScripts(work, source);
}

/** What has been linked, as the checks and views want it. It holds until the next change to `work`. */
export function finish(work: Work): Linked {
  if (work.areMentionsStale) {
    const mentions = new Set<string>();
    for (const { script } of work.world.facts) for (const text of script?.mentions ?? []) mentions.add(text);
    work.linked.mentions = mentions;
    work.areMentionsStale = false;
  }
  markBuiltEvents(work);
  // Files linked again give their ends last: in which order files were linked must not show.
  for (const ends of work.events.values()) {
    ends.senders.sort(byPlace);
    ends.listeners.sort(byPlace);
  }
  work.linked.emptySlots.sort((a, b) => a.part - b.part);
  work.linked.faults.sort((a, b) => a.part - b.part || byPlace(a, b));
  work.linked.lookUps = gatherLookUps(work);
  for (const { lost } of work.linked.lookUps) lost.sort((a, b) => a.part - b.part);
  const { world } = work;
  return {
    ...work.linked,
    rules: withLookUps(work.linked.rules, world.facts, world.plan, work.lookUps),
    events: [...work.events.values()],
    graph: world.builder.finish(),
    valuesOf: (piece) => valuesOf(world, piece),
    storyOf: (event, direction) => (direction === 'forward' ? storyForward : storyBackward)(world, work.events, event),
    walkAt: (from, file, place) => walkAt(work, from, file, place),
    madeAtRun: work.madeAtRun,
    history: NO_HISTORY,
    world,
  };
}

function byPlace(a: Pick<EventEnd, 'file' | 'range'>, b: Pick<EventEnd, 'file' | 'range'>): number {
  return a.file < b.file ? -1 : a.file > b.file ? 1 : a.range.line - b.range.line || a.range.column - b.range.column;
}

/** The path of the prefab an object is made from; undefined when it leads nowhere. */
function prefabOf(world: World, source: number, piece: PieceFact): string | undefined {
  const form = must(entryOf(contentAt(world, source).pieces, piece.rule).madeFrom);
  return pathOf(world, form, must(piece.madeFrom).text, source);
}

/** The path of the script a part runs. */
function scriptOf(world: World, source: number, piece: PieceFact, part: PartFact): string | undefined {
  const form = contentAt(world, source).pieces[piece.rule]?.parts[part.rule]?.script;
  // Glue facts give the path itself.
  if (!form) return world.files.paths.has(must(part.script).text) ? must(part.script).text : undefined;
  return pathOf(world, form, must(part.script).text, source);
}

function pathOf(world: World, form: FieldTarget, text: string, source: number): string | undefined {
  if (form.by === 'path') return findPath(world, form, text, itemAt(world.facts, source).file).path;
  const target = findTarget(world, form, { text, piece: -1 }, source);
  if (target.state !== 'found') return undefined;
  const { graph } = world.builder;
  return itemAt(graph.texts, cellAt(graph.pieces.file, itemAt(target.pieces, 0)));
}

/** Scripts that run somewhere without an attachment: by a table in a file, or by where the script stands. */
function attachByTable(work: Work): void {
  const { world } = work;
  const attach = (object: number, path: string, source: number, range: PartFact['range']): void => {
    const type = mainType(world, path);
    if (!type) return;
    const fact: PartFact = { rule: -1, type: '', values: [], range };
    addPart(world, { object, typeName: type.name, type, fact, source, pieceFact: -1, partFact: -1, values: [] });
  };
  world.facts.forEach((fact, source) => {
    for (const { rule: ruleName, script, to } of fact.attachments) {
      const rule = entryOf(contentAt(world, source).attachments, ruleName);
      const place = { from: itemAt(world.files.piece, source), verb: 'carries' as const, file: fact.file, field: '' };
      const target = findTarget(world, rule.script, { text: script.text, piece: -1 }, source);
      const on = to && rule.to ? findTarget(world, rule.to, { text: to.text, piece: -1 }, source) : undefined;
      if (target.state === 'lost') lose(work, { ...place, range: script.range }, target.loss);
      if (on?.state === 'lost') lose(work, { ...place, range: must(to).range }, on.loss);
      const path = pathOf(world, rule.script, script.text, source);
      if (path === undefined || (on && on.state !== 'found')) continue;
      for (const object of on ? on.pieces : [itemAt(world.files.piece, source)])
        attach(object, path, source, script.range);
    }
    const belongs = fact.script && scriptRuleOf(world.plan, fact).belongsTo;
    const scene = belongs && findSource(belongs.scene, undefined, fact.file)?.text;
    if (!belongs || !scene) return;
    const pieces =
      belongs.by === 'path'
        ? [itemAt(world.files.piece, world.files.sourceOf.get(scene) ?? -1)]
        : world.names[SCENES_BY[belongs.by]].get(scene);
    for (const piece of pieces ?? [])
      if (piece !== undefined && world.files.piece.includes(piece)) attach(piece, fact.file, source, fact.range);
  });
}

const SCENES_BY = { id: 'byId', name: 'byName' } as const;

/** References that are saved values of parts, so that a field can be followed to its target. */
export function collectSlots({ world, slots }: Work, source: number): void {
  for (const reference of itemAt(world.facts, source).references) {
    if (reference.part >= 0) push(slots, slotKey(source, reference.piece, reference.part, reference.field), reference);
  }
}
