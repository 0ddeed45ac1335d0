/** Where a look-up runs, and what is saved there. */
import type { ReferenceFact } from '../../reading/facts.js';
import type { WorldPart } from '../world/world.js';

/** Where a look-up runs: a part on an object, with the type whose code it is. */
export interface Place {
  part: WorldPart;
  /** In a prefab that no scene holds: what stands above it is not known. */
  isLoose: boolean;
}

export const MOST_AMONG = 12;

/** References written as saved values: by part fact and field. */
export type SlotReferences = Map<string, ReferenceFact[]>;

export function slotKey(source: number, pieceFact: number, partFact: number, field: string): string {
  return `${source}/${pieceFact}/${partFact}/${field}`;
}
