import type { Pattern } from '../helpers/pattern.js';
import type { Loss, Verb, WalkStep } from '../model/link.js';
import type { Range } from '../model/piece.js';
import type { SlotReferences } from './look-ups/place.js';
import type { EventEnds, Linked, LookUp, LostReference } from './linked.js';
import { countOf } from './rule-counts.js';
import { push } from '../helpers/push.js';
import type { World, WorldType } from './world/world.js';

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
  builtSends: Pattern[];
  builtListeners: Pattern[];
  linked: Omit<Linked, 'graph' | 'events' | 'valuesOf' | 'walkAt' | 'storyOf' | 'madeAtRun' | 'history' | 'world'>;
  /** Look-ups by the position of their script in `facts` and of their operation. */
  lookUps: Map<number, LookUp[]>;
  /** The look-ups that run with each type. */
  lookUpPlans: Map<WorldType, LookUpPlan[]>;
  /** Look-ups whose first place was evaluated again: another one may come first now. */
  unsureFirsts: Map<LookUp, LookUpPlan>;
  /** What each planned look-up came to, by part. */
  outcomes: Map<number, Uint8Array>;
  /** Whether code attaches scripts: where they run then hangs on everything that such code reaches. */
  isAttachedByCode: boolean;
  /** Whether the texts that scripts mention must be gathered anew. */
  areMentionsStale: boolean;
  /** What rules came to in each file, so that it can be taken back. */
  ruleShares: Map<number, { rule: string; links: number; lost: number }[]>;
}

/** A look-up that runs with a type: an operation of its own or of a parent's script. */
export interface LookUpPlan {
  type: WorldType;
  operation: number;
}

/** Counts what a rule came to in one file. */
export function countShare(work: Work, source: number, rule: string, links: number, lost: number): void {
  const count = countOf(work.linked.rules, rule);
  count.links += links;
  count.lost += lost;
  push(work.ruleShares, source, { rule, links, lost });
}

/** A link that leads nowhere. */
export interface Losing {
  from: number;
  verb: Verb;
  file: string;
  field: string;
  range: Range;
  form?: LostReference['form'];
  role?: LostReference['role'];
  isJoined?: true;
}

/** Notes a reference that leads nowhere, for the checks and on the map. */
export function lose(work: Work, losing: Losing, loss: Loss, walk: WalkStep[] = []): void {
  const { from, verb, file, field, range, form, role, isJoined } = losing;
  work.linked.lostReferences.push({ file, range, from, verb, field, loss, form, role, ...(isJoined && { isJoined }) });
  addLost(work, losing, loss, walk);
}

/** The same on the map alone. */
export function addLost(
  work: Work,
  { from, verb, file, field, range }: Losing,
  loss: Loss,
  walk: WalkStep[] = [],
): void {
  const label = field ? `${field}: ${loss.wanted}` : loss.wanted;
  const link = work.world.builder.addLink({ from, to: -1, verb, grip: 'lost', label, file, range });
  work.linked.losses.set(link, { loss, walk });
}
