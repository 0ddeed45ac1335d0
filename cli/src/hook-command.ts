import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { GlueError } from '@glue-trace/core';
import { writeExecutable } from '@glue-trace/server';
import { remark } from './terminal.js';

/** The line by which a hook of ours is known. */
const OURS = '# written by glue hook';

export interface HookFlags {
  failOn: string;
  force?: boolean;
}

/** Writes a hook that keeps what is new and broken out of commits. */
export function hookCommand(dir: string, { failOn, force }: HookFlags): void {
  const hooks = join(dir, '.git', 'hooks');
  if (!existsSync(join(dir, '.git')))
    throw new GlueError(
      'folder/missing',
      `${dir} is not the top of a git repository: there is no .git in it. Give the folder that holds it.`,
    );
  const path = join(hooks, 'pre-commit');
  writeExecutable(path, hookText(failOn), (before) => force === true || before.includes(OURS));
  remark(`glue: ${path} now lets a commit pass only when it brings nothing new at “${failOn}” or above.`);
}

/** A POSIX shell script: it looks at the files as they stand, which is what would be committed unless some are left out. */
function hookText(failOn: string): string {
  return `#!/bin/sh
${OURS}
# Nothing new at "${failOn}" or above may come with a commit; the first commit has nothing to be measured against.
git rev-parse --verify --quiet HEAD >/dev/null || exit 0
exec \${GLUE:-glue} scan . --new-since HEAD --fail-on ${failOn}
`;
}
