import { execFileSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { renamesIn } from './history.js';

describe('the version history', () => {
  let folder: string;
  const git = (...args: string[]): void =>
    void execFileSync('git', ['-C', folder, '-c', 'user.name=Lock', '-c', 'user.email=lock@flight', ...args], {
      stdio: 'ignore',
    });
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

  it('knows renames of any name, committed or not, and those of a later commit', () => {
    expect([...renamesIn(folder)]).toEqual([]);
    git('mv', 'data/größe eins.txt', 'data/two.txt');
    expect([...renamesIn(folder)]).toEqual([['data/größe eins.txt', 'data/two.txt']]);
    git('commit', '-qm', 'two');
    git('mv', 'data/two.txt', 'three.txt');
    git('commit', '-qm', 'three');
    expect(renamesIn(folder).get('data/größe eins.txt')).toBe('three.txt');
  });
  it('is told from the project’s folder when that lies inside the repository', () => {
    git('mv', 'data/größe eins.txt', 'data/two.txt');
    git('commit', '-qm', 'two');
    expect([...renamesIn(join(folder, 'data'))]).toEqual([['größe eins.txt', 'two.txt']]);
  });
  it('says nothing where there is none', () => {
    const plain = mkdtempSync(join(tmpdir(), 'glue-plain-'));
    expect([...renamesIn(plain)]).toEqual([]);
    rmSync(plain, { recursive: true });
  });
});
