/**
 * A server under siege: hostile projects are opened beside a good one, which must go on being answered for. The same specs
 * run with every test run, small, and large with `npm run siege`.
 */
import { mkdtempSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { plantedFaults } from '@glue-trace/core/planted-faults';
import type { FindingPage, ProjectView } from './api.js';
import { HOSTILE, ProjectFolder } from './testing/hostile-projects.js';
import { SampleServer } from './testing/sample-server.js';

const IS_LONG = process.env['GLUE_SIEGE'] === 'long';
const PAGES = [
  'findings?limit=50',
  'readiness',
  'plan',
  'reading',
  'twins',
  'families',
  'trace?piece=event:rope.tight',
  'pieces?text=gate',
];
const PLANTED = plantedFaults().faults.length;

describe('a server', () => {
  let server: SampleServer;
  let base: string;
  /** In milliseconds, of all answers while hostile projects were opened and scanned. */
  const waits: number[] = [];

  beforeAll(async () => {
    server = await new SampleServer().start();
    base = mkdtempSync(join(server.base, 'hostile-'));
  });
  afterAll(async () => {
    await server.end();
  });

  /** Says how long answers took since this was said last. */
  function tellWaits(during: string): void {
    const sorted = waits.splice(0).sort((a, b) => a - b);
    const at = (share: number): string => (sorted[Math.floor(share * (sorted.length - 1))] ?? 0).toFixed(0);
    const words = `${sorted.length} answers, half of them within ${at(0.5)} ms, 95 % within ${at(0.95)}, the longest ${at(1)}`;
    process.stdout.write(`${during}: ${words}\n`);
  }

  /** Asks for the good project until something is over: its answers must stay what they are. */
  async function answersUntil(over: Promise<unknown>): Promise<void> {
    let isOver = false;
    void over.finally(() => (isOver = true)).catch(() => undefined);
    do {
      const started = performance.now();
      const { status, body } = await server.call<FindingPage>('GET', '/api/projects/1/findings?limit=1');
      const plan = await server.call('GET', '/api/projects/1/plan');
      waits.push(performance.now() - started);
      expect([status, body.total, plan.status]).toEqual([200, PLANTED, 200]);
      await new Promise((resolve) => setTimeout(resolve, 20));
    } while (!isOver);
  }

  it('with many clients answers them all while it scans', async () => {
    const [clients, scans] = IS_LONG ? [50, 20] : [10, 2];
    let isOver = false;
    const client = async (number: number): Promise<number> => {
      let answers = 0;
      while (!isOver) {
        const url = PAGES[(number + answers) % PAGES.length]!;
        const started = performance.now();
        const { status } = await server.call('GET', `/api/projects/1/${url}`);
        waits.push(performance.now() - started);
        expect(status).withContext(url).toBe(200);
        answers++;
      }
      return answers;
    };
    const all = Promise.all(Array.from({ length: clients }, (_, number) => client(number)));
    for (let at = 0; at < scans; at++) expect((await server.scanAgain()).lastScan!.state).toBe('done');
    isOver = true;
    for (const answers of await all) expect(answers).toBeGreaterThan(0);
    if (IS_LONG) tellWaits(`${clients} clients during ${scans} scans`);
  });

  for (const [number, { name, sizes, make, refusedWith = [] }] of HOSTILE.entries())
    it(`with a hostile project ${name} answers for the others, and ends with a result or a reason`, async () => {
      const folder = join(base, String(number));
      make(new ProjectFolder(folder), sizes[IS_LONG ? 1 : 0]);
      const started = performance.now();
      const opened = (async (): Promise<ProjectView> => {
        const { status, body } = await server.call<ProjectView>('POST', '/api/projects', { folder });
        expect(status).toBe(201);
        return server.settled(body.id);
      })();
      await answersUntil(opened);
      const { id, plan, planError, lastScan } = await opened;
      const ended = lastScan?.error?.code ?? lastScan?.state ?? plan;
      const seconds = ((performance.now() - started) / 1000).toFixed(1);
      if (IS_LONG) tellWaits(`${name}: ${ended} after ${seconds} s`);
      const isRefused = plan === 'broken' && planError !== null;
      expect(refusedWith.length > 0 && isRefused ? 'refused' : ended).toBe(
        refusedWith.length > 0 && isRefused ? 'refused' : 'done',
      );
      // The pages of the hostile project are told as well.
      for (const page of ['reading', 'findings?limit=50', 'plan', 'twins', 'families', 'readiness']) {
        const { status, body } = await server.call('GET', `/api/projects/${id}/${page}`);
        expect(status)
          .withContext(page + JSON.stringify(body).slice(0, 300))
          .toBeLessThan(500);
      }
      expect((await server.call('DELETE', `/api/projects/${id}`)).status).toBe(204);
      rmSync(folder, { recursive: true, force: true });
    });
});
