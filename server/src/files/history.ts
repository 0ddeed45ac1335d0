/** What the version history knows of files that are gone. The git program is asked when there is one; never required. */
import { execFileSync } from 'node:child_process';

/** Looking further back is slow and seldom right. */
const MOST_COMMITS = 3000;
const LONGEST_WAIT = 8000;

/** Where each file that was renamed stands now, by its old path; empty without a git repository. */
export function renamesIn(folder: string): Map<string, string> {
  const renamed = new Map<string, string>();
  const common = ['--name-status', '-z', '-M', '--diff-filter=R', '--relative'];
  // Newest first: a later rename of the new name is known by then.
  const logs = [
    git(folder, ['diff', 'HEAD', ...common]),
    git(folder, ['log', `-n${MOST_COMMITS}`, '--format=', ...common]),
  ];
  for (const log of logs) {
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
