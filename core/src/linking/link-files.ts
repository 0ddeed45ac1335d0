/** What structured files say: instances, attachments, references, wires, connections, labels, packages. */
import { kindOf } from '../model/graph.js';
import type { Grip } from '../model/link.js';
import type { FieldTarget, Naming } from '../reading/plan/plan.js';
import type { EventFact, FileFacts, Written } from '../reading/facts.js';
import { hasUnknownParts } from './look-ups/parts-of.js';
import { referenceOutcome } from './look-ups/reference.js';
import { walkOf } from './look-ups/outcome.js';
import { eventNamed } from './events.js';
import { isMissing } from './members.js';
import { satisfies } from './packages.js';
import { isBarred } from './slots.js';
import { emptyLoss, findTarget, type Target } from './targets.js';
import { countShare, lose, type Work } from './work.js';
import { fileRuleOf, topOf, type World, type WorldPart, type WorldType } from './world/world.js';
import { pieceNamed } from './world/pieces.js';
import { placeKey } from './world/overrides.js';

/** How firmly pieces of one file hold each other by what names them. */
const GRIP_OF_NAMING: Record<Naming, Grip> = { id: 'fixed', name: 'name', index: 'path' };

/** Objects made from prefabs. */
export function linkInstances(work: Work, source: number): void {
  const { world } = work;
  const fact = world.facts[source];
  for (const { object, prefab, pieceFact } of world.prefabs.madeFrom.get(source) ?? []) {
    const { madeFrom } = world.facts[source].pieces[pieceFact];
    const form = fileRuleOf(world, source).pieces[world.facts[source].pieces[pieceFact].rule].madeFrom!;
    world.builder.addLink({
      from: object,
      to: world.files.piece[prefab],
      verb: 'made from',
      grip: form.by === 'id' ? 'fixed' : form.by === 'name' ? 'name' : 'path',
      file: world.facts[source].file,
      range: madeFrom!.range,
    });
  }
  fact.pieces.forEach((piece, at) => {
    if (!piece.madeFrom || !world.trees.incomplete.has(world.trees.pieceOf[source][at])) return;
    const form = fileRuleOf(world, source).pieces[piece.rule].madeFrom!;
    const target = findTarget(world, form, { text: piece.madeFrom.text, piece: at }, source);
    if (target.state === 'lost') {
      lose(
        work,
        {
          from: world.trees.pieceOf[source][at],
          verb: 'made from',
          file: fact.file,
          field: '',
          form,
          ...piece.madeFrom,
        },
        target.loss,
      );
    }
  });
}

