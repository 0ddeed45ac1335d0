/** Writing in a project: whole or not at all, and nowhere else. */
import {
  chmodSync,
  linkSync,
  lstatSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  rmSync,
  statSync,
  symlinkSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { GlueError, type ErrorCode } from '@glue-trace/core';
import { clearLeftOver, withOtherNames, writeAll, writeNew, writeWhole, type NewContent } from './write.js';

describe('writing in a project', () => {
  let base: string;
  let folder: string;
  const at = (file: string): string => join(folder, file);
  const text = (file: string): string => readFileSync(at(file), 'utf8');
  const change = (file: string, before = file, after = 'new'): NewContent => ({
    file,
    before: Buffer.from(before),
    after: Buffer.from(after),
  });
  /** The code and words of what is thrown. */
  const thrown = (run: () => unknown): [ErrorCode, string] => {
    try {
      run();
    } catch (error) {
      if (error instanceof GlueError) return [error.code, error.detail];
      throw error;
    }
    throw new Error('nothing was thrown');
  };
  const leftOver = (of = folder): string[] =>
    readdirSync(of, { recursive: true, encoding: 'utf8' }).filter((name) => name.endsWith('.glue-new'));

  beforeEach(() => {
    base = mkdtempSync(join(tmpdir(), 'glue-write-'));
    folder = join(base, 'project');
    mkdirSync(at('data'), { recursive: true });
    for (const file of ['a', 'b', 'data/c']) writeFileSync(at(file), file);
  });
  afterEach(() => rmSync(base, { recursive: true, force: true }));

  it('puts new content in the place of the old, and keeps who may do what', () => {
    chmodSync(at('a'), 0o754);
    writeAll(folder, [change('a'), change('data/c')]);
    expect([text('a'), text('data/c'), text('b')]).toEqual(['new', 'new', 'b']);
    expect(statSync(at('a')).mode & 0o777).toBe(0o754);
    expect(leftOver()).toEqual([]);
  });

  it('writes files of the longest names', () => {
    const name = 'x'.repeat(255);
    writeFileSync(at(name), 'old');
    writeAll(folder, [change(name, 'old')]);
    expect([text(name), writeNew(folder, 'y'.repeat(255), 'new')]).toEqual(['new', true]);
  });

  it('changes nothing when one file is not as it was', () => {
    expect(thrown(() => writeAll(folder, [change('a'), change('b', 'else')]))).toEqual([
      'repair/changed',
      'b was changed meanwhile. Scan again, and look at the repair anew.',
    ]);
    expect([text('a'), text('b'), leftOver()]).toEqual(['a', 'b', []]);
  });

  it('gives files their old content back when a later one cannot be put in its place', () => {
    const blocked = (step: string): void => {
      if (step === 'into place b') rmSync(at('b'));
      if (step === 'into place b') mkdirSync(at('b'));
    };
    const [code, detail] = thrown(() => writeAll(folder, [change('a'), change('b'), change('data/c')], blocked));
    expect([code, detail.endsWith('Nothing was changed.')]).toEqual(['file/unwritable', true]);
    expect([text('a'), text('data/c'), leftOver()]).toEqual(['a', 'data/c', []]);
  });

  it('names what holds the new content all the same', () => {
    const changed = (step: string): void => {
      if (step !== 'into place b') return;
      writeFileSync(at('a'), 'somebody else');
      rmSync(at('b'));
      mkdirSync(at('b'));
    };
    const [, detail] = thrown(() => writeAll(folder, [change('a'), change('b')], changed));
    expect(detail).toContain('Changed all the same, and to be taken back by hand: a.');
    expect(text('a')).toBe('somebody else');
  });

  const places: [string, string, () => void][] = [
    ['a link in the place of a file', 'a', () => (rmSync(at('a')), symlinkSync(join(base, 'outside'), at('a')))],
    [
      'a link in the place of a folder',
      'data/c',
      () => (rmSync(at('data'), { recursive: true }), symlinkSync(join(base, 'away'), at('data'))),
    ],
    ['a way out of the project', '../outside', () => undefined],
    ['a folder in the place of a file', 'a', () => (rmSync(at('a')), mkdirSync(at('a')))],
  ];
  for (const [what, file, plant] of places)
    for (const when of ['before', 'meanwhile'] as const)
      it(`does not follow ${what}, planted ${when}`, () => {
        writeFileSync(join(base, 'outside'), 'outside');
        mkdirSync(join(base, 'away'));
        writeFileSync(join(base, 'away', 'c'), 'data/c');
        if (when === 'before') plant();
        const [code] = thrown(() =>
          writeAll(
            folder,
            [{ ...change(file), before: Buffer.from(file === '../outside' ? 'outside' : file) }],
            (step) => {
              if (when === 'meanwhile' && step.startsWith('beside')) plant();
            },
          ),
        );
        expect(['file/unwritable', 'repair/changed']).toContain(code);
        expect(readFileSync(join(base, 'outside'), 'utf8')).toBe('outside');
        expect(readFileSync(join(base, 'away', 'c'), 'utf8')).toBe('data/c');
        expect(leftOver(base)).toEqual([]);
      });

  it('makes a file that is not there, and leaves one that is', () => {
    expect([writeNew(folder, 'plan', 'one'), text('plan')]).toEqual([true, 'one']);
    expect([writeNew(folder, 'plan', 'two'), text('plan')]).toEqual([false, 'one']);
    symlinkSync(join(base, 'nowhere'), at('link'));
    expect(thrown(() => writeNew(folder, 'link', 'one'))[0]).toBe('file/unwritable');
    expect(thrown(() => writeNew(folder, 'gone/plan', 'one'))[0]).toBe('file/unwritable');
    expect([lstatSync(at('link')).isSymbolicLink(), leftOver()]).toEqual([true, []]);
  });

  it('writes where the user said: through a link of theirs, or into what is no file', () => {
    symlinkSync(at('a'), join(base, 'link'));
    writeWhole(join(base, 'link'), 'through');
    expect([text('a'), lstatSync(join(base, 'link')).isSymbolicLink()]).toEqual(['through', true]);
    expect(() => writeWhole('/dev/null', 'x')).not.toThrow();
    expect(thrown(() => writeWhole(join(base, 'gone', 'x'), 'x'))[0]).toBe('file/unwritable');
  });

  it('tells of other names, and takes away what was left beside', () => {
    linkSync(at('a'), join(base, 'other'));
    expect(withOtherNames(folder, ['a', 'b', 'gone'])).toEqual(['a']);
    writeFileSync(at('.0123456789abcdef.glue-new'), '');
    writeFileSync(at('.a.glue-new'), 'of the project');
    clearLeftOver([folder, at('gone')]);
    expect(leftOver()).toEqual(['.a.glue-new']);
  });
});
