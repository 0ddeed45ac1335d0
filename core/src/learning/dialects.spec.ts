/** Learning measured: made-up dialects that it was not built on, and the sample without its plan. */
import { dialectOf, withHabit } from '../testing/dialects/dialect.js';
import { HABITS } from '../testing/dialects/habits.js';
import { measureLearning, type Measured, type Share } from '../testing/measure-learning.js';
import { useGrammars } from '../testing/project.js';
import { sampleFiles } from '../testing/sample.js';
import { PLAN_FILE } from '../reading/plan/plan.js';
import { isGathered, learn, Learning } from './learn.js';
import { planOf } from './plan-of.js';
import { planText } from './plan-text.js';
import { gather } from './scripts.js';

/** Not among the seeds that the bench measures on. */
const SEEDS = Array.from({ length: 12 }, (_, at) => 501 + at);

const share = ({ of, found }: Share): number => (of === 0 ? 1 : found / of);

describe('learning', () => {
  beforeAll(useGrammars);

  it('comes to the same when some of the scripts are gathered on another thread', () => {
    for (const seed of [...SEEDS, 77, 78]) {
      const files = Object.entries(dialectOf(seed).files).map(([path, text]) => ({ path, text }));
      const scripts = files.flatMap((file, at) => (isGathered(file.path) ? [{ at, ...file }] : []));
      for (const share of [0.4, 1]) {
        const first = scripts.slice(0, Math.ceil(scripts.length * share));
        const apart = new Set(first.map(({ path }) => path));
        const learning = new Learning();
        for (const { path, text } of files) learning.add(apart.has(path) ? { path } : { path, text });
        // On its way between threads it is copied.
        const learned = learning.finish(structuredClone(gather(first)));
        expect(planText(planOf('Game', learned)))
          .withContext(`${seed}, ${share}`)
          .toBe(planText(planOf('Game', learn(files))));
      }
    }
  });

  describe('made-up dialects', () => {
    let all: Measured[];
    beforeAll(() => {
      all = SEEDS.map((seed) => {
        const { files, plan, broken } = dialectOf(seed);
        const texts = Object.entries(files).map(([path, text]) => ({ path, text }));
        return measureLearning(texts, JSON.stringify(plan), broken);
      });
    });
    const whole = (pick: (one: Measured) => Share): number =>
      share({
        of: all.reduce((sum, one) => sum + pick(one).of, 0),
        found: all.reduce((sum, one) => sum + pick(one).found, 0),
      });

    it('finds their links in data and in scripts', () => {
      expect(whole(({ data }) => data)).toBeGreaterThan(0.96);
      expect(whole(({ scripts }) => scripts)).toBeGreaterThan(0.95);
    });
    it('tells hardly any that are not there', () => expect(whole(({ right }) => right)).toBeGreaterThan(0.97));
    it('finds what was planted broken, and tells hardly any other errors', () => {
      expect(whole(({ broken }) => broken)).toBeGreaterThan(0.9);
      expect(whole(({ errors }) => errors)).toBeGreaterThan(0.95);
    });
    it('is right of most rules that it calls sure', () => {
      const sure = all.flatMap(({ rules }) => rules).filter(({ evidence }) => evidence.sure >= 0.95);
      expect(sure.length).toBeGreaterThan(80);
      const right = sure.filter((one) => one.share.found >= one.share.of / 2).length;
      expect(right / sure.length).toBeGreaterThan(0.97);
    });
    it('is the same for the same files', () => {
      const { files, plan, broken } = dialectOf(501);
      const texts = Object.entries(files).map(([path, text]) => ({ path, text }));
      const again = measureLearning(texts, JSON.stringify(plan), broken);
      expect(again.written.plan).toEqual(all[0].written.plan);
    });
  });

  describe('what some teams do and the plain dialects do not', () => {
    for (const name of Object.keys(HABITS))
      it(name, () => {
        for (const seed of [601, 602, 603]) {
          const { files, plan, broken, added } = withHabit(dialectOf(seed), name);
          const texts = Object.entries(files).map(([path, text]) => ({ path, text }));
          const { data, scripts, right } = measureLearning(texts, JSON.stringify(plan), broken, (file) =>
            added.has(file),
          );
          expect(data.of + scripts.of)
            .withContext(`links of ${seed}`)
            .toBeGreaterThan(5);
          expect(share(data)).withContext(`data of ${seed}`).toBeGreaterThan(0.95);
          expect(share(scripts)).withContext(`scripts of ${seed}`).toBeGreaterThan(0.95);
          expect(share(right)).withContext(`right of ${seed}`).toBeGreaterThan(0.95);
        }
      });
  });

  it('the sample without its plan gives most of the links that its own plan gives', () => {
    const { texts } = sampleFiles();
    const files = [...texts].filter(([path]) => path !== PLAN_FILE).map(([path, text]) => ({ path, text }));
    const { data, scripts, right } = measureLearning(files, texts.get(PLAN_FILE)!, []);
    expect(share({ of: data.of + scripts.of, found: data.found + scripts.found })).toBeGreaterThan(0.95);
    expect(share(right)).toBeGreaterThan(0.95);
  });
});
