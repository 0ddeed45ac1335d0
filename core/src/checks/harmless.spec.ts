/** Changes that change nothing in play bring no finding, take none away, and leave each known by its fingerprint. */
import { plain, type Finding } from '../model/finding.js';
import { PLAN_FILE } from '../reading/plan/plan.js';
import { analyseTexts, sampleFiles } from '../testing/sample.js';
import {
  commented,
  filesReversed,
  keysReversed,
  laidOutAnew,
  listsReversed,
  movedDown,
  onOneLine,
  otherLineEnds,
  renamed,
  added,
  wrapped,
  type Texts,
} from '../testing/harmless.js';
import { useGrammars } from '../testing/project.js';

const isScene = (file: string): boolean => file.endsWith('.scene.json');

const CHANGES: Record<string, (texts: Texts) => Texts> = {
  'keys in another order': keysReversed,
  'lists without meaning in another order': (texts) => listsReversed(texts, ['parts', 'labels', 'wires', 'changes']),
  'another layout': laidOutAnew,
  'all on one line': onOneLine,
  'lines of data moved down': movedDown,
  'files in another order': filesReversed,
  'other line ends': otherLineEnds,
  'comments and empty lines': commented,
  'things added that have to do with nothing': (texts) =>
    added(texts, {
      'pictures/lily.svg': '<svg/>',
      'scripts/basin/lily.ts':
        'export class Lily {\n  leaves = 3;\n  float(): number {\n    return this.leaves;\n  }\n}\n',
      'data/pads.yaml': 'rows:\n  - code: lily-pad\n    name: Lily pad\n',
    }),
  'scenes put into groups': (texts) => wrapped(texts, isScene),
};

/** A finding as it must stay: what it says of places in the tree may change. */
const told = ({ check, severity, fingerprint, places }: Finding): string =>
  `${check} ${severity} ${fingerprint} ${places}`;

describe('harmless changes of the sample', () => {
  beforeAll(useGrammars);
  const { plan, texts } = sampleFiles();

  for (const [what, change] of Object.entries(CHANGES))
    it(`such as ${what} leave every finding as it is`, () => {
      const before = analyseTexts(plan, texts).findings;
      const after = analyseTexts(plan, change(texts)).findings;
      expect(after.map(told).sort()).toEqual(before.map(told).sort());
    });

  it('such as new names in every place leave every finding as it is', () => {
    const before = analyseTexts(plan, texts).findings;
    const names = namesIn(texts, before);
    expect(names.length).toBeGreaterThan(80);
    const after = analyseTexts(plan, renamed(texts, new Map(names.map((name) => [name, `${name}Quoin`])))).findings;
    // A fingerprint may be made of a name that nobody reads in the sentence.
    const said = ({ check, severity, places, sentence }: Finding): string =>
      `${check} ${severity} ${places} ${plain(sentence)}`;
    expect(after.map(said).sort()).toEqual(before.map(said).sort());
  });
});

/** Names and identities of objects, and events, that neither a finding nor the plan speaks of. */
function namesIn(texts: Texts, findings: readonly Finding[]): string[] {
  const names = new Set<string>();
  for (const [file, text] of texts) {
    if (file === PLAN_FILE || !/\.(json|ts|lua)$/.test(file)) continue;
    for (const [, name] of text.matchAll(/"(?:name|id)": "([^"{}]{4,})"/g)) names.add(name);
    for (const [, event] of text.matchAll(/bells\.(?:ring|hear)\('([^']+)'/g)) names.add(event);
  }
  const spoken = `${findings.map((one) => JSON.stringify(one)).join('\n')}\n${texts.get(PLAN_FILE)}`;
  // A type may be called like an object, and a house rule ties it to its file; a plain word may stand for much else, and a
  // numbered name may be made up in code.
  return [...names].filter(
    (name) =>
      /^(?=.*[\p{Lu} .-]).*\P{N}$/u.test(name) &&
      !spoken.includes(name) &&
      ![...texts.values()].some((text) => text.includes(`class ${name}`)),
  );
}
