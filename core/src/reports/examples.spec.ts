/** What the documentation of a check shows is what the sample gives: sentence, reasons, evidence, ways out. */
import { readFileSync } from 'node:fs';
import { CHECK_IDS } from '../checks/registry.js';
import { useGrammars } from '../testing/project.js';
import { analyseTexts, sampleFiles } from '../testing/sample.js';
import { examplesOf } from './examples.js';

describe('the examples of docs/checks.md', () => {
  const page = readFileSync(new URL('../../../docs/checks.md', import.meta.url), 'utf8');
  const sections = new Map(
    page.split('\n### ').map((section): [string, string] => [section.slice(0, section.indexOf('\n')), section]),
  );
  let examples: Map<string, string>;

  beforeAll(async () => {
    await useGrammars();
    const { plan, texts } = sampleFiles();
    const analysis = analyseTexts(plan, texts);
    examples = new Map(CHECK_IDS.map((id) => [id, examplesOf(analysis, id)]));
  });

  for (const id of CHECK_IDS)
    it(`are what the sample gives: ${id}`, () => {
      const section = sections.get(id) ?? '';
      const told = section.split('\n').filter((line) => line.startsWith('>'));
      expect(told).toEqual(
        examples
          .get(id)!
          .split('\n')
          .filter((line) => line.startsWith('>')),
      );
      expect(told.length).toBeGreaterThan(0);
    });
});
