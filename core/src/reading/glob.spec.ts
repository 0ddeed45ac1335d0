/** Globs, compared with those of a package that is known to be right and can be made to run forever. */
import fc from 'fast-check';
import picomatch from 'picomatch';
import { compileGlob } from './glob.js';

describe('a glob', () => {
  const cases: [string, string[], string[]][] = [
    ['*.json', ['a.json', '.a.json'], ['data/a.json', 'a.jsonc', '.json/x']],
    ['data/*', ['data/a', 'data/.a'], ['data/', 'data', 'data/a/b']],
    ['data/**', ['data/a', 'data/a/b', 'data/'], ['data', 'datas', 'a/data']],
    ['**', ['a', 'a/b'], []],
    ['**/*.json', ['a.json', 'x/y/a.json'], ['a.json/b']],
    ['**/data/**/*.txt', ['data/a.txt', 'x/data/y/z/a.txt'], ['x/datas/a.txt']],
    ['a?c', ['abc', 'a.c'], ['ac', 'abbc', 'a/c']],
    ['a[b-d]e', ['abe', 'ade'], ['aee', 'a-e', 'abde']],
    ['a[!b-d]e', ['aee'], ['abe', 'ae']],
    ['a[]]', ['a]'], ['a']],
    ['a[b', ['a[b'], ['ab']],
    ['{scenes,prefabs}/*.{json,yaml}', ['scenes/a.json', 'prefabs/b.yaml'], ['scenes/a.xml', 'x/scenes/a.json']],
    ['a{b,c{d,e}}f', ['abf', 'acdf', 'acef'], ['acf', 'af']],
    ['{a}', ['{a}'], ['a']],
    ['a\\*b', ['a*b'], ['axb']],
    ['./data/*', ['data/a'], ['x/data/a']],
    ['*a*a*b', ['xaxaxb', 'aab'], ['aab/', 'ab']],
    ['engine.*', ['engine.start', 'engine.'], ['engine', 'engines.a']],
  ];
  for (const [glob, yes, no] of cases)
    it(`${glob} matches ${yes.join(', ')} and not ${no.join(', ')}`, () => {
      expect([...yes, ...no].filter(compileGlob(glob))).toEqual(yes);
    });

  it('means what it means elsewhere', () => {
    const part = fc.constantFrom('*', '?', 'a', 'b', '.', 'ab', '[ab]', '[^a]', '{a,b}', 'a*', '*b');
    const name = fc.array(part, { minLength: 1, maxLength: 3 }).map((parts) => parts.join(''));
    const globs = fc
      .array(fc.oneof({ weight: 3, arbitrary: name }, { weight: 1, arbitrary: fc.constant('**') }), {
        minLength: 1,
        maxLength: 4,
      })
      .map((steps) => steps.join('/'))
      // Of these the package makes something of its own.
      .filter((glob) => !/\/\*\*$|\*\*[^/]|[^/]\*\*|\*\*\/\*\*|^\.|\/\.|\.\.|\{[^}]*$/.test(glob));
    const paths = fc
      .array(fc.string({ unit: fc.constantFrom('a', 'b', 'c'), minLength: 1, maxLength: 4 }), {
        minLength: 1,
        maxLength: 4,
      })
      .map((names) => names.join('/'));
    fc.assert(
      fc.property(globs, paths, (glob, path) => {
        expect(compileGlob(glob)(path))
          .withContext(`${glob} ${path}`)
          .toBe(picomatch(glob, { dot: true })(path));
      }),
      { numRuns: 3000 },
    );
  });

  it('is not made to run for long by any path', () => {
    expect(compileGlob(`${'*a'.repeat(40)}*b`)(`${'a'.repeat(4000)}`)).toBeFalse();
    expect(compileGlob(`${'**/a/'.repeat(40)}b`)(Array(4000).fill('a').join('/'))).toBeFalse();
    expect(() => compileGlob('{a,b}'.repeat(20))).toThrowError(/alternatives/);
  });
});
