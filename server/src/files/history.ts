/** What the version history knows of files that are gone. The git program is asked when there is one; never required. */
import { execFileSync } from 'node:child_process';

/** Looking further back is slow and seldom right. */
const MOST_COMMITS = 3000;
const LONGEST_WAIT = 8000;

/** The log of each folder as of its last commit: what was committed does not change. */
const logs = new Map<string, { head: string; log: string }>();

function logOf(folder: string, args: string[]): string {
  const head = git(folder, ['rev-parse', 'HEAD']);
  const known = logs.get(folder);
  if (known?.head === head) return known.log;
  const log = head ? git(folder, ['log', `-n${MOST_COMMITS}`, '--format=', ...args]) : '';
  logs.set(folder, { head, log });
  return log;
}

/** Where each file that was renamed stands now, by its old path; empty without a git repository. */
export function renamesIn(folder: string): Map<string, string> {
  const renamed = new Map<string, string>();
  const common = ['--name-status', '-z', '-M', '--diff-filter=R', '--relative'];
  // Newest first: a later rename of the new name is known by then.
  for (const log of [git(folder, ['diff', 'HEAD', ...common]), logOf(folder, common)]) {
    const words = log.split('\0').map((word) => word.replace(/^\n+/, ''));
    for (let at = 0; at + 2 < words.length; at++) {
      if (!/^R\d*$/.test(words[at])) continue;
      const [from, to] = [words[at + 1], words[at + 2]];
      if (!renamed.has(from)) renamed.set(from, renamed.get(to) ?? to);
      at += 2;
    }
  }
  return renamed;
}

function git(folder: string, args: string[]): string {
  try {
    return execFileSync('git', ['-C', folder, '-c', 'core.quotePath=false', ...args], {
      encoding: 'utf8',
      timeout: LONGEST_WAIT,
      maxBuffer: 1 << 26,
      stdio: ['ignore', 'pipe', 'ignore'],
      env: { ...process.env, GIT_OPTIONAL_LOCKS: '0' },
    });
  } catch {
    return '';
  }
}