/** Which script each part runs. */
export function linkAttachments(work: Work, parts: Iterable<WorldPart>): void {
  const { world } = work;
  for (const part of parts) {
    const { file } = world.facts[part.source];
    const runsHere = part.type !== undefined || part.graph !== undefined;
    if (runsHere && isBarred(world, part.object) && world.builder.graph.pieces.origin[part.piece] < 0) {
      const place = { part: -1, foundIn: file, file, range: part.fact.range };
      work.linked.faults.push({
        is: 'barred',
        from: part.object,
        target: part.object,
        how: 'part',
        label: '',
        ...place,
      });
    }
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
      const form = fileRuleOf(world, part.source).pieces[piece.rule]?.parts[part.fact.rule]?.script;
      const { text } = part.fact.script;
      const target: Target = form
        ? findTarget(world, form, { text, piece: part.pieceFact }, part.source)
        : { state: 'lost', loss: emptyLoss('file', text) };
      if (target.state === 'lost')
        lose(work, { from: part.piece, verb: 'runs', file, field: '', form, ...part.fact.script }, target.loss);
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

/** What files and pieces are derived from. */
export function linkBases(work: Work, source: number): void {
  const { world } = work;
  const fact = world.facts[source];
  const { file } = fact;
  const link = (from: number, form: FieldTarget, { text, range }: Written, piece: number): void => {
    const target = findTarget(world, form, { text, piece }, source);
    if (target.state === 'lost') lose(work, { from, verb: 'extends', file, field: '', range, form }, target.loss);
    if (target.state !== 'found') return;
    for (const to of target.pieces)
      if (to !== from) world.builder.addLink({ from, to, verb: 'extends', grip: target.grip, file, range });
  };
  if (fact.extends) link(world.files.piece[source], fileRuleOf(world, source).extends!, fact.extends, -1);
  fact.pieces.forEach((piece, at) => {
    if (piece.extends)
      link(world.trees.pieceOf[source][at], fileRuleOf(world, source).pieces[piece.rule].extends!, piece.extends, at);
  });
}

/** Changes that instances make to what their prefab holds. */
export function linkOverrides(work: Work, source: number): void {
  const { world } = work;
  const { file, pieces } = world.facts[source];
  pieces.forEach((piece, at) =>
    piece.overrides?.forEach(({ range }, index) => {
      const part = world.prefabs.changedPart.get(placeKey(source, at, piece.parts.length + index));
      const from = world.trees.pieceOf[source][at];
      if (part) world.builder.addLink({ from, to: part.piece, verb: 'overrides', grip: 'path', file, range });
    }),
  );
  for (const { object, pieceFact, override } of world.prefabs.lostOverrides.get(source) ?? []) {
    const { on, part, range } = pieces[pieceFact].overrides![override];
    const wanted = part ? (on ? `${on}: ${part}` : part) : on;
    const loss = emptyLoss(part ? 'part' : 'object', wanted);
    lose(work, { from: object, verb: 'overrides', file, field: '', range }, loss);
  }
}

/** Labels that pieces carry. */
export function linkLabels(work: Work, source: number): void {
  const { world } = work;
  const { file, pieces } = world.facts[source];
  pieces.forEach((piece, at) => {
    for (const { text, range } of piece.labels ?? []) {
      world.builder.addLink({
        from: world.trees.pieceOf[source][at],
        to: world.labels.piece.get(text)!,
        verb: 'labelled',
        grip: 'name',
        file,
        range,
      });
    }
  });
}

/** Packages that need each other. */
export function linkPackages(work: Work, source: number): void {
  const { world } = work;
  const fact = world.facts[source];
  if (!fact.package) return;
  const known = new Map(
    world.files.packages.map((one) => [one.id, world.files.piece[world.files.sourceOf.get(one.manifest)!]]),
  );
  for (const { text, version, range } of fact.package.needs) {
    const place = { from: world.files.piece[source], verb: 'imports' as const, file: fact.file, range };
    const to = known.get(text);
    if (to === undefined) lose(work, { ...place, field: '' }, emptyLoss('package', text));
    else world.builder.addLink({ ...place, to, grip: 'name', label: version });
    const has = world.files.packages.find((one) => one.id === text)?.version ?? '';
    if (to !== undefined && !satisfies(has, version)) {
      const { from, file } = place;
      work.linked.faults.push({
        is: 'wrong version',
        part: -1,
        foundIn: file,
        from,
        file,
        range,
        needs: text,
        version,
        has,
      });
    }
  }
}

/** References written in structured files. */
export function linkReferences(work: Work, source: number): void {
  const { world } = work;
  const fact = world.facts[source];
  const rule = world.plan.files[fact.rule];
  for (const reference of fact.references) {
    const object = reference.piece >= 0 ? world.trees.pieceOf[source][reference.piece] : world.files.piece[source];
    const part = reference.part >= 0 ? partOf(world, source, object, reference) : undefined;
    const from = part?.piece ?? object;
    const form = rule.references[reference.rule];
    const { verb } = form;
    const isObject = kindOf(world.builder.graph, object) === 'object';
    const isLoose = kindOf(world.builder.graph, topOf(world, object)) !== 'scene';
    const outcome = referenceOutcome(world, reference, source, isObject ? object : -1, isLoose);
    const found = outcome.state === 'found' ? outcome.pieces.length : 0;
    const key = `files.${fact.rule}.references.${reference.rule}`;
    countShare(work, source, key, found, outcome.state === 'lost' ? 1 : 0);
    if (outcome.state === 'lost' && !reference.isCopy) {
      lose(
        work,
        { from, verb, file: fact.file, field: reference.field, range: reference.range, form, role: form.role },
        outcome.loss!,
        outcome.before ? walkOf(world, outcome) : [],
      );
    }
    if (form.role) {
      const { role } = form;
      const { text, range } = reference;
      work.linked.roles.push({ role, text, range, file: fact.file, piece: outcome.pieces[0] ?? -1 });
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
}

/** The part that a reference is a slot of: attached here, or changed by an override. */
function partOf(
  world: World,
  source: number,
  object: number,
  { piece, part }: FileFacts['references'][number],
): WorldPart | undefined {
  return (
    world.trees.partsOf.get(object)?.find((one) => one.source === source && one.partFact === part) ??
    world.prefabs.changedPart.get(placeKey(source, piece, part))
  );
}

/** Wires saved in files: from one object's event to another's handler. */
export function linkWrittenEvents(work: Work, source: number): void {
  const { world } = work;
  const fact = world.facts[source];
  for (const wire of fact.events) {
    const rule = world.plan.files[fact.rule].events[wire.rule];
    const ends = eventNamed(work, wire.event);
    const common = { file: fact.file, range: wire.range };
    const at = (named: string): number => {
      const index = named ? pieceNamed(world, source, rule, named, wire.piece) : -1;
      return index >= 0
        ? world.trees.pieceOf[source][index]
        : wire.piece >= 0
          ? world.trees.pieceOf[source][wire.piece]
          : world.files.piece[source];
    };
    const { scope, moment, side } = rule;
    // A wire that names no sender has none, unless the rule says that it is the piece around.
    if (rule.from && (wire.from || rule.from.text !== undefined)) {
      const piece = at(wire.from);
      ends.senders.push({ ...common, piece, handler: '' });
      world.builder.addLink({
        from: piece,
        to: ends.piece,
        verb: 'sends',
        grip: 'name',
        label: wire.event,
        scope,
        moment,
        side,
        ...common,
      });
    }
    if (rule.to || rule.handler) {
      const piece = at(wire.to);
      checkWire(work, piece, wire, fact.file);
      ends.listeners.push({ ...common, piece, handler: wire.handler });
      world.builder.addLink({
        from: piece,
        to: ends.piece,
        verb: 'listens to',
        grip: 'name',
        label: [wire.order && `${wire.order}.`, wire.handler && `→ ${wire.handler}()`].filter(Boolean).join(' '),
        scope,
        moment,
        side,
        ...common,
      });
    }
  }
}

/** Whether the object at the end of a wire can do what the wire asks. */
function checkWire(work: Work, piece: number, { event, handler, handlerAt, range }: EventFact, file: string): void {
  const { world } = work;
  const place = { part: -1, foundIn: file, file, range };
  if (isBarred(world, piece))
    work.linked.faults.push({ is: 'barred', from: piece, target: piece, how: 'wire', label: event, ...place });
  const parts = world.trees.partsOf.get(piece) ?? [];
  const types = parts.flatMap((part) => part.type ?? []);
  if (!handler || types.length === 0 || hasUnknownParts(world, piece)) return;
  // Parts of the engine take handlers, too: which ones, only the plan can say.
  if (types.length < parts.length && world.plan.engine.members.length === 0) return;
  if (!types.every((type) => isMissing(world, type, handler))) return;
  work.linked.faults.push({
    is: 'stale handler',
    object: piece,
    event,
    handler,
    handlerAt,
    typeNames: types.map((type) => type.name),
    functions: [...new Set(types.flatMap(functionNames))],
    ...place,
  });
}

function functionNames(type: WorldType): string[] {
  return [type, ...type.ancestors].flatMap(({ script, local }) =>
    script.functions.filter((code) => code.type === local && code.name).map((code) => code.name),
  );
}

/** Connections between pieces of one file. */
export function linkConnections(work: Work, source: number): void {
  const { world } = work;
  const fact = world.facts[source];
  for (const { rule: ruleName, from, to, label, piece, range } of fact.connections) {
    const rule = world.plan.files[fact.rule].connections[ruleName];
    const end = (text: string): number => {
      const at = pieceNamed(world, source, rule, text, piece);
      return at < 0 ? -1 : world.trees.pieceOf[source][at];
    };
    const around = piece >= 0 ? world.trees.pieceOf[source][piece] : world.files.piece[source];
    const place = { from: from ? end(from) : around, verb: rule.verb, file: fact.file, range };
    const target = end(to);
    const isWhole = place.from >= 0 && target >= 0;
    countShare(work, source, `files.${fact.rule}.connections.${ruleName}`, isWhole ? 1 : 0, isWhole ? 0 : 1);
    if (isWhole) {
      world.builder.addLink({ ...place, to: target, grip: GRIP_OF_NAMING[rule.by], label });
    } else {
      const wanted = place.from < 0 ? from : to;
      lose(work, { ...place, from: Math.max(place.from, around), field: label }, emptyLoss('object', wanted));
    }
  }
}

/** Links that glue facts give directly. */
export function linkGiven(work: Work, source: number): void {
  const { world } = work;
  const fact = world.facts[source];
  if (fact.given.length === 0) return;
  const own = new Map(fact.pieces.map((piece, at) => [piece.id, world.trees.pieceOf[source][at]]));
  const named = (id: string): number | undefined =>
    own.get(id) ?? world.names.byId.get(id)?.[0] ?? fileNamed(world, id);
  for (const { from, to, verb, grip, scope, moment, side, label, file, range } of fact.given) {
    const start = named(from) ?? world.files.piece[source];
    const end = to ? named(to) : undefined;
    const place = { from: start, verb, file: file || fact.file, range };
    if (end === undefined) lose(work, { ...place, field: label }, emptyLoss('object', to || label));
    else world.builder.addLink({ ...place, to: end, grip, scope, moment, side, label });
  }
}

function fileNamed(world: World, path: string): number | undefined {
  const source = world.files.sourceOf.get(path);
  return source === undefined ? undefined : world.files.piece[source];
}
