import { cpSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { compareTrial, type Analysis } from '@glue-trace/core';
import { parsePlan } from '../plans/plan-files.js';
import { openSession, scanFolder, type ScanResult, type ScanSession } from './scan-folder.js';

const SAMPLE = fileURLToPath(new URL('../../../samples/sluicekeeper', import.meta.url));

interface Plan {
  calls: { call: string; means: string }[];
  files: Record<string, { references: Record<string, object> }>;
  ignore?: string;
}

describe('trying a plan', () => {
  let folder: string;
  let session: ScanSession;
  let before: ScanResult;
  const planAt = (): string => join(folder, 'glue-trace.json');

  beforeEach(async () => {
    folder = mkdtempSync(join(tmpdir(), 'glue-try-'));
    cpSync(SAMPLE, folder, { recursive: true });
    session = openSession({ folder });
    before = await session.scan();
  });
  afterEach(() => rmSync(folder, { recursive: true, force: true }));

  const changed = (change: (plan: Plan) => void): string => {
    const text = readFileSync(planAt(), 'utf8').replace(/^\s*\/\/.*$/gm, '');
    const plan = JSON.parse(text) as Plan;
    change(plan);
    return JSON.stringify(plan);
  };
  const tried = (text: string): Promise<Analysis> => session.tryPlan(parsePlan(text, planAt()));
  const told = ({ findings, readiness: { links, pieces } }: Analysis): unknown => [
    findings.map(({ fingerprint }) => fingerprint).sort(),
    links,
    pieces,
  ];

  const CHANGES: [string, (plan: Plan) => void][] = [
    ['a row of the call table less', ({ calls }) => void calls.splice(2, 1)],
    ['a row at the end', ({ calls }) => void calls.push({ call: '*.fasten($object)', means: 'destroy' })],
    ['a row that means something else', ({ calls }) => (calls[2]!.means = 'find')],
    [
      'a row for functions of any name',
      ({ calls }) => void calls.unshift({ call: 'stage.$event(...)', means: 'send' }),
    ],
    ['a rule for data less', ({ files }) => void delete files['scenes']!.references['files in slots']],
    [
      'another rule that reads a file',
      (plan) => (plan.files = { first: { match: 'scenes/**', as: 'file' }, ...plan.files } as never),
    ],
  ];
  for (const [words, change] of CHANGES)
    it(`comes to what a scan by it comes to: ${words}`, async () => {
      const text = changed(change);
      const trial = await tried(text);
      writeFileSync(planAt(), text);
      const scanned = await scanFolder({ folder });
      expect(told(trial)).toEqual(told(scanned.analysis));
      expect(told(trial)).not.toEqual(told(before.analysis));
    });

  it('leaves the scan before as it was, and the one after', async () => {
    const first = told(before.analysis);
    await tried(changed(({ calls }) => void calls.splice(0, 8)));
    expect(told(before.analysis)).toEqual(first);
    expect(told((await session.scan()).analysis)).toEqual(first);
  });

  it('says what a rule finds, what leads nowhere first, and what would be otherwise', async () => {
    const find = 'calls: stage.find($name)';
    const without = await tried(changed((plan) => (plan.calls = plan.calls.filter(({ means }) => means !== 'find'))));
    const { rule, come, go, links } = compareTrial(without, before.analysis, find);
    expect(rule).toEqual(jasmine.objectContaining({ key: find, found: 14, lost: 3 }));
    expect(rule!.places[0]!.isLost).toBeTrue();
    expect(rule!.places.at(-1)!.leads).toMatch(/\w/);
    expect(links.after).toBeGreaterThan(links.before);
    expect(come.count).toBeGreaterThan(0);
    expect(come.first[0]!.text).toMatch(/\w/);
    expect(compareTrial(before.analysis, without, find).rule!.found).toBe(0);
    expect(compareTrial(before.analysis, without).go.count).toBe(come.count);
    expect(go.count).toBe(compareTrial(before.analysis, without).come.count);
  });

  it('finds places of rules of every sort', () => {
    const found = (key: string): number => compareTrial(before.analysis, before.analysis, key).rule!.found;
    for (const key of [
      'files.scenes.pieces.objects',
      'files.scenes.references.files in slots',
      'files.scenes.events.wires',
      'scripts.behaviours.exposed',
      'scripts.behaviours.moments',
    ])
      expect(found(key)).withContext(key).toBeGreaterThan(0);
  });
});
