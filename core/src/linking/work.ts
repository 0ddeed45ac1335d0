import type { Loss, Verb, WalkStep } from '../model/link.js';
import type { Range } from '../model/piece.js';
import type { SlotReferences } from './evaluate.js';
import type { EventEnds, Linked } from './linked.js';
import type { World } from './world.js';

/** Everything under way while linking. */
export interface Work {
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

/** A link that leads nowhere. */
export interface Losing {
  from: number;
  verb: Verb;
  file: string;
  field: string;
  range: Range;
}

/** Notes a reference that leads nowhere, for the checks and on the map. */
export function lose(work: Work, losing: Losing, loss: Loss, walk: WalkStep[] = []): void {
  const { from, file, field, range } = losing;
  work.linked.lostReferences.push({ file, range, from, field, loss });
  addLost(work, losing, loss, walk);
}

/** The same on the map alone. */
export function addLost(work: Work, { from, verb, file, field, range }: Losing, loss: Loss, walk: WalkStep[]): void {
  const label = field ? `${field}: ${loss.wanted}` : loss.wanted;
  const link = work.world.builder.addLink({ from, to: -1, verb, grip: 'lost', label, file, range });
  work.linked.losses.set(link, { loss, walk });
}
