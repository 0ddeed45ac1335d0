/** When copies parted: the commit that changed one of them and left the others as they were. */
import { itemAt, must } from '../helpers/at.js';
import { statesOf, type Commit, type History, type State } from '../model/history.js';
import type { BodyFact, FileFacts } from '../reading/facts.js';
import { wholeOf } from './runs.js';

/** One copy was changed while others stayed as they were. */
export interface Parting {
  /** Position of the copy that was changed. */
  copy: number;
  /** It has something else there now, or something more, or something less. */
  did: 'changed' | 'added' | 'took out';
  /** Not there while it is not committed. */
  by?: Commit;
}

/** A copy over time, newest first. */
export type Past = State<BodyFact>[];

/** A function by its name and its type's, as it was from commit to commit; undefined when the history knows one state at most. */
export function pastOf(history: History, facts: FileFacts, code: number): Past | undefined {
  const versions = history.versionsOf(facts.file);
  const script = must(facts.script);
  const { name, type, body } = itemAt(script.functions, code);
  if (!name || !body || versions.length === 0) return undefined;
  const typeName = script.types[type]?.name;
  return statesOf(
    body,
    versions,
    ({ script: then }) =>
      then?.functions.find((one) => one.name === name && then.types[one.type]?.name === typeName && one.body)?.body,
    (one, other) => wholeOf(one) === wholeOf(other),
  );
}

/**
 * Finds who parted from whom at one statement.
 * @param there hash of the statement in each copy, undefined where it has none
 * @returns the newest parting; undefined when they were never known to be alike there
 */
export function partingOf(
  pasts: readonly (Past | undefined)[],
  there: readonly (number | undefined)[],
): Parting | undefined {
  const found = there.flatMap((own, copy): Parting[] => {
    const past = pasts[copy];
    if (!past) return [];
    const others = there.filter((other, at) => at !== copy && other !== own);
    const left = others.flatMap((other) => (other === undefined ? [] : (leftAt(past, other) ?? [])));
    if (left.length > 0) return [{ copy, did: own === undefined ? 'took out' : 'changed', by: itemAt(left, 0).by }];
    const came = own === undefined ? undefined : cameAt(past, own);
    const waited = came && there.some((other, at) => other === undefined && at !== copy && isOlder(pasts[at], came.by));
    return waited ? [{ copy, did: 'added', by: came.by }] : [];
  });
  return found.sort((a, b) => (b.by?.order ?? Infinity) - (a.by?.order ?? Infinity))[0];
}

/** What made a copy lose a statement that it has no longer. */
function leftAt(past: Past, hash: number): { by?: Commit } | undefined {
  if (itemAt(past, 0).is.exacts.includes(hash)) return undefined;
  const had = past.findIndex(({ is }) => is.exacts.includes(hash));
  return had < 0 ? undefined : { by: itemAt(past, had - 1).by };
}

/** What brought a statement into a copy that stood before without it. */
function cameAt(past: Past, hash: number): { by?: Commit } | undefined {
  const before = past.findIndex(({ is }) => !is.exacts.includes(hash));
  return before < 1 ? undefined : { by: itemAt(past, before - 1).by };
}

/** Whether a copy was there before a commit. */
function isOlder(past: Past | undefined, than: Commit | undefined): boolean {
  const first = past?.at(-1);
  if (!first) return false;
  return first.isCut === true || (first.by !== undefined && first.by.order < (than?.order ?? Infinity));
}
