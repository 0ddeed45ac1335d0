/** Findings that are accepted on purpose: by waivers of the team's file, and by lines of the files themselves. */
import type { GlueError } from '../model/errors.js';
import type { Finding } from '../model/finding.js';
import { marksIn } from '../reading/waiver-marks.js';
import { readPlan } from '../reading/plan/read-plan.js';
import { readFile } from '../reading/read-file.js';
import { ruleFor } from '../reading/read-structured.js';
import { useGrammars } from '../testing/project.js';
import { decided, readWaivers, waiversText, type Waiver } from './waivers.js';

const finding = (fingerprint: string, check: string, file: string, line = 3): Finding =>
  ({
    ...{ fingerprint, check, files: [file], severity: 'error', places: 1, pieces: [] },
    evidence: [{ file, range: { line, column: 1, endLine: line, endColumn: 2 }, shows: 'it' }],
  }) as unknown as Finding;
const ALL = [
  finding('aaaaaaaa', 'broken/missing-file', 'scenes/weir.json'),
  finding('bbbbbbbb', 'fragile/polling', 'scripts/gate.ts'),
  finding('cccccccc', 'fragile/hub', 'scripts/old/crane.ts'),
];
const TODAY = '2026-06-15';
const waived = (...waivers: Waiver[]): string[] =>
  decided(ALL, waivers, [], TODAY).findings.flatMap((one) =>
    one.waived ? [`${one.fingerprint} ${one.waived.reason}`] : [],
  );
const codeOf = (run: () => unknown): [string, (number | undefined)[]] | undefined => {
  try {
    run();
    return undefined;
  } catch (error) {
    return [(error as GlueError).code, (error as GlueError).mistakes.map(({ line }) => line)];
  }
};

describe('waivers', () => {
  it('match a finding, a check, a family, and all of it at a place', () => {
    const reason = 'so';
    expect(waived({ finding: 'aaaaaaaa', reason })).toEqual(['aaaaaaaa so']);
    expect(waived({ check: 'fragile/polling', reason })).toEqual(['bbbbbbbb so']);
    expect(waived({ check: 'fragile/*', reason })).toEqual(['bbbbbbbb so', 'cccccccc so']);
    expect(waived({ check: 'fragile/*', in: 'scripts/old/**', reason })).toEqual(['cccccccc so']);
    expect(waived({ finding: 'dddddddd', reason }, { check: 'frag', reason }, { check: 'twin/*', reason })).toEqual([]);
  });
  it('at a place count only for what stands there with all its places', () => {
    const two = { ...ALL[1], files: ['scripts/gate.ts', 'tools/gate.ts'] };
    const { findings } = decided([two], [{ check: 'fragile/polling', in: 'scripts/**', reason: 'so' }], [], TODAY);
    expect(findings[0]?.waived).toBeUndefined();
  });
  it('count up to their last day; what is said longest ago is told when all have ended', () => {
    const until = (day: string): Waiver => ({ finding: 'aaaaaaaa', reason: day, until: day });
    expect(waived(until('2026-06-15'))).toEqual(['aaaaaaaa 2026-06-15']);
    expect(waived(until('2026-06-14'))).toEqual([]);
    expect(waived(until('2026-06-14'), until('2026-07-01'))).toEqual(['aaaaaaaa 2026-07-01']);
    const { findings, idle } = decided(ALL, [until('2026-01-01'), until('2026-06-14')], [], TODAY);
    expect(findings[0]?.waiverEnded).toEqual({ reason: '2026-06-14', until: '2026-06-14' });
    expect(idle).toEqual([]);
  });
  it('that match nothing are listed, and what was decided before is decided anew', () => {
    const gone: Waiver = { finding: 'dddddddd', reason: 'so' };
    const first = decided(ALL, [gone, { finding: 'aaaaaaaa', reason: 'so' }], [], TODAY);
    expect(first.idle).toEqual([gone]);
    expect(decided(first.findings, [], [], TODAY).findings).toEqual(ALL);
  });

  it('are written in one order, and read as they were written', () => {
    const [one, two]: Waiver[] = [
      { finding: 'bbbbbbbb', check: 'fragile/polling', says: 'It “polls”', reason: 'Later.', until: '2026-12-24' },
      { check: 'broken/*', in: 'old/**', reason: 'It goes.', by: 'Ada', on: '2026-03-02' },
    ] as [Waiver, Waiver];
    expect(waiversText([one, two])).toBe(waiversText([two, one]));
    expect(readWaivers(waiversText([one, two]))).toEqual([two, one]);
    expect(readWaivers('')).toEqual([]);
    expect(readWaivers('{ "waivers": [ /* none yet */ ] }')).toEqual([]);
  });
  it('with mistakes are refused with each line', () => {
    const text = `{ "waivers": [\n{ "finding": "aaaaaaaa" },\n{ "reason": "x" },\n{ "check": "a", "reason": "x", "until": "soon" },\n{ "check": "a", "reason": "x", "untill": "2026-01-01" }\n] }`;
    expect(codeOf(() => readWaivers(text))).toEqual(['waivers/invalid', [2, 3, 4, 5]]);
    expect(codeOf(() => readWaivers('{ "waivers": ['))?.[0]).toBe('waivers/invalid');
    expect(codeOf(() => readWaivers('[]'))?.[0]).toBe('waivers/invalid');
    expect(codeOf(() => readWaivers('['.repeat(100_000)))?.[0]).toBe('waivers/invalid');
  });
});

