/** Waivers, routes, scans beside each other and reports, over the API and as files of the project. */
import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { gitIn } from '@glue-trace/core/git-in';
import { itemAt } from '@glue-trace/core';
import type { ComparisonView, FindingPage, ReadinessPage, RouteView, ScanView, WaiverView } from '../api.js';
import { OWN, SampleServer } from '../testing/sample-server.js';
import { today } from './waivers-file.js';

const API = '/api/projects/1';

describe('what a team decides', () => {
  let server: SampleServer;
  beforeEach(async () => (server = await new SampleServer().start()));
  afterEach(() => server.end());

  const page = (query = ''): Promise<FindingPage> => server.read<FindingPage>(`${API}/findings${query}`);
  const waive = (body: object) => server.call<{ waived: number; code: string }>('POST', `${API}/waivers`, body);
  const file = (): string => readFileSync(join(server.folder, 'glue-trace.waivers.json'), 'utf8');

  it('waives findings at once, in a file of the project, and takes it back', async () => {
    const before = await page();
    const [first, second] = [itemAt(before.rows, 0), itemAt(before.rows, 1)];
    const answer = await waive({
      findings: [first.fingerprint, second.fingerprint],
      reason: 'The quay is rebuilt.',
      by: 'Ada',
      until: '2999-12-31',
    });
    expect([answer.status, answer.body.waived]).toEqual([201, 2]);
    const after = await page();
    expect([after.total, after.waived]).toEqual([before.total - 2, 2]);
    expect((await page('?waived=only')).rows.map(({ fingerprint }) => fingerprint)).toEqual([
      first.fingerprint,
      second.fingerprint,
    ]);
    expect((await page('?waived=with')).total).toBe(before.total);
    const { readiness } = await server.read<ReadinessPage>(`${API}/readiness`);
    expect(readiness.waived).toBe(2);
    expect(JSON.parse(file())).toEqual({
      waivers: jasmine.arrayWithExactContents(
        [first, second].map(({ fingerprint, check, text }) => ({
          ...{
            check,
            finding: fingerprint,
            says: text,
            reason: 'The quay is rebuilt.',
            by: 'Ada',
            on: today(),
            until: '2999-12-31',
          },
        })),
      ),
    });
    const back = await server.call<{ waived: number }>('DELETE', `${API}/waivers`, { findings: [first.fingerprint] });
    expect(back.body.waived).toBe(1);
    expect((await page()).total).toBe(before.total - 1);
  });

  it('waives all of a check at a place, and says which waivers match nothing any more', async () => {
    const { byCheck } = await page();
    const hub = byCheck.find(({ check }) => check === 'fragile/polling')!;
    await waive({ findings: [], check: 'fragile/polling', in: 'scripts/**', reason: 'Later.' });
    await waive({ findings: [], check: 'broken/*', in: 'nowhere/**', reason: 'Never.' });
    const list = await server.read<WaiverView[]>(`${API}/waivers`);
    expect(list.map(({ check, state }) => [check, state])).toEqual([
      ['broken/*', 'idle'],
      ['fragile/polling', 'in force'],
    ]);
    expect((await page('?waived=only')).total).toBe(hub.count);
    const one = itemAt((await page('?waived=only')).rows, 0).fingerprint;
    const refused = await server.call<{ code: string; detail: string }>('DELETE', `${API}/waivers`, {
      findings: [one],
    });
    expect([refused.status, refused.body.code]).toEqual([409, 'waivers/changed']);
    expect((await server.read<ReadinessPage>(`${API}/readiness`)).idleWaivers).toBe(1);
    await server.call('DELETE', `${API}/waivers`, { at: [0, 1] });
    expect(JSON.parse(file())).toEqual({ waivers: [] });
    expect((await page()).waived).toBe(0);
  });

  it('lets waivers end, and says so', async () => {
    const first = itemAt((await page()).rows, 0);
    const waivers = [{ finding: first.fingerprint, reason: 'Until the fair.', until: '2020-01-31' }];
    writeFileSync(join(server.folder, 'glue-trace.waivers.json'), JSON.stringify({ waivers }));
    await server.scanAgain();
    const finding = await server.read<object>(`${API}/findings/${first.fingerprint}`);
    expect(finding).toEqual(
      jasmine.objectContaining({ waiverEnded: { reason: 'Until the fair.', until: '2020-01-31' } }),
    );
    expect((await page()).waived).toBe(0);
    expect(itemAt(await server.read<WaiverView[]>(`${API}/waivers`), 0).state).toBe('ended');
  });

  it('refuses waivers without a reason, of the past, and of nothing; a file with mistakes stops the scan by name', async () => {
    const first = itemAt((await page()).rows, 0);
    for (const body of [
      { findings: [first.fingerprint], reason: ' ' },
      { findings: [first.fingerprint], reason: 'x', until: '2020-01-01' },
      { findings: [], reason: 'x' },
    ])
      expect((await waive(body)).status).toBe(400);
    expect((await waive({ findings: ['abcdef0123456789'], reason: 'x' })).status).toBe(404);
    writeFileSync(join(server.folder, 'glue-trace.waivers.json'), '{ "waivers": [{ "finding": "abcdef01" }] }');
    const answer = await waive({ findings: [first.fingerprint], reason: 'x' });
    expect([answer.status, answer.body.code]).toEqual([422, 'waivers/invalid']);
  });

  it('saves routes by name, and speaks for what lies on them', async () => {
    const routes = await server.read<RouteView[]>(`${API}/routes`);
    expect(routes.map(({ name, isDefault }) => [name, isDefault])).toEqual([['start', true]]);
    const put = await server.call<RouteView[]>('PUT', `${API}/routes/friday`, {
      from: ['scenes/summit-basin.scene.json'],
      note: 'The fair',
    });
    expect(put.body.map(({ name }) => name)).toEqual(['start', 'friday']);
    const whole = await page();
    const friday = await page('?route=friday');
    expect(friday.total).toBeLessThan(whole.total);
    const { readiness, route } = await server.read<ReadinessPage>(`${API}/readiness?route=friday`);
    expect(route!.off).toBe(whole.total - friday.total);
    expect(Object.values(readiness.bySeverity).reduce((sum, one) => sum + one)).toBe(friday.total);
    expect(readiness.pieces).toBeLessThan(route!.pieces);
    const unknown = await server.call<{ code: string }>('PUT', `${API}/routes/later`, { from: ['scenes/gone.json'] });
    expect(unknown.body.code).toBe('piece/unknown');
    expect((await server.call<{ code: string }>('GET', `${API}/findings?route=later`)).body.code).toBe('route/unknown');
    expect((await server.call<RouteView[]>('DELETE', `${API}/routes/friday`)).body.length).toBe(1);
    expect((await server.call('DELETE', `${API}/routes/friday`)).status).toBe(404);
    // Names that every object of the language has.
    for (const name of ['constructor', '__proto__']) {
      expect((await server.call('GET', `${API}/readiness?route=${name}`)).status)
        .withContext(name)
        .toBe(404);
      expect((await server.call('DELETE', `${API}/routes/${name}`)).status)
        .withContext(name)
        .toBe(404);
    }
  });

  it('measures against the scan that somebody looked at last, and not against the last save', async () => {
    await server.call('POST', `${API}/scans/seen`, {});
    const tender = join(server.folder, 'scripts/boats/tender.ts');
    const was = readFileSync(tender, 'utf8');
    writeFileSync(tender, was.replace("child('hull')", "child('Hull')"));
    await server.scanAgain();
    writeFileSync(tender, `${readFileSync(tender, 'utf8')}\n`);
    await server.scanAgain();
    const { change } = await server.read<ReadinessPage>(`${API}/readiness`);
    expect(change).toEqual({ since: 1, appeared: 0, gone: 1 });
    await server.call('PUT', `${API}/scans/1`, { note: 'play test of Friday' });
    const scans = await server.read<ScanView[]>(`${API}/scans`);
    expect(scans[0]!.byFolder.reduce((sum, { count }) => sum + count, 0)).toBe(
      Object.values(scans[0]!.bySeverity ?? {}).reduce((sum, count) => sum + count, 0),
    );
    expect(scans.map(({ id, note, isSeen }) => [id, note, isSeen])).toEqual([
      [3, '', false],
      [2, '', false],
      [1, 'play test of Friday', true],
    ]);
    const beside = await server.read<ComparisonView>(`${API}/comparison?from=scan:1`);
    expect([beside.appeared.length, beside.gone.length, beside.isOtherPlan]).toEqual([0, 1, false]);
    // A look-up that leads somewhere now; the map of the first scan is made anew.
    const { links, pieces } = beside.map!;
    expect([pieces.cameCount, pieces.wentCount]).toEqual([0, 0]);
    const [came, went] = [links.came.map(({ to }) => to), links.went.map(({ to }) => to)];
    expect([came.some((to) => to?.endsWith('/Hull')), went]).toEqual([true, [undefined]]);
    expect(itemAt(links.went, 0).isLost).toBeTrue();
    const between = await server.read<ComparisonView>(`${API}/comparison?from=scan:1&to=2`);
    expect(between.map).toEqual(beside.map);
    const plan = join(server.folder, 'glue-trace.json');
    writeFileSync(plan, readFileSync(plan, 'utf8').replace('"name": "', '"name": "New '));
    await server.scanAgain();
    const { isOtherPlan, map } = await server.read<ComparisonView>(`${API}/comparison?from=scan:3`);
    expect([isOtherPlan, map!.links.cameCount, map!.pieces.cameCount]).toEqual([true, 0, 0]);
    const report = await server.read<{ since: { gone: object[] }; findings: object[] }>(
      `${API}/report?format=json&since=1&check=broken/loop`,
    );
    expect([report.findings.length, report.since.gone.length]).toEqual([0, 1]);
    expect((await server.call('GET', `${API}/comparison?from=scan:99`)).status).toBe(404);
    expect((await server.call('PUT', `${API}/scans/99`, { note: 'x' })).status).toBe(404);
  });

  it('compares with a commit, without checking it out', async () => {
    const git = gitIn(server.folder);
    git('init', '-q', '-b', 'main');
    git('add', '-A');
    git('commit', '-q', '-m', 'before');
    const tender = join(server.folder, 'scripts/boats/tender.ts');
    writeFileSync(tender, readFileSync(tender, 'utf8').replace("child('hull')", "child('Hull')"));
    writeFileSync(
      join(server.folder, 'scripts/boats/punt.ts'),
      "import { gone } from './gone';\nexport const punt = gone;\n",
    );
    await server.scanAgain();
    const { appeared, gone, map, touched } = await server.read<ComparisonView>(`${API}/comparison?from=main`);
    expect(touched.map(({ by }) => by)).toEqual(['not committed yet']);
    git('add', '-A');
    git('commit', '-q', '-m', 'punt');
    const later = await server.read<ComparisonView>(`${API}/comparison?from=main~1`);
    expect(later.touched).toEqual([{ by: 'Ada', count: later.appeared.length }]);
    expect((await server.read<ScanView[]>(`${API}/scans`)).map(({ byWho }) => byWho)).toEqual([null, null]);
    const { body: asked } = await server.call<ScanView[]>('POST', `${API}/scans/touched`, {});
    const { total } = await page();
    expect(asked.map(({ byWho }) => byWho)).toEqual([[{ by: 'Ada', count: total }], null]);
    expect(gone.map(({ file }) => file)).toEqual(['scripts/boats/tender.ts']);
    expect(appeared.map(({ file }) => file)).toContain('scripts/boats/punt.ts');
    expect(map!.pieces.came).toContain('script:scripts/boats/punt.ts');
    const first = await server.read<ComparisonView>(`${API}/comparison?from=main~1&to=1`);
    expect([first.map!.pieces.cameCount, first.map!.links.cameCount, first.appeared.length]).toEqual([0, 0, 0]);
    expect(readFileSync(tender, 'utf8')).toContain("child('Hull')");
    const unknown = await server.call<{ code: string }>('GET', `${API}/comparison?from=nowhere`);
    expect(unknown.body.code).toBe('revision/unknown');
  });

  it('writes reports of what is chosen, in every form, and the map', async () => {
    const first = itemAt((await page()).rows, 0);
    await waive({ findings: [first.fingerprint], reason: 'Fine.' });
    const get = async (path: string) => server.app.inject({ method: 'GET', url: `${API}/${path}`, headers: OWN });
    const csv = await get('report?format=csv&severity=error');
    const { total } = await page('?severity=error&waived=with');
    expect(csv.body.trim().split('\r\n').length).toBe(total + 1);
    expect(csv.headers['content-disposition']).toContain('sluicekeeper-scan-1.csv');
    for (const format of ['html', 'markdown', 'json', 'sarif', 'junit', 'text', 'baseline'])
      expect((await get(`report?format=${format}`)).body.length)
        .withContext(format)
        .toBeGreaterThan(1000);
    const whole = JSON.parse((await get('stops')).body) as { stops: { title: string }[] };
    const onRoute = JSON.parse((await get('stops?route=scenes/summit-basin.scene.json')).body) as typeof whole;
    expect([whole.stops.length > onRoute.stops.length, onRoute.stops[0]?.title]).toEqual([true, 'Summit Basin']);
    const html = (await get('report?format=html')).body;
    expect(html).toContain('Waived: Fine.');
    expect(html).toContain('Mill Wharf (a beginning): 2 errors, 1 warning, leads to Aqueduct.');
    // What a report leaves out was found all the same.
    expect((await get('report?format=html&check=broken/loop')).body).toContain('Mill Wharf (a beginning): 2 errors');
    expect((await get('report?format=html&route=scenes/summit-basin.scene.json')).body).toMatch(
      /Summit Basin \(a beginning\)[^"]*Toll Office: [^"]*leads to /,
    );
    expect((await get('map?format=dot&around=Crane&steps=1')).body).toMatch(/^digraph map \{[^]*Crane[^]*\}\n$/);
    expect((await get('map?format=graphml')).body).toContain('</graphml>');
    expect((await get('map?format=dot&around=Nobody')).statusCode).toBe(404);
  });
});
