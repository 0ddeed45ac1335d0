/**
 * Repositories that others made to run something when they are looked at. Each plants a program that leaves a mark; plain
 * git shows that it would run, and what we ask must leave no mark.
 */
import { execFileSync, spawnSync } from 'node:child_process';
import {
  appendFileSync,
  chmodSync,
  existsSync,
  mkdirSync,
  mkdtempSync,
  renameSync,
  rmSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { scanFolder } from '../scan/scan-folder.js';
import { commitOf, commitsUpTo, contentsOf, filesOf, lineOrigins, stagedSince } from './repository.js';

interface Place {
  /** The project: a repository with one commit and a change on top. */
  folder: string;
  /** A program that leaves a mark. */
  trap: string;
}

interface Hostile {
  does: string;
  plant(place: Place): void;
  /** What plain git is asked to show that the trap works. */
  control: string[];
  /** Which folder is opened; the repository's own when left out. */
  opened?: string;
}

const NAMED = ['-c', 'user.name=Lock', '-c', 'user.email=lock@flight'];
const git = (folder: string, ...args: string[]): string =>
  execFileSync('git', ['-C', folder, ...NAMED, ...args], { stdio: ['ignore', 'pipe', 'ignore'] })
    .toString()
    .trim();
const set = ({ folder }: Place, name: string, value: string): void => void git(folder, 'config', name, value);
const attributes = ({ folder }: Place, text: string): void => writeFileSync(join(folder, '.gitattributes'), text);

/** The content of `a.txt` is not there, and has to be fetched. */
function missing(place: Place, url: string, more: Record<string, string> = {}): void {
  const { folder } = place;
  set(place, 'extensions.partialClone', 'origin');
  set(place, 'core.repositoryFormatVersion', '1');
  set(place, 'remote.origin.url', url);
  set(place, 'remote.origin.promisor', 'true');
  for (const [name, value] of Object.entries(more)) set(place, name, value);
  const blob = git(folder, 'rev-parse', 'HEAD:a.txt');
  rmSync(join(folder, '.git', 'objects', blob.slice(0, 2), blob.slice(2)), { force: true });
}

/** A commit that says it is signed. */
function signed(place: Place, format: string): void {
  const { folder } = place;
  const text = git(folder, 'cat-file', 'commit', 'HEAD').replace(
    /\n\n/,
    format === 'ssh'
      ? '\ngpgsig -----BEGIN SSH SIGNATURE-----\n U1NI\n -----END SSH SIGNATURE-----\n\n'
      : '\ngpgsig -----BEGIN PGP SIGNATURE-----\n \n iQ==\n -----END PGP SIGNATURE-----\n\n',
  );
  const commit = execFileSync('git', ['-C', folder, 'hash-object', '-t', 'commit', '-w', '--stdin'], {
    input: `${text}\n`,
  });
  git(folder, 'update-ref', 'HEAD', commit.toString().trim());
  set(place, 'log.showSignature', 'true');
  set(place, 'gpg.format', format === 'ssh' ? 'ssh' : 'openpgp');
}

function within(place: Place, name: string): Place {
  const folder = join(place.folder, name);
  mkdirSync(folder);
  git(folder, 'init', '-q');
  writeFileSync(join(folder, 'b.txt'), 'b');
  git(folder, 'add', '.');
  git(folder, 'commit', '-qm', 'within');
  return { ...place, folder };
}

const PROMISED = ['cat-file', '-p', 'HEAD:a.txt'];
const HOSTILE: Hostile[] = [
  { does: 'a file-system monitor', plant: (place) => set(place, 'core.fsmonitor', place.trap), control: ['status'] },
  {
    does: 'a hook of its own folder',
    plant: ({ folder, trap }) => renameSync(trap, join(folder, '.git', 'hooks', 'post-index-change')),
    control: ['update-index', '--add', 'new.txt'],
  },
  {
    does: 'hooks in the project',
    plant: (place) => {
      mkdirSync(join(place.folder, 'hooks'));
      renameSync(place.trap, join(place.folder, 'hooks', 'post-index-change'));
      set(place, 'core.hooksPath', join(place.folder, 'hooks'));
    },
    control: ['update-index', '--add', 'new.txt'],
  },
  {
    does: 'a filter that cleans',
    plant: (place) => (attributes(place, '* filter=t'), set(place, 'filter.t.clean', place.trap)),
    control: ['diff', 'HEAD'],
  },
  {
    does: 'a filter that stays',
    plant: (place) => (attributes(place, '* filter=t'), set(place, 'filter.t.process', place.trap)),
    control: ['diff', 'HEAD'],
  },
  {
    does: 'a filter that smudges',
    plant: (place) => (attributes(place, '* filter=t'), set(place, 'filter.t.smudge', place.trap)),
    control: ['cat-file', '--filters', 'HEAD:a.txt'],
  },
  {
    does: 'a filter of attributes outside of version control',
    plant: (place) => {
      writeFileSync(join(place.folder, '.git', 'info', 'attributes'), '* filter=t');
      set(place, 'filter.t.clean', place.trap);
    },
    control: ['diff', 'HEAD'],
  },
  {
    does: 'a conversion to text',
    plant: (place) => (attributes(place, '* diff=t'), set(place, 'diff.t.textconv', place.trap)),
    control: ['log', '-p'],
  },
  {
    does: 'a conversion to text where lines are asked for',
    plant: (place) => (attributes(place, '* diff=t'), set(place, 'diff.t.textconv', place.trap)),
    control: ['blame', 'HEAD', '--', 'a.txt'],
  },
  {
    does: 'a program that compares some files',
    plant: (place) => (attributes(place, '* diff=t'), set(place, 'diff.t.command', place.trap)),
    control: ['diff', 'HEAD'],
  },
  {
    does: 'a program that compares all files',
    plant: (place) => set(place, 'diff.external', place.trap),
    control: ['diff', 'HEAD'],
  },
  {
    does: 'a check of signatures',
    plant: (place) => (signed(place, 'openpgp'), set(place, 'gpg.program', place.trap)),
    control: ['log'],
  },
  {
    does: 'a check of signatures by another program',
    plant: (place) => {
      signed(place, 'ssh');
      set(place, 'gpg.ssh.program', place.trap);
      set(place, 'gpg.ssh.allowedSignersFile', '/dev/null');
    },
    control: ['log'],
  },
  {
    does: 'a remote that is a program',
    plant: (place) => missing(place, `ext::${place.trap}`, { 'protocol.ext.allow': 'always' }),
    control: PROMISED,
  },
  {
    does: 'a remote that sends by a program',
    plant: (place) => missing(place, place.folder, { 'remote.origin.uploadpack': place.trap }),
    control: PROMISED,
  },
  {
    does: 'a remote that is reached by a program',
    plant: (place) => missing(place, 'ssh://lock/flight', { 'core.sshCommand': place.trap }),
    control: PROMISED,
  },
  {
    does: 'a remote behind a program',
    plant: (place) => missing(place, 'git://lock/flight', { 'core.gitProxy': place.trap }),
    control: PROMISED,
  },
  {
    does: 'a remote with an address that is replaced',
    plant: (place) =>
      missing(place, 'lock:flight', { [`url.ext::${place.trap} .insteadOf`]: 'lock:', 'protocol.ext.allow': 'always' }),
    control: PROMISED,
  },
  {
    does: 'a submodule with a monitor',
    plant: (place) => {
      const inner = within(place, 'sub');
      git(place.folder, 'add', 'sub');
      set(inner, 'core.fsmonitor', place.trap);
      writeFileSync(join(inner.folder, 'b.txt'), 'changed');
    },
    control: ['status'],
  },
  {
    does: 'a submodule with a filter',
    plant: (place) => {
      const inner = within(place, 'sub');
      git(place.folder, 'add', 'sub');
      attributes(inner, '* filter=t');
      set(inner, 'filter.t.clean', place.trap);
      writeFileSync(join(inner.folder, 'b.txt'), 'c');
    },
    control: ['diff', 'HEAD'],
  },
  {
    does: 'settings that are taken in',
    plant: (place) => {
      writeFileSync(join(place.folder, 'evil.txt'), `[core]\n\tfsmonitor = ${place.trap}\n`);
      set(place, 'include.path', '../evil.txt');
    },
    control: ['status'],
  },
  {
    does: 'settings that are taken in for this folder',
    plant: (place) => {
      writeFileSync(join(place.folder, 'evil.txt'), `[core]\n\tfsmonitor = ${place.trap}\n`);
      set(place, 'includeIf.gitdir:/**.path', '../evil.txt');
    },
    control: ['status'],
  },
  {
    does: 'settings of the work tree',
    plant: (place) => {
      set(place, 'extensions.worktreeConfig', 'true');
      appendFileSync(join(place.folder, '.git', 'config.worktree'), `[core]\n\tfsmonitor = ${place.trap}\n`);
    },
    control: ['status'],
  },
  {
    does: 'a bare repository hidden in an ordinary one',
    plant: (place) => {
      const hidden = join(place.folder, 'data');
      git(place.folder, 'clone', '-q', '--bare', '.', hidden);
      for (const [name, value] of [
        ['core.bare', 'false'],
        ['core.worktree', '.'],
        ['core.fsmonitor', place.trap],
      ] as const)
        execFileSync('git', ['config', '-f', join(hidden, 'config'), name, value]);
    },
    control: ['status'],
    opened: 'data',
  },
  {
    does: 'a repository that lies elsewhere',
    plant: (place) => {
      renameSync(join(place.folder, '.git'), join(place.folder, 'other'));
      writeFileSync(join(place.folder, '.git'), 'gitdir: ./other\n');
      set(place, 'core.fsmonitor', place.trap);
    },
    control: ['status'],
  },
];

describe('a hostile repository', () => {
  let base: string;
  let place: Place;
  const mark = (): string => join(base, 'mark');
  const isSprung = (): boolean => existsSync(mark());

  beforeEach(() => {
    base = mkdtempSync(join(tmpdir(), 'glue-hostile-'));
    place = { folder: join(base, 'project'), trap: join(base, 'trap') };
    mkdirSync(place.folder);
    const { folder, trap } = place;
    writeFileSync(trap, `#!/bin/sh\necho "$0" > ${mark()}\nexit 1\n`);
    chmodSync(trap, 0o755);
    git(folder, 'init', '-q');
    writeFileSync(join(folder, 'a.txt'), 'a\n');
    writeFileSync(
      join(folder, 'glue-trace.json'),
      '{"version":1,"name":"Small","scripts":{"ts":{"match":"*.ts","language":"typescript"}}}',
    );
    git(folder, 'add', '.');
    git(folder, 'commit', '-qm', 'one');
    writeFileSync(join(folder, 'a.txt'), 'changed\n');
    writeFileSync(join(folder, 'new.txt'), 'new\n');
  });
  afterEach(() => rmSync(base, { recursive: true, force: true }));

  /** Everything that is ever asked of a repository. */
  function askAll(folder: string): void {
    const head = commitOf(folder, 'HEAD') ?? '';
    stagedSince(folder, head);
    commitsUpTo(folder, head, 100);
    lineOrigins(folder, head, 'a.txt');
    contentsOf(folder, [...(filesOf(folder, head) ?? new Map<string, string>()).values()]);
  }

  for (const { does, plant, control, opened } of HOSTILE)
    it(`with ${does} runs nothing`, () => {
      plant(place);
      const folder = opened === undefined ? place.folder : join(place.folder, opened);
      askAll(folder);
      expect(isSprung()).withContext('asked by us').toBeFalse();
      spawnSync('git', ['-C', folder, ...NAMED, ...control], { stdio: 'ignore', timeout: 10_000 });
      expect(isSprung()).withContext('asked by plain git: the trap must work').toBeTrue();
    });

  it('with a program of git’s name runs nothing, wherever one stands', () => {
    renameSync(place.trap, join(place.folder, 'git'));
    const [here, { PATH }] = [process.cwd(), process.env];
    try {
      process.chdir(place.folder);
      process.env['PATH'] = `.:${place.folder}:${PATH ?? ''}`;
      askAll(place.folder);
      expect(isSprung()).withContext('asked by us').toBeFalse();
      spawnSync('git', ['status']);
      expect(isSprung()).withContext('asked by plain git: the trap must work').toBeTrue();
    } finally {
      process.env['PATH'] = PATH;
      process.chdir(here);
    }
  });

  it('is told of all the same: its commits, files and lines', async () => {
    set(place, 'core.fsmonitor', place.trap);
    attributes(place, '* filter=t diff=t');
    set(place, 'filter.t.clean', place.trap);
    const { folder } = place;
    const head = commitOf(folder, 'HEAD')!;
    expect(commitsUpTo(folder, head, 10)!.map(({ subject, author }) => [subject, author])).toEqual([['one', 'Lock']]);
    const files = filesOf(folder, head)!;
    expect([...files.keys()]).toEqual(['a.txt', 'glue-trace.json']);
    expect(
      contentsOf(folder, [files.get('a.txt')!])!
        .get(files.get('a.txt')!)!
        .toString(),
    ).toBe('a\n');
    expect(lineOrigins(folder, head, 'a.txt')!.map(({ author, commit }) => [author, commit])).toEqual([['Lock', head]]);
    const odd = ['--help', '--output=made', 'nothing', ''];
    for (const one of odd)
      expect([
        commitOf(folder, one),
        filesOf(folder, one),
        commitsUpTo(folder, one, 1),
        stagedSince(folder, one),
        lineOrigins(folder, one, 'a.txt'),
      ])
        .withContext(one)
        .toEqual([undefined, undefined, undefined, undefined, undefined]);
    expect(existsSync(join(folder, 'made'))).toBeFalse();
    await scanFolder({ folder });
    expect(isSprung()).toBeFalse();
  });
});
