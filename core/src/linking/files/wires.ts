/** Wires and connections that are saved in files. */
import { ruleKey } from '../../reading/plan/content.js';
import { entryOf, itemAt } from '../../helpers/at.js';
import type { Grip } from '../../model/link.js';
import type { EventFact } from '../../reading/facts.js';
import type { Naming } from '../../reading/plan/plan.js';
import { eventNamed } from '../events.js';
import { isMissing } from '../members.js';
import { isBarred } from '../slots.js';
import { emptyLoss } from '../losses.js';
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
    const at = (named: string): number => {
      const index = named ? pieceNamed(world, source, rule, named, wire.piece) : -1;
      return index >= 0
        ? itemAt(itemAt(world.trees.pieceOf, source), index)
        : wire.piece >= 0
          ? itemAt(itemAt(world.trees.pieceOf, source), wire.piece)
          : itemAt(world.files.piece, source);
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
