import { COPY_KINDS, plantTwins } from '../testing/planted.js';
import { measureTwins } from '../testing/measure-twins.js';
import { factsOf, planOf, useGrammars } from '../testing/project.js';

const ENDINGS = { typescript: 'ts', javascript: 'js', lua: 'lua', csharp: 'cs', python: 'py' };
const plan = planOf({
  scripts: Object.fromEntries(
    Object.entries(ENDINGS).map(([language, ending]) => [language, { match: `scripts/*.${ending}`, language }]),
  ),
});

describe('the search for twins', () => {
  beforeAll(useGrammars);

  it('finds planted copies of every kind in five languages, and next to nothing else', () => {
    const planted = plantTwins(7, 6, 4);
    const scores = measureTwins(factsOf(planted.files, plan).facts, planted);
    expect(scores.map(({ kind }) => kind)).toEqual([...COPY_KINDS]);
    for (const { kind, planted: wanted, found, told, right } of scores) {
      const isNear = ['exact', 'renamed', 'values'].includes(kind);
      expect(wanted).toBe(30);
      expect([kind, found / wanted >= (isNear ? 0.96 : 0.86)]).toEqual([kind, true]);
      expect([kind, right / told >= 0.95]).toEqual([kind, true]);
    }
  });
});
