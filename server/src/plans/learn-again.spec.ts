import { cpSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { decide, withProposals } from '@glue-trace/core';
import { learnBeside, type LearnedAgain } from './learn-again.js';

const SAMPLE = fileURLToPath(new URL('../../../samples/sluicekeeper', import.meta.url));

interface Plan {
  calls: { call: string }[];
  files: Record<string, { references?: Record<string, Record<string, unknown>> }>;
  learned?: { refused?: string[]; rules?: Record<string, object> };
}

/** The sample with a plan that was changed. */
describe('learning beside a plan that stands', () => {
  let folder: string;
  const planAt = (): string => join(folder, 'glue-trace.json');
  const textNow = (): string => readFileSync(planAt(), 'utf8');

  beforeEach(() => {
    folder = mkdtempSync(join(tmpdir(), 'glue-again-'));
    cpSync(SAMPLE, folder, { recursive: true });
  });
  afterEach(() => rmSync(folder, { recursive: true, force: true }));

  const change = (how: (plan: Plan) => void): void => {
    const plan = JSON.parse(textNow().replace(/^\s*\/\/.*$/gm, '')) as Plan;
    how(plan);
    writeFileSync(planAt(), JSON.stringify(plan, null, 2));
  };
  const keys = ({ fresh }: LearnedAgain): string[] => fresh.map(({ key }) => key);
  /** The one call that the sample's own plan says nothing of. */
  const OPEN = 'calls: *.row($id)';

  it('proposes nothing that the plan says, however it says it', async () => {
    const again = await learnBeside(folder);
    expect([keys(again), again.failing]).toEqual([[OPEN], []]);
  });

  it('proposes rules for fields, calls and files of which the plan says nothing, so that they hold in it', async () => {
    change(({ calls, files }) => {
      calls.splice(
        calls.findIndex(({ call }) => call === 'stage.find($name)'),
        1,
      );
      calls.splice(
        calls.findIndex(({ call }) => call.startsWith('bells.hear')),
        1,
      );
      delete files['passages']!.references;
      delete files['tables'];
    });
    const again = await learnBeside(folder);
    expect(keys(again)).toEqual(
      jasmine.arrayWithExactContents([
        OPEN,
        'calls: stage.find($name)',
        'calls: bells.hear($event, $handler)',
        'files.passages.references.from',
        'files.passages.references.to',
        'files.data',
        'files.data 2',
      ]),
    );
    const whole = again.fresh.find(({ key }) => key === 'files.data')!;
    expect(whole.says).toMatch(/^nothing reads \d+ files such as data\//);
    expect(again.inner.map(({ key }) => key)).toContain('files.data.pieces.rows');
    // All of it taken, nothing is left; what was inside of rules for files is told as learned.
    writeFileSync(planAt(), withProposals(again.text, again.fresh));
    expect(textNow()).toContain('"files.data.pieces.rows"');
    expect(keys(await learnBeside(folder))).toEqual([]);
  });

  it('proposes nothing that was refused', async () => {
    writeFileSync(planAt(), decide(textNow(), { take: [], refuse: [OPEN] }));
    expect(keys(await learnBeside(folder))).toEqual([]);
  });

  it('tells rules that do not hold, with what stands there instead', async () => {
    change(({ files }) => (files['passages']!.references!['scenes']!['by'] = 'name'));
    const { failing, fresh } = await learnBeside(folder);
    expect(failing.length).toBe(1);
    const [{ key, of, leads, misses, rule, instead }] = failing as [LearnedAgain['failing'][number]];
    expect([key, leads]).toEqual(['files.passages.references.scenes', 0]);
    expect(misses.length).toBeGreaterThan(0);
    expect(JSON.parse(rule)).toEqual(jasmine.objectContaining({ by: 'name' }));
    expect(instead).toEqual(
      jasmine.objectContaining({ leads: instead!.of, rule: jasmine.objectContaining({ by: 'id' }) }),
    );
    expect(instead!.of).toBeLessThanOrEqual(of);
    // A place of which the plan says something, be it wrong, is nothing new.
    expect(fresh.map((one) => one.key)).toEqual([OPEN]);
  });
});
