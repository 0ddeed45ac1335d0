/** What the version history knows: renames, and earlier versions of files. The git program is asked when there is one; never required. */
import { itemAt } from '@glue-trace/core';
import { execFileSync } from 'node:child_process';
import { existsSync } from 'node:fs';
import { dirname, join } from 'node:path';
import type { Commit, FileFacts, History, Version } from '@glue-trace/core';

/** Looking further back is slow and seldom right. */
const MOST_COMMITS = 3000;
/** Of one file: what changed before these says little of today. */
const MOST_VERSIONS = 20;
const LONGEST_WAIT = 8000;

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

const CHANGES = ['--raw', '--abbrev=40', '-z', '-M', '--relative'];
/** Before each commit; what it says of itself is parted by another sign. */
const [COMMIT, PART] = ['\u001e', '\u001f'];

/** What git tells of a folder; nothing without a repository. */
function logOf(folder: string): Log {
  const head = isVersioned(folder) && git(folder, ['rev-parse', 'HEAD']);
  if (!head) return NOTHING;
  const uncommitted = git(folder, ['diff', 'HEAD', '--diff-filter=R', ...CHANGES]);
  const as = `${head}${uncommitted ?? ''}`;
  const known = logs.get(folder);
  if (known?.as === as) return known.log;
  const format = ['--format=%x1e%H%x1f%ad%x1f%s%x1f', '--date=format:%Y-%m-%d'];
  const told = git(folder, ['log', `-n${MOST_COMMITS}`, ...format, ...CHANGES]);
  // What git did not tell this time it may tell the next.
  if (told === undefined || uncommitted === undefined) return NOTHING;
  const log = parsed(told, uncommitted);
  logs.set(folder, { as, log });
  return log;
}

function parsed(log: string, uncommitted: string): Log {
  const [renamed, versions] = [new Map<string, string>(), new Map<string, FileVersion[]>()];
  const nowOf = (path: string): string => renamed.get(path) ?? path;
  // Newest first: a later rename of the new name is known by then.
  for (const { from, to } of changesIn(uncommitted))
    if (from !== to && !renamed.has(from)) renamed.set(from, nowOf(to));
  for (const [position, entry] of log.split(COMMIT).slice(1).entries()) {
    const [id = '', day = '', subject = '', changes] = entry.split(PART);
    const commit: Commit = { id, day, order: -position, subject: subject.slice(0, 200) };
    for (const { from, to, blob, is } of changesIn(changes ?? '')) {
      const now = nowOf(to);
      if (from !== to && !renamed.has(from)) renamed.set(from, now);
      if (is === 'D') continue;
      const known = versions.get(now) ?? [];
      if (known.length < MOST_VERSIONS) versions.set(now, [...known, { commit, blob, isFirst: is === 'A' }]);
    }
  }
  return { renamed, versions };
}

/** `:100644 100644 <blob> <blob> M`, then one path, or two of a rename; all parted by zeros. */
function changesIn(raw: string): { from: string; to: string; blob: string; is: string }[] {
  const words = raw.split('\0').map((word) => word.replace(/^\n+/, ''));
  const changes: { from: string; to: string; blob: string; is: string }[] = [];
  for (let at = 0; at < words.length; at++) {
    const head = /^:\d+ \d+ [0-9a-f]+ ([0-9a-f]+) ([A-Z])\d*$/.exec(itemAt(words, at));
    if (!head) continue;
    const [, blob = '', is = ''] = head;
    const from = itemAt(words, ++at);
    changes.push({ from, to: is === 'R' || is === 'C' ? itemAt(words, ++at) : from, blob, is });
  }
  // What a copy was made from stays where it is.
  return changes.map((one) => (one.is === 'C' ? { ...one, from: one.to, is: 'A' } : one));
}

/** Contents by their hashes, in one call; those that git does not have are left out. Undefined when it did not answer. */
function contentsOf(folder: string, blobs: readonly string[]): Map<string, Buffer> | undefined {
  const found = new Map<string, Buffer>();
  if (blobs.length === 0) return found;
  const output = run(folder, ['cat-file', '--batch'], `${blobs.join('\n')}\n`);
  if (!output) return undefined;
  for (let at = 0; at < output.length;) {
    const end = output.indexOf(10, at);
    if (end < 0) break;
    const [blob = '', kind, size] = output.toString('latin1', at, end).split(' ');
    at = end + 1;
    if (kind === 'missing') continue;
    found.set(blob, output.subarray(at, at + Number(size)));
    at += Number(size) + 1;
  }
  return found;
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

/** Whether a folder lies in a repository. */
export function isVersioned(folder: string): boolean {
  const above = dirname(folder);
  return existsSync(join(folder, '.git')) || (above !== folder && isVersioned(above));
}

function git(folder: string, args: string[]): string | undefined {
  return run(folder, args)?.toString('utf8');
}

/** What git prints; undefined when it failed, or took too long. */
function run(folder: string, args: string[], input?: string): Buffer | undefined {
  try {
    return execFileSync('git', ['-C', folder, '-c', 'core.quotePath=false', ...args], {
      timeout: LONGEST_WAIT,
      maxBuffer: 1 << 28,
      input,
      stdio: ['pipe', 'pipe', 'ignore'],
      env: { ...process.env, GIT_OPTIONAL_LOCKS: '0' },
    });
  } catch {
    return undefined;
  }
}
