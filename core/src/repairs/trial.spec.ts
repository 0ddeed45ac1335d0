/** Repairs tried in memory. */
import type { Finding } from '../model/finding.js';
import type { FileFacts } from '../reading/facts.js';
import { readPlan } from '../reading/plan/read-plan.js';
import { analyse } from '../analyse.js';
import { factsOf, PLAN, planOf, scene, carrier, script, useGrammars, type Files } from '../testing/project.js';
import type { Change } from './change.js';
import { repairedText, writingOf } from './repaired.js';
import { editsOfRepair, onlyIn, tryRepairs, type TriedProject, type Verdict } from './trial.js';

const texts = (files: Files): Map<string, string> =>
  new Map(
    Object.entries(files).map(([path, content]) => [
      path,
      typeof content === 'string' ? content : JSON.stringify(content, null, 1),
    ]),
  );

function projectOf(files: Files): TriedProject {
  const plan = planOf({ engine: { ...PLAN.engine, types: ['Behaviour'], members: ['body'] } });
  const { facts, others } = factsOf(files, plan);
  const all = texts(files);
  const findingsOf = (some: FileFacts[]): Finding[] => analyse(some, others, plan).findings;
  return { plan, facts, findings: findingsOf(facts), findingsOf, textOf: (file) => all.get(file)! };
}

/** Verdicts on repairs of findings, each given as `check` and what is written instead. */
function verdicts(files: Files, ...wanted: [check: string, from: string, to: string, at?: number][]): Verdict[] {
  const project = projectOf(files);
  const tried = wanted.map(([check, from, to, at = 0]) => {
    const finding = project.findings.filter((one) => one.check === check)[at];
    const [{ file, range }] = finding.evidence;
    return { finding, changes: [{ is: 'replace', file, range, from, to }] as Change[] };
  });
  return tryRepairs(project, tried);
}

const BOAT: Files = {
  'scripts/own.ts': script('Own', "this.child('Hul').show(); this.child('Clet').show();"),
  'scenes/a.json': scene(carrier('Boat', 'own.ts', { objects: [{ name: 'Hull' }, { name: 'Cleat' }] })),
};
const MISSING = 'broken/missing-object';

