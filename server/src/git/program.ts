/**
 * The one place that starts the git program. A repository is somebody else's input: what its configuration, attributes
 * and hooks name is never run, and nothing outside of this machine is asked. What can start a program or a connection
 * is switched off by name; whatever compares files of the work tree, and so runs their filters, is not asked at all.
 * Each way that is known is tried in `hostile.spec.ts`.
 */
import { execFileSync } from 'node:child_process';
import { accessSync, constants, realpathSync } from 'node:fs';
import { delimiter, isAbsolute, join, relative } from 'node:path';
import { devNull } from 'node:os';

const LONGEST_WAIT = 8000;
const MOST_BYTES = 1 << 28;

/** What the repository's own configuration may say otherwise. */
const SETTINGS = {
  // Programs that git starts by itself.
  'core.fsmonitor': 'false',
  'core.hooksPath': devNull,
  'core.pager': 'cat',
  'core.editor': 'false',
  'core.askPass': '',
  'core.sshCommand': 'false',
  'core.gitProxy': '',
  'core.alternateRefsCommand': '',
  'credential.helper': '',
  'diff.external': '',
  'gpg.program': 'false',
  'gpg.ssh.program': 'false',
  'gpg.x509.program': 'false',
  'log.showSignature': 'false',
  'uploadpack.packObjectsHook': '',
  'gc.auto': '0',
  'maintenance.auto': 'false',
  // Other repositories and other places.
  'protocol.allow': 'never',
  'safe.bareRepository': 'explicit',
  'submodule.recurse': 'false',
  'fetch.recurseSubmodules': 'false',
  'diff.ignoreSubmodules': 'all',
  'diff.submodule': 'short',
  'core.attributesFile': devNull,
  'core.excludesFile': devNull,
  'blame.ignoreRevsFile': '',
  'mailmap.file': '',
  'mailmap.blob': '',
  // How it writes what it tells.
  'core.quotePath': 'false',
  'core.abbrev': 'no',
  'log.mailmap': 'false',
  'log.follow': 'false',
  'log.decorate': 'false',
  'log.diffMerges': 'off',
  'diff.noprefix': 'false',
  'diff.orderFile': devNull,
  'diff.renames': 'true',
  'color.ui': 'never',
};

const OPTIONS = [
  '--no-pager',
  '--literal-pathspecs',
  ...Object.entries(SETTINGS).flatMap(([name, value]) => ['-c', `${name}=${value}`]),
];

/** All that git is told by its surroundings; nothing of the user's own. */
function surroundings(folder: string): NodeJS.ProcessEnv {
  return {
    PATH: placesOfPrograms(folder).join(delimiter),
    ...(process.env['SystemRoot'] !== undefined && { SystemRoot: process.env['SystemRoot'] }),
    LC_ALL: 'C',
    HOME: devNull,
    XDG_CONFIG_HOME: devNull,
    GIT_CONFIG_NOSYSTEM: '1',
    GIT_CONFIG_SYSTEM: devNull,
    GIT_CONFIG_GLOBAL: devNull,
    GIT_ATTR_NOSYSTEM: '1',
    GIT_ALLOW_PROTOCOL: 'none',
    GIT_NO_LAZY_FETCH: '1',
    GIT_NO_REPLACE_OBJECTS: '1',
    GIT_OPTIONAL_LOCKS: '0',
    GIT_TERMINAL_PROMPT: '0',
    GIT_ASKPASS: '',
    SSH_ASKPASS: '',
    GIT_PAGER: 'cat',
    GIT_EDITOR: 'false',
  };
}

/** Folders that programs are looked for in: none that depends on where one stands, and none of the project. */
function placesOfPrograms(folder: string): string[] {
  return (process.env['PATH'] ?? '').split(delimiter).filter((place) => isAbsolute(place) && !isWithin(folder, place));
}

function isWithin(folder: string, place: string): boolean {
  const way = relative(folder, place);
  return !way.startsWith('..') && !isAbsolute(way);
}

/** The git program, looked for outside of the project. */
function programFor(folder: string): string | undefined {
  const names = process.platform === 'win32' ? ['git.exe'] : ['git'];
  for (const place of placesOfPrograms(folder)) {
    for (const name of names) {
      try {
        const program = realpathSync(join(place, name));
        accessSync(program, constants.X_OK);
        if (!isWithin(folder, program)) return join(place, name);
      } catch {
        // Not here.
      }
    }
  }
  return undefined;
}

/**
 * What git prints when it is asked in a folder; undefined when there is none, it refuses, or takes too long.
 * @param args a command that reads objects or the index, never the work tree
 */
export function askGit(folder: string, args: string[], input?: string): Buffer | undefined {
  const program = programFor(folder);
  if (program === undefined) return undefined;
  try {
    return execFileSync(program, ['-C', folder, ...OPTIONS, ...args], {
      timeout: LONGEST_WAIT,
      killSignal: 'SIGKILL',
      maxBuffer: MOST_BYTES,
      input,
      stdio: ['pipe', 'pipe', 'ignore'],
      env: surroundings(folder),
    });
  } catch {
    return undefined;
  }
}
