/** What nothing was found for, and what the engine itself provides. */
import type { Loss } from '../model/link.js';
import { isMatch } from '../reading/match.js';

/** Whether the engine itself provides a thing of this name; names in the plan may be globs. */
export function isEngines(names: string[], name: string): boolean {
  return names.length > 0 && (names.includes(name) || isMatch(name, names));
}

export function emptyLoss(sought: Loss['sought'], wanted: string): Loss {
  return { sought, wanted, otherCapitals: '', lastObject: -1, among: [], elsewhere: [] };
}
