/** What the version history knows: renames, and earlier versions of files. Git is asked when there is one; never required. */
import type { Commit, FileFacts, History, Version } from '@glue-trace/core';
import { commitOf, commitsUpTo, contentsOf, stagedSince, type Change, type LoggedCommit } from './repository.js';

/** Looking further back is slow and seldom right. */
const MOST_COMMITS = 3000;
/** Of one file: what changed before these says little of today. */
const MOST_VERSIONS = 20;

/** A version of a file, by the content that it had. */
interface FileVersion {
  commit: Commit;
  /** Hash of the content, as git has it. */
  blob: string;
  /** The file came with this commit. */
  isFirst: boolean;
}

interface Log {
  /** Where each file that was renamed stands now, by its old path. */
  renamed: Map<string, string>;
  /** Versions of each file, by the path that it has now; newest first. */
  versions: Map<string, FileVersion[]>;
}

const NOTHING: Log = { renamed: new Map(), versions: new Map() };

/** The log of each folder, as of its last commit and of the files that were renamed since. */
const logs = new Map<string, { as: string; log: Log }>();

/** What git tells of a folder; nothing without a repository. */
function logOf(folder: string): Log {
  const head = commitOf(folder, 'HEAD');
  if (head === undefined) return NOTHING;
  const staged = stagedSince(folder, head);
  const as = `${head}${JSON.stringify(staged ?? [])}`;
  const known = logs.get(folder);
  if (known?.as === as) return known.log;
  const commits = commitsUpTo(folder, head, MOST_COMMITS);
  // What git did not tell this time it may tell the next.
  if (commits === undefined || staged === undefined) return NOTHING;
  const log = ordered(commits, staged);
  logs.set(folder, { as, log });
  return log;
}

function ordered(commits: readonly LoggedCommit[], staged: readonly Change[]): Log {
  const [renamed, versions] = [new Map<string, string>(), new Map<string, FileVersion[]>()];
  const nowOf = (path: string): string => renamed.get(path) ?? path;
  // Newest first: a later rename of the new name is known by then.
  for (const { from, to } of staged) if (from !== to && !renamed.has(from)) renamed.set(from, nowOf(to));
  for (const [position, { id, day, subject, changes }] of commits.entries()) {
    const commit: Commit = { id, day, order: -position, subject };
    for (const { from, to, blob, is } of changes) {
      const now = nowOf(to);
      if (from !== to && !renamed.has(from)) renamed.set(from, now);
      if (is === 'D') continue;
      const known = versions.get(now) ?? [];
      if (known.length < MOST_VERSIONS) versions.set(now, [...known, { commit, blob, isFirst: is === 'A' }]);
    }
  }
  return { renamed, versions };
}

/**
 * The version history of a folder. Git is asked when something is wanted, and not before.
 * @param read takes facts from what a file held
 * @param known keeps them, by content and path, for the next time
 */
export function historyIn(
  folder: string,
  read: (path: string, bytes: Buffer) => FileFacts | undefined,
  known: Map<string, FileFacts | undefined>,
): Pick<History, 'renamedTo' | 'versionsOf'> {
  let log: Log | undefined;
  const asked = (): Log => (log ??= logOf(folder));
  const readAll = (path: string, all: readonly FileVersion[]): void => {
    const blobs = [...new Set(all.map(({ blob }) => blob))].filter((blob) => !known.has(`${blob} ${path}`));
    const contents = contentsOf(folder, blobs);
    for (const blob of contents ? blobs : []) {
      const bytes = contents?.get(blob);
      known.set(`${blob} ${path}`, bytes && read(path, bytes));
    }
  };
  return {
    renamedTo: (path) => asked().renamed.get(path),
    versionsOf: (path) => {
      const all = asked().versions.get(path) ?? [];
      return all.map(({ commit, isFirst, blob }): Version => ({
        commit,
        isFirst,
        facts: () => {
          if (!known.has(`${blob} ${path}`)) readAll(path, all);
          return known.get(`${blob} ${path}`);
        },
      }));
    },
  };
}
