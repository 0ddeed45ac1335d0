/**
 * Behaviours × forms × languages: each faulty form is found by its check, each healthy one is not. What a check's docs
 * leave out in a language is named with the behaviour; nothing else is silent.
 */
import { linkFacts } from '../linking/link.js';
import type { FileFacts } from '../reading/facts.js';
import { factsOf, planOf, useGrammars } from '../testing/project.js';
import { CHECKS } from './registry.js';
import { BEHAVIOURS } from '../testing/forms/behaviours.js';
import { ENDINGS, written } from '../testing/forms/code.js';
import { filesAround, FORMS_PLAN, LANGUAGES } from '../testing/forms/plan.js';

const plan = planOf(FORMS_PLAN);

describe('forms of a fault', () => {
  beforeAll(useGrammars);

  for (const { check, does, forms, boat = {}, objects = [], files = {}, silentIn = [] } of BEHAVIOURS) {
    const run = CHECKS.find(({ id }) => id === check)!;
    let around: FileFacts[];
    const finds = (scripts: Record<string, string>, wires?: Record<string, string>): boolean => {
      around ??= factsOf({ ...filesAround(boat, objects), ...files }, plan).facts;
      const beside = wires ? factsOf({ ...filesAround(boat, objects, wires), ...files }, plan).facts : around;
      return run.run(linkFacts([...beside, ...factsOf(scripts, plan).facts], [], plan)).length > 0;
    };

    it(`${check}: ${does}`, () => {
      const wrong: string[] = [];
      for (const isFaulty of [true, false])
        for (const [form, { module, beside, wires, only = LANGUAGES }] of Object.entries(forms(isFaulty)))
          for (const language of only) {
            const scripts = {
              [`scripts/own.${ENDINGS[language]}`]: written(language, module),
              ...(beside && { [`scripts/base.${ENDINGS[language]}`]: written(language, beside) }),
            };
            const isFound = finds(scripts, wires);
            if (isFound !== (isFaulty && !silentIn.includes(language)))
              wrong.push(`${isFaulty ? 'faulty' : 'healthy'}, ${form}, ${language}`);
          }
      expect(wrong).toEqual([]);
    });
  }
});
