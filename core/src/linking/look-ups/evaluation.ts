/** What is worked out at one place: shared by all look-ups that run there, and kept as long as the place is looked at. */
import type { Operation, ScriptFacts, Value } from '../../reading/facts.js';
import type { CallRule } from '../../reading/plan/plan.js';
import type { World, WorldType } from '../world/world.js';
import type { Outcome } from './outcome.js';
import type { Place, SlotReferences } from './place.js';

export interface Evaluation {
  readonly world: World;
  readonly place: Place;
  readonly slots: SlotReferences;
  /** Names of objects that code can bring into a scene. */
  readonly madeAtRun: ReadonlySet<string>;
  /** The object itself, where every look-up begins that says nothing else. */
  readonly self: Outcome;
  /** What each operation came to, by its position in its script. */
  readonly operations: Map<ScriptFacts, Outcome[]>;
  readonly fields: Map<string, Outcome>;
  /** What a value of `type`'s script comes to here. */
  readonly value: (type: WorldType, value: Value) => Outcome;
  /** The texts that a value stands for here. */
  readonly texts: (value: Value) => string[];
}

/** One call or property that is looked at. */
export interface Asked {
  /** The type whose code it is. */
  type: WorldType;
  fact: Operation;
  rule: CallRule;
  /** What it is called on. */
  receiver: Outcome;
}

/** How a meaning of the call table is evaluated. */
export type LookUpKind = (evaluation: Evaluation, asked: Asked) => Outcome;
