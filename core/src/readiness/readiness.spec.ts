import { carrier, scan, scene, script, useGrammars, type Files } from '../testing/project.js';
import { verdictOf } from './readiness.js';

describe('readiness', () => {
  beforeAll(useGrammars);

  it('says in one sentence why it is not ready', () => {
    const { readiness } = scan({
      'scripts/a.ts': script('A', "this.child('X').show();"),
      'scenes/s.json': scene(carrier('One', 'a.ts')),
    });
    expect(readiness.verdict).toBe('Not ready to play: 1 thing will fail');
    expect(readiness.isReady).toBeFalse();
    expect(readiness.byFamily).toEqual([{ family: 'broken', counts: { error: 1, warning: 0, note: 0 } }]);
    expect(readiness.byGrip.lost).toBe(1);
  });

  it('tells luck from readiness', () => {
    expect(verdictOf({ error: 4, warning: 2, note: 0 }, 3)).toBe(
      'Not ready to play: 1 thing will fail, and 3 break a rule of the house',
    );
    expect(verdictOf({ error: 2, warning: 2, note: 0 }, 1)).toBe(
      'Not ready to play: 1 thing will fail, and one breaks a rule of the house',
    );
    expect(verdictOf({ error: 1, warning: 2, note: 0 }, 1)).toBe('Not ready by the rules of the house: 1 is broken');
    expect(verdictOf({ error: 0, warning: 2, note: 0 })).toBe('Ready to play, but 2 things depend on luck');
    expect(verdictOf({ error: 0, warning: 0, note: 1 })).toBe('Ready to play, with 1 note for later');
    expect(verdictOf({ error: 0, warning: 0, note: 0 })).toBe('Ready to play: nothing was found that would fail');
  });

  it('says nothing of a project of which nothing was read', () => {
    const projects: Files[] = [{}, { 'glue-trace.json': {}, 'pictures/lock.png': '' }];
    for (const files of projects) {
      const { readiness } = scan(files);
      expect([readiness.isReady, readiness.verdict]).toEqual([
        false,
        'Nothing can be said: the plan reads none of the files here',
      ]);
    }
  });

  it('names the pieces that most hangs on by name or path', () => {
    const { readiness } = scan({
      'scripts/a.ts': script('A', "bells.ring('x');"),
      'scripts/b.ts': script('B', "bells.hear('x', this.f);"),
      'scripts/c.ts': script('C', "bells.hear('x', this.f);"),
    });
    expect(readiness.wouldHurt.map(({ title, loose }) => [title, loose])).toEqual([['x', 3]]);
  });

  it('follows the house rules: a check switched off or weighed otherwise', () => {
    const files = { 'scripts/a.ts': script('A', "bells.ring('x');") };
    expect(scan(files, { checks: { 'fragile/unheard': 'off' } }).findings).toEqual([]);
    expect(scan(files, { checks: { 'fragile/unheard': 'error' } }).readiness.isReady).toBeFalse();
  });
});

describe('fingerprints', () => {
  beforeAll(useGrammars);
  const prints = (files: Record<string, string | object>): string[] =>
    scan(files)
      .findings.map((finding) => finding.fingerprint)
      .sort();
  const files = (code: string, objects: object[]): Record<string, string | object> => ({
    'scripts/a.ts': code,
    'scenes/s.json': scene(...objects),
  });

  it('survive moved lines, other order and renames of other pieces', () => {
    const before = prints(files(script('A', "this.child('X').show();"), [{ name: 'Other' }, carrier('One', 'a.ts')]));
    const after = prints(
      files('// a new line\n\n' + script('A', "this.child('X').show();"), [
        carrier('One', 'a.ts'),
        { name: 'Renamed' },
      ]),
    );
    expect(after).toEqual(before);
  });

  it('differ for findings that are alike', () => {
    const found = prints(
      files('export class A {}', [
        { name: 'One', parts: [{ script: 'scripts/a.ts' }, { script: 'scripts/a.ts' }] },
        { name: 'One', parts: [{ script: 'scripts/a.ts' }, { script: 'scripts/a.ts' }] },
      ]),
    );
    expect(new Set(found).size).toBe(2);
  });
});
