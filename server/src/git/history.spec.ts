import { execFileSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { gitIn } from '@glue-trace/core/git-in';
import { plain, type FileFacts, type History } from '@glue-trace/core';
import { scanFolder } from '../scan/scan-folder.js';
import { historyIn } from './history.js';

describe('the version history', () => {
  let folder: string;
  const git = (...args: string[]): void => gitIn(folder, 'Lock')(...args);
  const content = Array.from({ length: 30 }, (_, n) => `line ${n}`).join('\n');

  beforeEach(() => {
    folder = mkdtempSync(join(tmpdir(), 'glue-git-'));
    git('init', '-q');
    mkdirSync(join(folder, 'data'));
    writeFileSync(join(folder, 'data', 'größe eins.txt'), content);
    git('add', '.');
    git('commit', '-qm', 'one');
  });
  afterEach(() => rmSync(folder, { recursive: true, force: true }));

  /** What is asked of a folder's history; a version is told by its subject and the text that it had. */
  const history = (of = folder): Pick<History, 'renamedTo' | 'versionsOf'> =>
    historyIn(of, (_, bytes) => ({ name: bytes.toString().slice(0, 7) }) as FileFacts, new Map());
  const versions = (path: string, of = folder): string[] =>
    history(of)
      .versionsOf(path)
      .map(({ commit, isFirst, facts }) => `${commit.subject}: ${facts()?.name}${isFirst ? ' (first)' : ''}`);

  it('knows renames of any name, committed or not, and those of a later commit', () => {
    expect(history().renamedTo('data/größe eins.txt')).toBeUndefined();
    git('mv', 'data/größe eins.txt', 'data/two.txt');
    expect(history().renamedTo('data/größe eins.txt')).toBe('data/two.txt');
    git('commit', '-qm', 'two');
    git('mv', 'data/two.txt', 'three.txt');
    git('commit', '-qm', 'three');
    expect(history().renamedTo('data/größe eins.txt')).toBe('three.txt');
  });
  it('that git did not tell once is asked for again', () => {
    git('mv', 'data/größe eins.txt', 'data/two.txt');
    git('commit', '-qm', 'two');
    const real = execFileSync('sh', ['-c', 'command -v git']).toString().trim();
    const tools = mkdtempSync(join(tmpdir(), 'glue-tools-'));
    const failing = `#!/bin/sh\ncase " $* " in *" log "*) exit 1;; esac\nexec ${real} "$@"\n`;
    writeFileSync(join(tools, 'git'), failing, { mode: 0o755 });
    const { PATH } = process.env;
    try {
      process.env['PATH'] = `${tools}:${PATH ?? ''}`;
      expect(history().renamedTo('data/größe eins.txt')).toBeUndefined();
    } finally {
      process.env['PATH'] = PATH;
      rmSync(tools, { recursive: true });
    }
    expect(history().renamedTo('data/größe eins.txt')).toBe('data/two.txt');
  });
  it('is told from the project’s folder when that lies inside the repository', () => {
    git('mv', 'data/größe eins.txt', 'data/two.txt');
    git('commit', '-qm', 'two');
    const inside = join(folder, 'data');
    expect(history(inside).renamedTo('größe eins.txt')).toBe('two.txt');
    expect(versions('two.txt', inside)).toEqual(['two: line 0\n', 'one: line 0\n (first)']);
  });
  it('has the versions of a file, newest first, those under its former names too', () => {
    git('mv', 'data/größe eins.txt', 'data/two.txt');
    git('commit', '-qm', 'renamed');
    writeFileSync(join(folder, 'data', 'two.txt'), `changed\n${content}`);
    git('commit', '-qam', 'says more');
    writeFileSync(join(folder, 'data', 'two.txt'), 'not committed');
    expect(versions('data/two.txt')).toEqual(['says more: changed', 'renamed: line 0\n', 'one: line 0\n (first)']);
    expect(history().versionsOf('data/two.txt')[0]!.commit.day).toMatch(/^\d{4}-\d\d-\d\d$/);
    expect(versions('data/none.txt')).toEqual([]);
  });
  it('says nothing where there is none', () => {
    const plain = mkdtempSync(join(tmpdir(), 'glue-plain-'));
    expect([history(plain).renamedTo('a'), history(plain).versionsOf('a')]).toEqual([undefined, []]);
    rmSync(plain, { recursive: true });
  });
  it('tells a scan which of two copies was mended, and which value was saved before', async () => {
    const plan = {
      version: 1,
      name: 'Small',
      scripts: { ts: { match: '*.ts', language: 'typescript' } },
    };
    const rule = (more: string): string => `settle() {
      const bank = this.depth - this.draught * 2;
      if (bank < 0) { this.hull -= 12; this.lean(bank + 3); }
      while (this.hull > 90) { this.hull -= bank * 2; }
      ${more} return this.hull + bank - 4; }`;
    const write = (name: string, code: string): void => writeFileSync(join(folder, `${name}.ts`), code);
    write('lock', `export class Lock { ${rule('')} }`);
    write('gauge', `export class Gauge { ${rule('')} }`);
    writeFileSync(join(folder, 'glue-trace.json'), JSON.stringify(plan));
    git('add', '.');
    git('commit', '-qm', 'Both');
    write('lock', `export class Lock { ${rule('if (bank > 9) this.creak(bank);')} }`);
    git('commit', '-qam', 'The lock creaks');
    const { analysis } = await scanFolder({ folder });
    const sentences = analysis.findings.map(({ sentence }) => plain(sentence));
    expect(sentences.join()).toMatch(/Lock\.settle\(\) was changed on [\d-]+ \(“The lock creaks”\), and the other not/);
  });
});
