/** Each planted fault of the sample, mended by hand: its findings go, and nothing else comes. */
import type { Finding } from '../model/finding.js';
import { mended, mends } from '../testing/mends.js';
import { plantedFaults } from '../testing/planted-faults.js';
import { useGrammars } from '../testing/project.js';
import { onlyIn } from './trial.js';
import { analyseTexts, sampleFiles } from '../testing/sample.js';

const row = ({ check, evidence: [{ file, range }] }: Finding): string => `${check} ${file}:${range.line}`;
describe('the mends of the sample', () => {
  beforeAll(useGrammars);

  it('are one for each planted fault', () => {
    expect(mends().map(({ fault }) => fault)).toEqual(
      jasmine.arrayWithExactContents([...new Set(plantedFaults().faults)]),
    );
  });

  it('each take their fault away, what has the same cause, and nothing else', () => {
    const { plan, texts } = sampleFiles();
    const before = analyseTexts(plan, texts).findings;
    for (const mend of mends()) {
      const after = analyseTexts(plan, mended(texts, mend)).findings;
      const gone = onlyIn(before, after).map(row);
      expect(new Set(gone))
        .withContext(mend.fault)
        .toEqual(new Set([mend.fault, ...(mend.also ?? [])]));
      expect(onlyIn(after, before).map(row)).withContext(mend.fault).toEqual([]);
    }
  });
});
