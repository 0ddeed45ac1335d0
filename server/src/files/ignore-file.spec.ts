import { execFileSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { readIgnoreFile } from './ignore-file.js';

describe('an ignore file', () => {
  const PATHS = [
    'a.txt',
    'b.txt',
    'data/a.txt',
    'data/deep/a.txt',
    'build/x',
    'src/build/y',
    '#note',
    'a b',
    '{x}.txt',
    'x.log',
  ];

  /** Of these paths those that git ignores by the same lines. */
  function byGit(text: string): string[] {
    const folder = mkdtempSync(join(tmpdir(), 'glue-ignore-'));
    try {
      execFileSync('git', ['-C', folder, 'init', '-q']);
      for (const path of PATHS) {
        mkdirSync(dirname(join(folder, path)), { recursive: true });
        writeFileSync(join(folder, path), '');
      }
      writeFileSync(join(folder, '.gitignore'), text);
      const told = execFileSync('git', [
        '-C',
        folder,
        '-c',
        'core.quotePath=false',
        'status',
        '--porcelain',
        '-z',
        '-uall',
      ]);
      const there = new Set(
        told
          .toString()
          .split('\0')
          .map((line) => line.slice(3)),
      );
      return PATHS.filter((path) => !there.has(path));
    } finally {
      rmSync(folder, { recursive: true });
    }
  }

  function byUs(text: string): string[] {
    const ignores = readIgnoreFile(text);
    const isGone = (path: string): boolean => {
      const above = dirname(path);
      return (above !== '.' && isGone(above)) || ignores(path, !PATHS.includes(path));
    };
    return PATHS.filter(isGone);
  }

  const files = [
    '*.txt',
    '*.txt\n!b.txt',
    '/a.txt',
    'data/',
    'data/*.txt',
    'data/**/a.txt',
    '**/deep',
    'build/',
    '/build',
    'src/build',
    '# a note\n\\#note',
    'a b   ',
    '{x}.txt',
    'data/**',
    '*\n!*/\n!a.txt',
    '!a.txt\n*.txt\n',
    'x.lo[f-h]\r\n',
  ];
  for (const text of files)
    it(`means what it means to git: ${JSON.stringify(text)}`, () => expect(byUs(text)).toEqual(byGit(text)));

  it('cannot take long, whatever its lines', () => {
    const ignores = readIgnoreFile(`${'*a'.repeat(300)}b\n${'**/a/'.repeat(150)}b\n${'x'.repeat(5000)}`);
    expect(ignores(`${'a'.repeat(250)}/`.repeat(15), false)).toBeFalse();
    expect(ignores('x'.repeat(5000), false)).toBeFalse();
  });
});