describe('lines that waive', () => {
  beforeAll(useGrammars);
  const of = (text: string): unknown[] =>
    marksIn(text, ['glue: fine']).map(({ line, check, reason, until }) => [line, check, reason, until]);

  it('are about their own line, or about the next where they stand alone', () => {
    expect(of('a();\nb(); // glue: fine, it is gone by then')).toEqual([
      [2, undefined, 'it is gone by then', undefined],
    ]);
    expect(of('a();\n  // glue: fine – later\nb();')).toEqual([[3, undefined, 'later', undefined]]);
    expect(of('-- glue: fine\nb()')).toEqual([[2, undefined, 'the line itself says so', undefined]]);
    expect(of('# glue: fine: x\r\nb()')).toEqual([[2, undefined, 'x', undefined]]);
  });
  it('may name a check and a day, in any comment', () => {
    expect(of('<!-- glue: fine broken/missing-file: drawn by hand, until 2026-12-24 -->')).toEqual([
      [2, 'broken/missing-file', 'drawn by hand', '2026-12-24'],
    ]);
    expect(of('x(); /* glue: fine (until 2026-12-24) */')).toEqual([
      [1, undefined, 'the line itself says so', '2026-12-24'],
    ]);
  });
  it('are read from scripts and data where the plan names them, and only there', () => {
    const plan = (waived?: string): ReturnType<typeof readPlan> =>
      readPlan(
        JSON.stringify({
          ...{ version: 1, name: 'Flight' },
          files: { rows: { match: '**/*.yaml', as: 'data asset' } },
          scripts: { lua: { match: '**/*.lua', language: 'lua' } },
          ...(waived && { waived }),
        }),
      );
    const read = (path: string, text: string, mark?: string): unknown => {
      const used = plan(mark);
      const rule = ruleFor(used, path);
      return rule && readFile(path, text, rule, used).waivers;
    };
    const mark = { line: 1, reason: 'by hand' };
    expect(read('a.lua', 'go() -- glue: fine by hand', 'glue: fine')).toEqual([mark]);
    expect(read('a.yaml', 'a: 1 # glue: fine by hand', 'glue: fine')).toEqual([mark]);
    expect(read('a.lua', 'go() -- glue: fine by hand')).toBeUndefined();
    expect(
      decided(
        [
          finding('aaaaaaaa', 'broken/missing-file', 'a.lua', 1),
          finding('bbbbbbbb', 'broken/missing-file', 'a.lua', 2),
        ],
        [],
        [{ file: 'a.lua', waivers: [mark] } as never],
        TODAY,
      ).findings.map((one) => one.waived),
    ).toEqual([{ reason: 'by hand', isInFile: true }, undefined]);
  });
});
