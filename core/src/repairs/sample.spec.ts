/** Every repair of the sample, written: its finding goes, and nothing else changes. */
import { plain, type Finding, type Repair } from '../model/finding.js';
import type { Plan } from '../reading/plan/plan.js';
import { analyseTexts, sampleFiles } from '../testing/sample.js';
import { useGrammars } from '../testing/project.js';
import { repairedText, writingOf } from './repaired.js';

/** The texts of a project after a repair. */
function repaired(plan: Plan, texts: ReadonlyMap<string, string>, { changes = [] }: Repair): Map<string, string> {
  const after = new Map(texts);
  for (const file of new Set(changes.map((change) => change.file))) {
    const own = changes.filter((change) => change.file === file);
    const text = texts.get(file)!;
    after.set(file, repairedText(file, text, writingOf(plan, file), own));
  }
  return after;
}

/** A finding by its check, its place and its objects: a type that gets its right name is the same type. */
const told = ({ check, sentence, evidence: [{ file, range }] }: Finding): string => {
  const words = plain(sentence).replace(/Lamp[lL]ighter|and \d more/g, '…');
  return `${check} ${file}:${range.line} ${words}`;
};

describe('the repairs of the sample', () => {
  beforeAll(useGrammars);

  it('each make their finding go away and change nothing else', () => {
    const { plan, texts } = sampleFiles();
    const before = analyseTexts(plan, texts).findings;
    let tried = 0;
    for (const finding of before) {
      for (const repair of finding.repairs.filter(({ changes }) => changes)) {
        tried++;
        const after = analyseTexts(plan, repaired(plan, texts, repair)).findings;
        const left = new Set(after.map(told));
        const known = new Set(before.map(told));
        // What has the same cause goes with it, and so does the other end of an event.
        const gone = before.filter((one) => !left.has(told(one)));
        const strange = gone.filter(
          (one) =>
            one.fingerprint !== finding.fingerprint &&
            !one.repairs.some(({ oneOf }) => oneOf !== undefined && oneOf === repair.oneOf),
        );
        const context = `${repair.title}: ${told(finding)}`;
        expect(gone.map(told)).withContext(context).toContain(told(finding));
        expect(strange.map(told)).withContext(context).toEqual([]);
        expect(after.map(told).filter((one) => !known.has(one)))
          .withContext(context)
          .toEqual([]);
      }
    }
    expect(tried).toBeGreaterThan(18);
  });
});
