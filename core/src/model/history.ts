/** What the time before tells: the version history, and earlier scans. */
import { must } from '../helpers/at.js';
import type { FileFacts } from '../reading/facts.js';

export interface History {
  /** Where a file stands now that was renamed since. */
  renamedTo(path: string): string | undefined;
  /** Files that hold today what a file held that is gone. */
  sameContent(path: string): string[];
  /** The committed versions of a file, newest first; under its other names too, if it was renamed. */
  versionsOf(path: string): readonly Version[];
}

/** A file as a commit left it. */
export interface Version {
  commit: Commit;
  /** The file came with this commit. */
  isFirst: boolean;
  /** What was read of it by the plan of today; undefined when it cannot be. */
  facts(): FileFacts | undefined;
}

export interface Commit {
  id: string;
  /** Day of the commit, in the time zone of who made it: 2026-03-02. */
  day: string;
  /** Its place in the history: a newer one has a larger one. */
  order: number;
  /** First line of its message. */
  subject: string;
}

export const NO_HISTORY: History = {
  renamedTo: () => undefined,
  sameContent: () => [],
  versionsOf: () => [],
};

/** What something was for some time. */
export interface State<T> {
  is: T;
  /** Made it so; undefined while that is not committed, or when the history does not reach so far. */
  by?: Commit;
  /** The history does not reach to where this began. */
  isCut?: true;
}

/**
 * What something was from version to version, the present first. Versions that leave it as it is count for nothing;
 * where one does not have it, it begins.
 * @param pick finds it in the facts of a version
 */
export function statesOf<T>(
  present: T,
  versions: readonly Version[],
  pick: (facts: FileFacts) => T | undefined,
  isSame: (one: T, other: T) => boolean,
): State<T>[] {
  const states: State<T>[] = [{ is: present }];
  for (const version of versions) {
    const facts = version.facts();
    const found = facts && pick(facts);
    const last = must(states.at(-1));
    if (!facts) last.isCut = true;
    if (found === undefined) return states;
    if (isSame(last.is, found)) last.by = version.commit;
    else states.push({ is: found, by: version.commit });
  }
  if (versions.length === 0 || !must(versions.at(-1)).isFirst) must(states.at(-1)).isCut = true;
  return states;
}

/** “on 2026-03-02 (“Scrapes cost by depth”)”, for sentences. */
export function dated(commit: Commit | undefined): string {
  return commit ? `on ${commit.day} (“${commit.subject}”)` : 'since the last commit';
}
