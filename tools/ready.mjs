// Makes a checkout ready: installs packages when the lock file changed, builds when sources changed.
// Plain Node without dependencies, since it runs before anything is installed.
import { execFileSync, spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readFileSync, readdirSync, realpathSync, statSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';

export const root = fileURLToPath(new URL('..', import.meta.url));
const state = join(root, '.glue');
const npm = process.platform === 'win32' ? 'npm.cmd' : 'npm';

/** Runs a program and ends this one with its exit code if it fails. */
export function run(program, args, options = {}) {
  const { status, error } = spawnSync(program, args, { cwd: root, stdio: 'inherit', ...options });
  if (error) fail(`${program} could not be started: ${error.message}`);
  if (status !== 0) process.exit(status ?? 1);
}

export function fail(message) {
  process.stderr.write(`${message}\n`);
  process.exit(1);
}

/** Installs what the lock file says, unless it is there already. */
export function ensureInstalled() {
  const stamp = hash(readFileSync(join(root, 'package-lock.json'), 'utf8'));
  const marker = join(root, 'node_modules', '.glue-installed');
  if (existsSync(marker) && readFileSync(marker, 'utf8') === stamp) return;
  process.stdout.write('Installing packages (a few minutes the first time) …\n');
  // Scripts of packages are not run, but for the one that compiles SQLite for this machine.
  run(npm, ['ci', '--ignore-scripts', '--no-audit', '--no-fund', '--loglevel=error']);
  run(npm, ['rebuild', 'better-sqlite3', '--ignore-scripts=false', '--loglevel=error'], {
    // Compiled here: no binary is looked for anywhere but in the registry.
    env: { ...headersOfNode(), ...process.env, npm_config_build_from_source: 'true' },
  });
  writeFileSync(marker, stamp);
}

/** Compile against the headers that came with Node, when they did, instead of fetching them. */
function headersOfNode() {
  const folder = join(realpathSync(process.execPath), '..', '..');
  return existsSync(join(folder, 'include', 'node', 'node.h')) ? { npm_config_nodedir: folder } : {};
}

/** Builds the parts whose sources changed. */
export function ensureBuilt({ web = true } = {}) {
  buildWhenChanged(
    'node',
    ['core', 'server', 'cli', 'e2e'],
    ['tsconfig.base.json', 'tsconfig.json'],
    'cli/dist/main.js',
    () => run(process.execPath, [join(root, 'node_modules/typescript/bin/tsc'), '-b']),
  );
  if (!web) return;
  buildWhenChanged('web', ['web', 'core'], ['tsconfig.base.json'], 'web/dist/browser/index.html', () =>
    run(process.execPath, [join(root, 'node_modules/@angular/cli/bin/ng.js'), 'build'], {
      cwd: join(root, 'web'),
      env: { ...process.env, NG_CLI_ANALYTICS: 'false' },
    }),
  );
}

function buildWhenChanged(name, folders, files, result, build) {
  const list = [...folders.flatMap((folder) => sources(join(root, folder))), ...files.map((file) => join(root, file))];
  const stamp = hash(list.map((path) => `${path} ${statSync(path).size} ${statSync(path).mtimeMs}`).join('\n'));
  const marker = join(state, `built-${name}`);
  if (existsSync(join(root, result)) && existsSync(marker) && readFileSync(marker, 'utf8') === stamp) return;
  process.stdout.write(`Building ${name} …\n`);
  build();
  mkdirSync(state, { recursive: true });
  writeFileSync(marker, stamp);
}

function sources(folder) {
  return readdirSync(folder, { withFileTypes: true }).flatMap((entry) => {
    if (['node_modules', 'dist', '.angular'].includes(entry.name) || entry.name.endsWith('.tsbuildinfo')) return [];
    const path = join(folder, entry.name);
    return entry.isDirectory() ? sources(path) : [path];
  });
}

function hash(text) {
  return createHash('sha256').update(text).digest('hex');
}

/** The browser for tests: Debian's Chromium, installed when it is missing and that is allowed. */
export function ensureChromium() {
  const path = process.env.CHROME_BIN ?? '/usr/bin/chromium';
  if (existsSync(path)) return path;
  const isRoot = process.getuid?.() === 0;
  const hint = 'The browser tests need Debian’s Chromium. Run: sudo apt-get update && sudo apt-get install -y chromium';
  if (!isRoot || !existsSync('/usr/bin/apt-get')) fail(hint);
  process.stdout.write('Installing chromium …\n');
  const env = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' };
  try {
    execFileSync('apt-get', ['update', '-qq'], { stdio: 'ignore', env });
    execFileSync('apt-get', ['install', '-y', '-qq', 'chromium'], { stdio: 'ignore', env });
  } catch {
    fail(hint);
  }
  return path;
}
