/** Events and their ends, whoever names them. */
import { FLAGS, kindOf } from '../model/graph.js';
import type { Plan } from '../reading/plan/plan.js';
import type { EventEnds } from './linked.js';
import { isEngines } from './losses.js';
import type { Work } from './work.js';
import { typeNamed } from './world/types.js';

/** The event of a name, made known when it is first named. */
export function eventNamed(work: Work, name: string): EventEnds {
  let ends = work.events.get(name);
  if (!ends) {
    const { world } = work;
    const isEvent = (piece: number): boolean => kindOf(world.builder.graph, piece) === 'event';
    const declared = [...(world.names.byId.get(name) ?? []), ...(world.names.byName.get(name) ?? [])].find(isEvent);
    const type = declared === undefined ? typeNamed(world, name, -1) : undefined;
    const piece =
      declared ??
      (type && !name.includes(' ')
        ? type.piece
        : world.builder.addPiece({ kind: 'event', name, flags: isEngineEvent(world.plan, name) ? FLAGS.engines : 0 }));
    ends = { name, piece, declared: declared !== undefined, senders: [], listeners: [] };
    work.events.set(name, ends);
  }
  return ends;
}

export function isEngineEvent(plan: Plan, name: string): boolean {
  return isEngines(plan.engine.events, name);
}
