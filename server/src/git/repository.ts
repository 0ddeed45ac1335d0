/** What a repository tells: commits with what they changed, files of any revision, who last changed a line. */
import { itemAt } from '@glue-trace/core';
import { existsSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { askGit } from './program.js';

/** A file that a commit, or the index, has otherwise than before. */
export interface Change {
  /** Its path before; the same when it was not renamed. */
  from: string;
  to: string;
  /** Hash of its content, as git has it. */
  blob: string;
  /** Added (copies too), deleted, modified, renamed, or of another type. */
  is: string;
}

export interface LoggedCommit {
  id: string;
  /** Day of the commit, in the time zone of who made it: 2026-03-02. */
  day: string;
  author: string;
  subject: string;
  changes: Change[];
}

/** Who last changed a line, and when. */
export interface LineOrigin {
  commit: string;
  author: string;
  day: string;
}

const CHANGES = ['--raw', '--no-abbrev', '-z', '-M', '--no-ext-diff', '--no-textconv', '--ignore-submodules=all'];
/** Before each commit; what it says of itself is parted by another sign. */
const [COMMIT, PART] = ['\u001e', '\u001f'];
const DAY_LENGTH = '2026-03-02'.length;

/** Whether a folder lies in a repository. */
export function isVersioned(folder: string): boolean {
  const above = dirname(folder);
  return existsSync(join(folder, '.git')) || (above !== folder && isVersioned(above));
}

/** Whether this is a commit as {@link commitOf} tells it: nothing else may stand where git looks for options. */
function isHash(commit: string): boolean {
  return /^[0-9a-f]{40,64}$/.test(commit);
}

/** The commit that a branch, a tag or the beginning of a hash names; undefined when there is none. */
export function commitOf(folder: string, revision: string): string | undefined {
  if (!isVersioned(folder) || revision.startsWith('-')) return undefined;
  const told = askGit(folder, ['rev-parse', '--verify', '--quiet', '--end-of-options', `${revision}^{commit}`]);
  return told?.toString('latin1').trim() || undefined;
}

/** The newest commits before and with one, newest first, with what they changed below the folder. */
export function commitsUpTo(folder: string, commit: string, most: number): LoggedCommit[] | undefined {
  const format = ['--format=%x1e%H%x1f%ad%x1f%an%x1f%s%x1f', '--date=format:%Y-%m-%d', '--no-show-signature'];
  if (!isHash(commit)) return undefined;
  const told = askGit(folder, ['log', `-n${most}`, ...format, ...CHANGES, '--relative', commit, '--']);
  return told
    ?.toString('utf8')
    .split(COMMIT)
    .slice(1)
    .map((entry) => {
      const [id = '', day = '', author = '', subject = '', changes = ''] = entry.split(PART);
      return { id, day, author, subject: subject.slice(0, 200), changes: changesIn(changes) };
    });
}

/** What is ready to be committed: the index against a commit. */
export function stagedSince(folder: string, commit: string): Change[] | undefined {
  if (!isHash(commit)) return undefined;
  const told = askGit(folder, ['diff-index', '--cached', ...CHANGES, '--relative', commit, '--']);
  return told && changesIn(told.toString('utf8'));
}

/** `:100644 100644 <blob> <blob> M`, then one path, or two of a rename; all parted by zeros. */
function changesIn(raw: string): Change[] {
  const words = raw.split('\0').map((word) => word.replace(/^\n+/, ''));
  const changes: Change[] = [];
  for (let at = 0; at < words.length; at++) {
    const head = /^:\d+ \d+ [0-9a-f]+ ([0-9a-f]+) ([A-Z])\d*$/.exec(itemAt(words, at));
    if (!head) continue;
    const [, blob = '', is = ''] = head;
    const from = words[++at] ?? '';
    changes.push({ from, to: is === 'R' || is === 'C' ? (words[++at] ?? '') : from, blob, is });
  }
  // What a copy was made from stays where it is.
  return changes.map((one) => (one.is === 'C' ? { ...one, from: one.to, is: 'A' } : one));
}

/** Contents by their hashes, in one call; those that git does not have are left out. Undefined when it did not answer. */
export function contentsOf(folder: string, blobs: readonly string[]): Map<string, Buffer> | undefined {
  const found = new Map<string, Buffer>();
  if (blobs.length === 0) return found;
  const output = askGit(folder, ['cat-file', '--batch'], `${blobs.join('\n')}\n`);
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

/** Files below the folder as a commit has them: hashes of their contents by path. Links and submodules are left out. */
export function filesOf(folder: string, commit: string): Map<string, string> | undefined {
  const told = isHash(commit) ? askGit(folder, ['ls-tree', '-r', '-z', commit]) : undefined;
  if (!told) return undefined;
  const files = new Map<string, string>();
  for (const entry of told.toString('utf8').split('\0')) {
    const found = /^100\d+ blob ([0-9a-f]+)\t(.+)$/s.exec(entry);
    if (found) files.set(found[2] ?? '', found[1] ?? '');
  }
  return files;
}

/** Who last changed each line of a file as a commit has it, first line first. */
export function lineOrigins(folder: string, commit: string, path: string): LineOrigin[] | undefined {
  if (!isHash(commit)) return undefined;
  const told = askGit(folder, ['blame', '--line-porcelain', '--no-textconv', commit, '--', path]);
  if (!told) return undefined;
  const lines: LineOrigin[] = [];
  let now: LineOrigin = { commit: '', author: '', day: '' };
  for (const line of told.toString('utf8').split('\n')) {
    const head = /^([0-9a-f]{40,64}) \d+ \d+/.exec(line);
    if (head) now = { commit: head[1] ?? '', author: '', day: '' };
    else if (line.startsWith('author ')) now.author = line.slice('author '.length);
    else if (line.startsWith('author-time ')) now.day = dayOf(line.slice('author-time '.length));
    else if (line.startsWith('\t')) lines.push(now);
  }
  return lines;
}

/** The day of a moment in seconds since 1970, UTC. */
function dayOf(seconds: string): string {
  return new Date(Number(seconds) * 1000).toISOString().slice(0, DAY_LENGTH);
}
