/** Wires and connections that are saved in files. */
import { ruleKey } from '../../reading/plan/content.js';
import { entryOf, itemAt } from '../../helpers/at.js';
import { kindOf } from '../../model/graph.js';
import type { Grip } from '../../model/link.js';
import type { EventFact } from '../../reading/facts.js';
import type { Naming, TargetForm } from '../../reading/plan/plan.js';
import { OWN_FUNCTION } from '../../reading/plan/schema.js';
import { eventNamed } from '../events.js';
import { isMissing } from '../members.js';
import { isBarred } from '../slots.js';
import { emptyLoss, isEngines } from '../losses.js';
import { findTarget } from '../targets.js';
import { countShare, lose, type Work } from '../work.js';
import { hasUnknownParts } from '../world/parts.js';
import { pieceNamed } from '../world/pieces.js';
import { isRead } from '../world/unread.js';
import { contentAt, type WorldType } from '../world/world.js';

/** How firmly pieces of one file hold each other by what names them. */
const GRIP_OF_NAMING: Record<Naming, Grip> = { id: 'fixed', name: 'name', index: 'path' };

/** Wires saved in files: from one object's event to another's handler. */
export function linkWrittenEvents(work: Work, source: number): void {
  const { world } = work;
  const fact = itemAt(world.facts, source);
  for (const wire of fact.events) {
    const rule = entryOf(contentAt(world, source).events, wire.rule);
    const ends = eventNamed(work, wire.event);
    const common = { file: fact.file, range: wire.range };
    const { scope, moment, side } = rule;
    const happening = { to: ends.piece, grip: 'name' as const, scope, moment, side, ...common };
    // A wire that names no sender has none, unless the rule says that it is the piece around.
    if (rule.from && (wire.from || rule.from.text !== undefined)) {
      const piece = endOf(work, source, wire, 'from');
      if (piece >= 0) {
        ends.senders.push({ ...common, piece, handler: '' });
        world.builder.addLink({ from: piece, verb: 'sends', label: wire.event, ...happening });
      }
    }
    if (wire.to || wire.handler || rule.to?.text !== undefined) {
      const piece = endOf(work, source, wire, 'to');
      if (piece < 0) continue;
      const called = rule.target ? calledBy(work, source, piece, wire, rule.target) : undefined;
      checkWire(work, piece, wire, fact.file, rule.target === undefined);
      ends.listeners.push({ ...common, piece: called ?? piece, handler: wire.handler });
      const label = [wire.order && `${wire.order}.`, wire.handler && `→ ${wire.handler}()`].filter(Boolean).join(' ');
      world.builder.addLink({ from: called ?? piece, verb: 'listens to', label, ...happening });
    }
  }
}

/** The piece at an end of a wire: the one it names, or the one around it; -1 when nothing has that name. */
function endOf(work: Work, source: number, wire: EventFact, end: 'from' | 'to'): number {
  const { world } = work;
  const pieces = itemAt(world.trees.pieceOf, source);
  const around = wire.piece >= 0 ? itemAt(pieces, wire.piece) : itemAt(world.files.piece, source);
  const named = wire[end];
  if (!named) return around;
  const rule = entryOf(contentAt(world, source).events, wire.rule);
  const index = pieceNamed(world, source, rule, named, wire.piece);
  if (index >= 0) return itemAt(pieces, index);
  // What another file has by this name may be meant, and so may what stands where this file was not read.
  const { byId, byName } = world.names;
  if (!isRead(world, source) || (rule.by !== 'index' && (rule.by === 'id' ? byId : byName).has(named))) return around;
  const place = { from: around, verb: end === 'from' ? ('sends' as const) : ('listens to' as const), field: '' };
  const range = (end === 'from' ? wire.fromAt : wire.toAt) ?? wire.range;
  const form: TargetForm = { ...OWN_FUNCTION, by: rule.by, within: 'file' };
  lose(work, { ...place, file: itemAt(world.facts, source).file, range, form }, emptyLoss('object', named));
  return -1;
}

/** The type or script whose function a wire calls, as the rule's target says where it is. */
function calledBy(work: Work, source: number, piece: number, wire: EventFact, form: TargetForm): number | undefined {
  const { world } = work;
  const { handler, handlerAt, holder, to, range } = wire;
  if (!handler) return undefined;
  const at = to ? pieceNamed(world, source, entryOf(contentAt(world, source).events, wire.rule), to, wire.piece) : -1;
  const pointer = { text: handler, piece: at >= 0 ? at : wire.piece, ...(holder !== undefined && { holder }) };
  const target = findTarget(world, form, pointer, source);
  if (target.state === 'lost') {
    const { file } = itemAt(world.facts, source);
    lose(work, { from: piece, verb: 'calls', file, field: '', range: handlerAt ?? range, form }, target.loss);
  }
  return target.state === 'found' ? target.pieces[0] : undefined;
}

/** Whether the object at the end of a wire can do what the wire asks. */
function checkWire(work: Work, piece: number, wire: EventFact, file: string, isOwn: boolean): void {
  const { world } = work;
  const { event, handler, handlerAt, range } = wire;
  const place = { part: -1, foundIn: file, file, range };
  if (isBarred(world, piece))
    work.linked.faults.push({ is: 'barred', from: piece, target: piece, how: 'wire', label: event, ...place });
  if (!handler || !isOwn || kindOf(world.builder.graph, piece) !== 'object' || hasUnknownParts(world, piece)) return;
  const parts = world.trees.partsOf.get(piece) ?? [];
  const types = parts.flatMap((part) => part.type ?? []);
  const { members } = world.plan.engine;
  // Parts and objects of the engine take handlers, too: which ones, only the plan can say.
  if ((types.length < parts.length || types.length === 0) && (members.length === 0 || isEngines(members, handler)))
    return;
  if (types.length === 0 && work.isAttachedByCode && world.code.functionNames.has(handler)) return;
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
  const fact = itemAt(world.facts, source);
  for (const { rule: ruleName, from, to, label, piece, range } of fact.connections) {
    const rule = entryOf(contentAt(world, source).connections, ruleName);
    const end = (text: string): number => {
      const at = pieceNamed(world, source, rule, text, piece);
      return at < 0 ? -1 : itemAt(itemAt(world.trees.pieceOf, source), at);
    };
    const around = piece >= 0 ? itemAt(itemAt(world.trees.pieceOf, source), piece) : itemAt(world.files.piece, source);
    const place = { from: from ? end(from) : around, verb: rule.verb, file: fact.file, range };
    const target = end(to);
    const isWhole = place.from >= 0 && target >= 0;
    if (!isWhole && !isRead(world, source)) continue;
    countShare(work, source, ruleKey(fact, 'connections', ruleName), isWhole ? 1 : 0, isWhole ? 0 : 1);
    if (isWhole) {
      world.builder.addLink({ ...place, to: target, grip: GRIP_OF_NAMING[rule.by], label });
    } else {
      const wanted = place.from < 0 ? from : to;
      lose(work, { ...place, from: Math.max(place.from, around), field: label }, emptyLoss('object', wanted));
    }
  }
}
