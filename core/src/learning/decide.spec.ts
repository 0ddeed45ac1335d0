/** Learned rules that people take or refuse, in the text of a plan. */
import { CHECK_IDS } from '../checks/registry.js';
import { readPlan } from '../reading/plan/read-plan.js';
import { decide, rulesOf } from './decide.js';

const TEXT = `{
  // Ours.
  "version": 1,
  "name": "Flight",
  "files": {
    "old boats.v2": {
      "match": "data/*.json",
      "as": "data asset",
      "references": {
        "crew": {
          // 7 of 8 lead somewhere
          "at": "$.crew", "by": "id"
        },
        "berth": { "at": "$.berth", "by": "id" } // by hand
      }
    }
  },
  "calls": [
    { "call": "stage.find($name)", "means": "find" },
    { "call": "stage.enter($scene)", "means": "load" }
  ],
  "learned": {
    "rules": {
      "files.old boats.v2.references.crew": { "sure": 0.97, "of": 8, "leads": 7 },
      "calls: stage.enter($scene)": { "sure": 0.8, "of": 3, "leads": 3 }
    }
  }
}
`;
const CREW = 'files.old boats.v2.references.crew';
const ENTER = 'calls: stage.enter($scene)';

describe('learned rules', () => {
  it('that are taken are rules like any other, and nothing else changes', () => {
    const text = decide(TEXT, { take: [CREW], refuse: [] });
    const plan = readPlan(text, CHECK_IDS);
    expect(Object.keys(plan.learned.rules)).toEqual([ENTER]);
    expect(text.slice(0, text.indexOf('"learned"'))).toBe(TEXT.slice(0, TEXT.indexOf('"learned"')));
  });
  it('that are refused go, with what was said of them, and are remembered once', () => {
    const text = decide(decide(TEXT, { take: [], refuse: [CREW, ENTER] }), { take: [], refuse: [CREW] });
    const plan = readPlan(text, CHECK_IDS);
    expect(Object.keys(plan.files['old boats.v2'].references)).toEqual(['berth']);
    expect(plan.calls.map(({ call }) => call)).toEqual(['stage.find($name)']);
    expect(plan.learned).toEqual({ rules: {}, refused: [CREW, ENTER] });
    expect(text).toContain('// Ours.');
    expect(text).toContain('// by hand');
    expect(text).not.toContain('7 of 8');
  });
  it('that are meant otherwise are put in their place, and those that the plan lacks beside the others', () => {
    const put = [
      { key: CREW, rule: { at: '$.crew', by: 'name', space: 'crew' } },
      { key: 'files.old boats.v2.references.cargo', rule: { at: '$.cargo', by: 'path' } },
      { key: 'calls: ship.give($id)', rule: { call: 'ship.give($id)', means: 'refer', target: { by: 'id' } } },
      { key: 'files.gone.references.cargo', rule: { at: '$.cargo' } },
    ];
    const text = decide(TEXT, { take: [], refuse: [], put });
    const plan = readPlan(text, CHECK_IDS);
    const { references } = plan.files['old boats.v2'];
    expect(Object.entries(references).map(([key, { by }]) => `${key} ${by}`)).toEqual([
      'crew name',
      'berth id',
      'cargo path',
    ]);
    expect(plan.calls.map(({ call }) => call).at(-1)).toBe('ship.give($id)');
    expect(Object.keys(plan.learned.rules)).toEqual([ENTER]);
  });
  it('are passed over when the plan does not have them', () => {
    expect(decide(TEXT, { take: ['files.gone'], refuse: [] })).toBe(TEXT);
  });
  it('are found by their keys, whatever stands in their names', () => {
    const ruleAt = rulesOf(TEXT);
    expect(ruleAt(CREW)).toEqual({ at: '$.crew', by: 'id' });
    expect(ruleAt(ENTER)).toEqual({ call: 'stage.enter($scene)', means: 'load' });
    expect(ruleAt('files.old boats.v2.references.gone')).toBeUndefined();
  });
});
