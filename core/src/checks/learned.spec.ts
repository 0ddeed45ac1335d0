/** Findings that rest on learned rules are told as firmly as those are sure. */
import { plain } from '../model/finding.js';
import { PLAN, scan, scene, useGrammars, type Files } from '../testing/project.js';

const RULE = 'files.data.references.boats';
const data = {
  match: 'data/*',
  as: 'data asset',
  pieces: { rows: { at: '$.rows[*]', kind: 'record', id: '$.id' } },
  references: { boats: { at: '$.for[*]', by: 'id' } },
};
const BOATS = Array.from({ length: 40 }, (_, at) => `b${at}`);
const files = (...lost: string[]): Files => ({
  'data/boats.json': { rows: BOATS.map((id) => ({ id })) },
  'data/tolls.json': { for: [...BOATS, ...lost] },
  'scenes/a.json': scene({ name: 'Weir' }),
});
const scanned = (sure: number | undefined, ...lost: string[]): ReturnType<typeof scan> =>
  scan(files(...lost), {
    files: { ...PLAN.files, data },
    ...(sure !== undefined && { learned: { rules: { [RULE]: { sure, of: 41, leads: 40 } } } }),
  });

describe('findings that rest on learned rules', () => {
  beforeAll(useGrammars);

  it('are errors as long as the rule is sure and nearly all of it leads somewhere, and say how they are known', () => {
    const { findings, readiness } = scanned(0.97, 'b99');
    expect(findings.map(({ check, severity }) => [check, severity])).toEqual([['broken/missing-object', 'error']]);
    expect(findings[0].sure).toContain('nobody has looked at it: 40 of 41 lead somewhere, it is 97 % sure.');
    expect(readiness.learned).toEqual({ rules: 1, unsure: 0, findings: 1 });
  });
  it('are warnings where the rule is less sure, or less of it leads somewhere, and notes where it is a guess', () => {
    expect(scanned(0.9, 'b99').findings.map(({ severity }) => severity)).toEqual(['warning']);
    expect(scanned(0.97, 'x1', 'x2', 'x3').findings.map(({ severity }) => severity)).toEqual([
      'warning',
      'warning',
      'warning',
    ]);
    expect(scanned(0.6, 'b99').findings.map(({ severity }) => severity)).toEqual(['note']);
    expect(scanned(0.9, 'b99').readiness.learned!.unsure).toBe(1);
  });
  it('are told as the least sure of the rules lets them that read one place', () => {
    const { findings } = scan(files('b99'), {
      files: {
        ...PLAN.files,
        data: { ...data, references: { ...data.references, all: { at: '$.for[*]', by: 'name' } } },
      },
      learned: {
        rules: {
          [RULE]: { sure: 0.99, of: 41, leads: 40 },
          'files.data.references.all': { sure: 0.6, of: 41, leads: 41 },
        },
      },
    });
    expect(findings.some(({ severity }) => severity === 'error')).toBeFalse();
  });
  it('are warnings where things of two learned rules are called alike, since they may be of two sorts', () => {
    const rule = (match: string): object => ({
      match,
      as: 'data asset',
      pieces: { rows: { at: '$.rows[*]', kind: 'record', id: '$.id', space: 'all' } },
    });
    const severities = (learned: object): string[] =>
      scan(
        { ...files(), 'more/a.json': { rows: [{ id: 'b1' }, { id: 'c1' }, { id: 'c1' }] } },
        { files: { ...PLAN.files, data: rule('data/*'), more: rule('more/*') }, learned },
      ).findings.map(({ sentence, severity }) => `${plain(sentence).slice(0, 2)} ${severity}`);
    const sure = { sure: 0.99, of: 40, leads: 40 };
    expect(severities({}).sort()).toEqual(['b1 error', 'c1 error']);
    expect(severities({ rules: { 'files.data.pieces.rows': sure, 'files.more.pieces.rows': sure } }).sort()).toEqual([
      'b1 warning',
      'c1 error',
    ]);
  });
  it('are warnings where something of another sort is known by that text', () => {
    const severities = (more: object): string[] =>
      scan(
        { ...files('c1'), 'more/a.json': { rows: [{ id: 'c1' }] } },
        {
          files: {
            ...PLAN.files,
            data: {
              ...data,
              pieces: { rows: { ...data.pieces.rows, space: 'boats' } },
              references: { boats: { ...data.references.boats, space: 'boats' } },
            },
            more: {
              ...data,
              match: 'more/*',
              pieces: { rows: { ...data.pieces.rows, space: 'crews' } },
              references: {},
            },
          },
          ...more,
        },
      )
        .findings.filter(({ check }) => check === 'broken/missing-object')
        .map(({ severity }) => severity);
    expect(severities({})).toEqual(['error']);
    expect(severities({ learned: { rules: { [RULE]: { sure: 0.97, of: 41, leads: 40 } } } })).toEqual(['warning']);
  });
  it('are warnings where a file stands there with another ending', () => {
    const there = BOATS.map((name) => `p/${name}.png`);
    const severities = (other: string): string[] =>
      scan(
        {
          'data/a.json': { pictures: [...there, 'p/gate.png'] },
          ...Object.fromEntries([...there, other].map((path) => [path, ''])),
        },
        {
          files: {
            data: { match: 'data/*', as: 'data asset', references: { p: { at: '$.pictures[*]', by: 'path' } } },
          },
          learned: { rules: { 'files.data.references.p': { sure: 0.99, of: 41, leads: 40 } } },
        },
      )
        .findings.filter(({ check }) => check === 'broken/missing-file')
        .map(({ severity }) => severity);
    expect(severities('p/weir.ktx')).toEqual(['error']);
    expect(severities('p/gate.ktx')).toEqual(['warning']);
    expect(severities('q/gate.ktx')).toEqual(['error']);
  });
  it('are as any others once somebody took the rule', () => {
    const { findings, readiness } = scanned(undefined, 'b99');
    expect(findings.map(({ severity }) => severity)).toEqual(['error']);
    expect(findings[0].sure).not.toContain('learned');
    expect(plain(findings[0].sentence)).toContain('b99');
    expect(readiness.learned).toBeUndefined();
  });
});
