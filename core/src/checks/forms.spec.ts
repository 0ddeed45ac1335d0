/**
 * Behaviours × forms × languages: each faulty form is found by its check, each healthy one is not. What a check's docs
 * leave out in a language is named with the behaviour; nothing else is silent.
 */
import { linkFacts } from '../linking/link.js';
import type { FileFacts } from '../reading/facts.js';
import { factsOf, planOf, useGrammars } from '../testing/project.js';
import { CHECKS } from './registry.js';
import { BEHAVIOURS, type Form } from '../testing/forms/behaviours.js';
import { ENDINGS, written } from '../testing/forms/code.js';
import { filesAround, FORMS_PLAN, LANGUAGES } from '../testing/forms/plan.js';

const plan = planOf(FORMS_PLAN);

describe('forms of a fault', () => {
  beforeAll(useGrammars);

  for (const { check, does, forms, boat = {}, mill, objects = [], files = {}, silentIn = [] } of BEHAVIOURS) {
    const run = CHECKS.find(({ id }) => id === check)!;
    let around: FileFacts[];
    const finds = (scripts: Record<string, string>, { wires, steps }: Form): boolean => {
      around ??= factsOf({ ...filesAround(boat, objects, {}, mill), ...files }, plan).facts;
      const beside = wires ? factsOf({ ...filesAround(boat, objects, wires, mill), ...files }, plan).facts : around;
      const graph = steps ? factsOf({ 'graphs/own.json': { steps } }, plan).facts : [];
      return run.run(linkFacts([...beside, ...graph, ...factsOf(scripts, plan).facts], [], plan)).length > 0;
    };

    it(`${check}: ${does}`, () => {
      const wrong: string[] = [];
      for (const isFaulty of [true, false])
        for (const [form, one] of Object.entries(forms(isFaulty)))
          for (const language of one.only ?? LANGUAGES) {
            const { module, beside } = one;
            const scripts = {
              [`scripts/own.${ENDINGS[language]}`]: written(language, module),
              ...(beside && { [`scripts/base.${ENDINGS[language]}`]: written(language, beside) }),
            };
            const isFound = finds(scripts, one);
            if (isFound !== (isFaulty && !silentIn.includes(language)))
              wrong.push(`${isFaulty ? 'faulty' : 'healthy'}, ${form}, ${language}`);
          }
      expect(wrong).toEqual([]);
    });
  }
});