describe('a repair that is tried', () => {
  beforeAll(useGrammars);

  it('holds when its finding goes and nothing comes', () => {
    expect(verdicts(BOAT, [MISSING, 'Hul', 'Hull'])).toEqual([undefined]);
  });
  it('does not hold when its finding stays', () => {
    expect(verdicts(BOAT, [MISSING, 'Hul', 'Hul'])).toEqual(['the finding would stay.']);
  });
  it('does not hold when it brings another', () => {
    expect(verdicts(BOAT, [MISSING, 'Hul', 'Keel'])).toEqual([
      'it would bring another finding: Own on a / Boat looks for a child called Keel; Boat has no such child.',
    ]);
  });
  it('does not hold when it cannot be written', () => {
    const [verdict] = verdicts(BOAT, [MISSING, 'Keel', 'Hull']);
    expect(verdict).toContain('“Keel” is not written there as it was');
  });
  it('is told apart from others that are tried with it', () => {
    expect(verdicts(BOAT, [MISSING, 'Hul', 'Hull'], [MISSING, 'Clet', 'Keel', 1])).toEqual([
      undefined,
      'it would bring another finding: Own on a / Boat looks for a child called Keel; Boat has no such child.',
    ]);
    expect(verdicts(BOAT, [MISSING, 'Hul', 'Hull'], [MISSING, 'Clet', 'Cleat', 1])).toEqual([undefined, undefined]);
    expect(verdicts(BOAT, [MISSING, 'Hul', 'Hul'], [MISSING, 'Clet', 'Cleat', 1])).toEqual([
      'the finding would stay.',
      undefined,
    ]);
  });
  it('with another for the same place is tried alone', () => {
    expect(verdicts(BOAT, [MISSING, 'Hul', 'Hull'], [MISSING, 'Hul', 'Cleat'])).toEqual([undefined, undefined]);
  });
  it('does not count when there are too many to be tried', () => {
    const many = Array.from({ length: 80 }, (): [string, string, string] => [MISSING, 'Keel', 'Hull']);
    const told = verdicts(BOAT, ...many);
    expect(told.length).toBe(80);
    expect(told.filter((verdict) => verdict === 'it could not be tried in time.').length).toBeGreaterThan(10);
    expect(told.every((verdict) => verdict !== undefined)).toBe(true);
  });
  describe('of a name that is not written where it is used', () => {
    const OTHERS = {
      'scenes/a.json': scene(carrier('Boat', 'own.ts', { objects: [{ name: 'Cleat' }, { name: 'Hull' }] })),
    };
    /** What the sure repair of the lost child writes, and what comes of it. */
    const mended = (files: Files): { files: string[]; text: string; verdict: Verdict } => {
      const project = projectOf({ ...OTHERS, ...files });
      const finding = project.findings.find(({ check }) => check === MISSING)!;
      const [{ sure, changes = [] }] = finding.repairs;
      expect(sure).toBeTrue();
      const [verdict] = tryRepairs(project, [{ finding, changes }]);
      const [file] = changes.map((change) => change.file);
      const { textOf, plan } = project;
      return {
        files: changes.map((change) => change.file),
        text: verdict === undefined ? repairedText(file, textOf(file), writingOf(plan, file), changes) : '',
        verdict,
      };
    };
    const own = (rest: string): Files => ({ 'scripts/own.ts': `export class Own extends Behaviour { ${rest} }` });
    const forms: [string, Files, string][] = [
      ['a local', own("begin() { const name = 'Cleet'; this.child(name).show(); }"), 'scripts/own.ts'],
      ['an argument', own("begin() { this.take('Cleet'); } take(name) { this.child(name).show(); }"), 'scripts/own.ts'],
      ['a field', own("word = 'Cleet'; begin() { this.child(this.word).show(); }"), 'scripts/own.ts'],
      ['a list', own("begin() { for (const one of ['Cleet', 'Hull']) this.child(one).show(); }"), 'scripts/own.ts'],
      [
        'a constant of another file',
        {
          'scripts/names.ts': "export const CLEAT = 'Cleet';",
          'scripts/own.ts':
            "import { CLEAT } from './names';\nexport class Own extends Behaviour { begin() { this.child(CLEAT).show(); } }",
        },
        'scripts/names.ts',
      ],
      [
        'an enum of another file',
        {
          'scripts/names.ts': 'export enum Names { cleat = "Cleet", hull = "Hull" }',
          'scripts/own.ts':
            "import { Names } from './names';\nexport class Own extends Behaviour { begin() { this.child(Names.cleat).show(); } }",
        },
        'scripts/names.ts',
      ],
    ];
    for (const [what, files, file] of forms)
      it(`such as ${what} is written where it stands`, () => {
        const { files: touched, text, verdict } = mended(files);
        expect([touched, verdict]).toEqual([[file], undefined]);
        expect(text).toBe((files[file] as string).replace('Cleet', 'Cleat'));
      });

    it('is refused where it stands more than once, or nowhere', () => {
      const twice = own("begin() { const name = 'Cleet'; this.tell('Cleet'); this.child(name).show(); } tell(x) {}");
      expect(mended(twice).verdict).toContain('“Cleet” stands there more than once');
    });
  });
  it('counts a repair of some places when as many go', () => {
    const files = {
      'scripts/own.ts': script('Own', "this.child('Hull').show();"),
      'scenes/a.json': scene(
        ...['East', 'West'].map((name) => carrier(name, 'own.ts', { objects: [{ name: 'Hul' }] })),
      ),
    };
    const project = projectOf(files);
    const [finding] = project.findings;
    const [first] = finding.evidence.slice(-1);
    const lines = texts(files).get('scenes/a.json')!.split('\n');
    const line = lines.findIndex((one) => one.includes('"Hul"')) + 1;
    const column = lines[line - 1].indexOf('"Hul"') + 1;
    const range = { line, column, endLine: line, endColumn: column + 5 };
    const changes: Change[] = [{ is: 'replace', file: first.file, range, from: 'Hul', to: 'Hull' }];
    expect(finding.places).toBe(2);
    expect(tryRepairs(project, [{ finding, changes }])).toEqual(['the finding would stay.']);
    expect(tryRepairs(project, [{ finding, changes, mends: 1 }])).toEqual([undefined]);
  });
  it('leaves files alone that are not read as texts', () => {
    const project = projectOf({ ...BOAT, 'data/lamp.png': 'x' });
    const [finding] = project.findings;
    const change: Change = {
      is: 'replace',
      file: 'data/lamp.png',
      range: finding.evidence[0].range,
      from: 'x',
      to: 'y',
    };
    expect(tryRepairs(project, [{ finding, changes: [change] }])).toEqual(['the finding would stay.']);
  });
  it('comes to edits with the places that they take up', () => {
    const plan = readPlan(JSON.stringify({ version: 1, name: 'x' }));
    const range = { line: 2, column: 1, endLine: 2, endColumn: 8 };
    const changes: Change[] = [{ is: 'replace', file: 'a.json', range, from: 'nine', to: 'ten' }];
    expect(editsOfRepair(plan, () => '[\n"nine"]', changes)).toEqual([
      { file: 'a.json', edits: [{ range: { line: 2, column: 2, endLine: 2, endColumn: 6 }, text: 'ten' }] },
    ]);
  });
});

describe('findings of one list alone', () => {
  const finding = (check: string, file: string, fingerprint: string): Finding =>
    ({ check, fingerprint, evidence: [{ file }] }) as Finding;

  it('are those that the other list has under no name', () => {
    const [a, b] = [finding('x', 'a.ts', '1'), finding('x', 'b.ts', '2')];
    expect(onlyIn([a, b], [a])).toEqual([b]);
    // A type that gets another name is the same one: one finding goes, and one of its kind comes.
    expect(onlyIn([a, finding('x', 'b.ts', '3')], [a, b])).toEqual([]);
    expect(onlyIn([finding('x', 'b.ts', '3'), finding('x', 'b.ts', '4')], [b]).length).toBe(1);
    expect(onlyIn([finding('y', 'b.ts', '3')], [b]).length).toBe(1);
  });
});
