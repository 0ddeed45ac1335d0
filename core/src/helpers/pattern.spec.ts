import fc from 'fast-check';
import { compilePattern, type Match } from './pattern.js';

describe('a pattern', () => {
  it('gives places of groups in UTF-16 units, whichever engine is taken', () => {
    const pattern = compilePattern('(ü+)(x)?(.)');
    const wanted: Match = {
      at: 2,
      text: 'üü𝒳',
      groups: [{ at: 2, text: 'üü' }, undefined, { at: 4, text: '𝒳' }],
    };
    expect(pattern.first('𝒳üü𝒳')).toEqual(wanted);
    // So long that JavaScript's engine might not come to an end.
    expect(pattern.first(`𝒳üü𝒳${'-'.repeat(10_000)}`)).toEqual(wanted);
    expect(pattern.first('nothing')).toBeUndefined();
    expect(
      compilePattern('a|b')
        .all(`abc${'-'.repeat(20_000)}a`)
        .map(({ at }) => at),
    ).toEqual([0, 1, 20_003]);
  });

  it('comes to an end whatever the text', () => {
    const long = `${'a'.repeat(30_000)}!`;
    for (const source of ['^(a+)+$', '^(a|a)*$', '^(?:a*)*b', '(a*)*(a*)*c', 'a*a*a*a*a*a*a*b', '(?:a|aa)+$'])
      expect(compilePattern(source).test(long)).withContext(source).toBeFalse();
  });

  for (const source of ['(', '[b-a]', '(?=(a+)+)b', '(?:a|aa)*(?!b)', '((?:a*)b)+\\1', '(?<n>a)(?:b+)*\\k<n>'])
    it(`is refused when it is none, or nothing keeps it from running forever: ${source}`, () => {
      expect(() => compilePattern(source)).toThrowError();
    });

  it('may look ahead or behind where that cannot take long', () => {
    const path = compilePattern('^(?!https?:)(.+)\\.(\\w+)$');
    expect(path.first('art/gate.svg')?.groups.map((group) => group?.text)).toEqual(['art/gate', 'svg']);
    expect(path.test('http://flight/gate.svg')).toBeFalse();
    expect(compilePattern('(?<=#)\\w+').first('x#gate')).toEqual({ at: 2, text: 'gate', groups: [] });
    expect(
      compilePattern('(a)\\1')
        .all('aa aaa')
        .map(({ at }) => at),
    ).toEqual([0, 3]);
    expect(path.test(`${'a.'.repeat(30_000)}svg`)).toBeFalse();
  });

  it('means the same in both engines', () => {
    const atom = fc.constantFrom(
      'a',
      'b',
      '.',
      '\\s',
      '\\S',
      '\\w',
      '\\d',
      '[^a]',
      '[\\s-]',
      '\\b',
      '(a)',
      '(b|c)',
      '(?:a.)',
      '(?<n>x)',
    );
    const repeated = fc
      .tuple(atom, fc.constantFrom('', '?', '*', '+', '*?', '{1,2}'))
      .map(([what, how]) => (what === '\\b' ? what : what + how));
    const sources = fc
      .tuple(
        fc.constantFrom('', '^'),
        fc.array(repeated, { minLength: 1, maxLength: 4 }),
        fc.constantFrom('', '$', '|a'),
      )
      .map(([start, parts, end]) => start + parts.join('') + end)
      .filter((source) => source.split('(?<n>').length < 3);
    const texts = fc.string({
      unit: fc.constantFrom('a', 'b', 'c', 'x', '1', ' ', '\n', '\r', '\u2028', '\u00a0', '-', '𝒳'),
      maxLength: 8,
    });
    fc.assert(
      fc.property(sources, texts, (source, text) => {
        const pattern = compilePattern(source);
        // The same text with a tail that only makes it long, and that the pattern's end must not see.
        if (source.endsWith('$') || /\[\^a\]|\\S|\./.test(source)) return;
        const tail = `\u0001${'\u0001'.repeat(20_000)}`;
        const all = pattern.all(text);
        const long = pattern.all(text + tail).filter(({ at, text: found }) => at + found.length <= text.length);
        expect(long.filter(({ text: found }) => found !== ''))
          .withContext(`${source} in ${JSON.stringify(text)}`)
          .toEqual(all.filter(({ text: found }) => found !== ''));
      }),
      { numRuns: 400 },
    );
  });
});
