/** The list of findings over the API: what it is narrowed to, what stands beside a finding, and what people note. */
import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { itemAt, must, type Stops } from '@glue-trace/core';
import { gitIn } from '@glue-trace/core/git-in';
import Database from 'better-sqlite3';
import type { FindingDetail, FindingPage, Problem, RepairPreview, SureRepairs, TouchedBy } from '../api.js';
import { SampleServer } from '../testing/sample-server.js';

const API = '/api/projects/1';

describe('the list of findings', () => {
  let server: SampleServer;
  beforeEach(async () => (server = await new SampleServer().start()));
  afterEach(() => server.end());

  const page = (query = ''): Promise<FindingPage> => server.read<FindingPage>(`${API}/findings?limit=200&${query}`);
  const detail = (fingerprint: string): Promise<FindingDetail> =>
    server.read<FindingDetail>(`${API}/findings/${fingerprint}`);
  const errorsIn = ({ bySeverity }: FindingPage): number =>
    bySeverity.find(({ severity }) => severity === 'error')?.count ?? 0;

  it('is narrowed to a scene and what comes along with it, as the drawing counts it', async () => {
    const { stops } = await server.read<Stops>(`${API}/stops`);
    expect(stops.length).toBeGreaterThan(2);
    for (const { key, counts } of stops) {
      const found = await page(`scene=${encodeURIComponent(key)}`);
      expect([errorsIn(found), found.total]).toEqual([counts.error, counts.error + counts.warning + counts.note]);
    }
    const { key } = itemAt(stops, 0);
    const both = await page(`scene=${encodeURIComponent(key)}&route=nowhere`);
    expect((both as unknown as Problem).code).toBe('route/unknown');
    expect((await server.read<Problem>(`${API}/findings?scene=gone`)).code).toBe('piece/unknown');
  });

  it('is narrowed to what somebody touched last', async () => {
    expect(await server.read<TouchedBy[]>(`${API}/owners`)).toEqual([]);
    gitIn(server.folder)('init', '-q');
    gitIn(server.folder)('add', '-A');
    gitIn(server.folder)('commit', '-qm', 'all');
    const tender = join(server.folder, 'scripts/boats/tender.ts');
    const own = readFileSync(tender, 'utf8').replace("child('hull')", "child('hulk')");
    writeFileSync(tender, own);
    gitIn(server.folder, 'Bob')('commit', '-qam', 'tender');
    await server.scanAgain();
    const { total } = await page();
    const owners = await server.read<TouchedBy[]>(`${API}/owners`);
    expect(owners).toEqual([
      { by: 'Ada', count: total - 1 },
      { by: 'Bob', count: 1 },
    ]);
    const { rows } = await page('owner=Bob');
    expect(rows.map(({ file }) => file)).toEqual(['scripts/boats/tender.ts']);
    expect((await page('owner=Eve')).total).toBe(0);
    expect((await page('owner=Ada&severity=error')).total).toBe((await page('severity=error')).total - 1);
    // What is accepted is counted no more.
    await server.call('POST', `${API}/waivers`, { findings: [itemAt(rows, 0).fingerprint], reason: 'x' });
    expect(await server.read<TouchedBy[]>(`${API}/owners`)).toEqual([{ by: 'Ada', count: total - 1 }]);
  });

  it('is ordered by severity, by file and line, or by how many places a fault has', async () => {
    const worst = (await page()).rows;
    const severities = ['error', 'warning', 'note'];
    expect(worst.map(({ severity }) => severities.indexOf(severity))).toEqual(
      worst.map(({ severity }) => severities.indexOf(severity)).sort((a, b) => a - b),
    );
    const places = (await page('order=places')).rows.map((row) => row.places);
    expect(places).toEqual([...places].sort((a, b) => b - a));
    const byFile = (await page('order=file')).rows.map(({ file, line }) => `${file} ${String(line).padStart(5)}`);
    expect(byFile).toEqual([...byFile].sort());
    expect(byFile.length).toBe(worst.length);
    const { type, body } = await server.call<string>('GET', `${API}/report?format=json&order=file`);
    expect([type.includes('json'), JSON.stringify(body).length > 1000]).toEqual([true, true]);
    expect((await server.read<Problem>(`${API}/findings?order=luck`)).code).toBe('request/invalid');
  });

  it('keeps notes on findings over scans, and shows which have one', async () => {
    const first = itemAt((await page()).rows, 0);
    const put = (note: string, fingerprint = first.fingerprint) =>
      server.call<Problem>('PUT', `${API}/findings/${fingerprint}/note`, { note });
    expect([first.note, (await detail(first.fingerprint)).note, (await page('noted=true')).total]).toEqual([
      null,
      '',
      0,
    ]);
    expect((await put('  Ask Ada first. ')).status).toBe(204);
    await server.scanAgain();
    expect((await detail(first.fingerprint)).note).toBe('Ask Ada first.');
    expect((await page('noted=true')).rows.map(({ note }) => note)).toEqual(['Ask Ada first.']);
    await put('Ada knows.');
    expect((await detail(first.fingerprint)).note).toBe('Ada knows.');
    await put('');
    expect((await page('noted=true')).total).toBe(0);
    expect((await put('x', 'abc')).body.code).toBe('finding/unknown');
    expect((await put('x'.repeat(2001))).body.code).toBe('request/invalid');
  });

  it('keeps what is noted and seen while a scan is being saved: it waits for that', async () => {
    const { fingerprint } = itemAt((await page()).rows, 0);
    const saving = new Database(server.storePath);
    const whileSaving = async (change: () => Promise<{ status: number }>): Promise<number> => {
      saving.exec('BEGIN IMMEDIATE');
      const done = change();
      await new Promise((resolve) => setTimeout(resolve, 150));
      saving.exec('COMMIT');
      return (await done).status;
    };
    const ways = [
      () => server.call('PUT', `${API}/findings/${fingerprint}/note`, { note: 'Ask Ada' }),
      () => server.call('PUT', `${API}/scans/1`, { note: 'before the fair' }),
      () => server.call('POST', `${API}/scans/seen`, {}),
      () => server.call('POST', `${API}/scans/touched`, {}),
    ];
    const statuses: number[] = [];
    for (const way of ways) statuses.push(await whileSaving(way));
    saving.close();
    expect(statuses).toEqual([204, 204, 204, 200]);
    expect((await detail(fingerprint)).note).toBe('Ask Ada');
  });

  it('shows the other findings about the same piece beside one', async () => {
    const { rows } = await page();
    const all = await Promise.all(rows.map(({ fingerprint }) => detail(fingerprint)));
    expect(all.some(({ beside }) => beside.length > 0)).toBeTrue();
    for (const { fingerprint, pieces, beside } of all) {
      const key = pieces[0]?.key;
      const others = all.filter(
        (one) => one.fingerprint !== fingerprint && one.pieces.some((piece) => piece.key === key),
      );
      expect(beside.map((one) => one.text)).toEqual(
        key === undefined ? [] : others.map(({ text }) => text).slice(0, 20),
      );
    }
  });

  it('tells what rests on learned rules apart', async () => {
    const { total } = await page();
    expect([(await page('rests=written')).total, (await page('rests=learned')).total]).toEqual([total, 0]);
  });

  it('gives the sure repairs of what is shown, tried together, for one preview', async () => {
    const shown = { severity: ['error'], folder: 'scripts' };
    const { body: sure } = await server.call<SureRepairs>('POST', `${API}/repairs/sure`, { shown });
    const { rows, total } = await page('severity=error&folder=scripts');
    const mended = new Set(sure.findings.map(({ fingerprint }) => fingerprint));
    expect(mended.size).toBeGreaterThan(2);
    expect(mended.size + sure.unsure + sure.without + sure.left.length).toBeGreaterThanOrEqual(total);
    for (const one of mended) expect(rows.some(({ fingerprint }) => fingerprint === one)).toBeTrue();
    const { findings } = sure;
    const { body: preview } = await server.call<RepairPreview>('POST', `${API}/repairs/preview`, { findings });
    expect([preview.count, preview.left]).toEqual([findings.length, []]);
    await server.call('POST', `${API}/repairs`, { findings });
    await server.settled();
    const after = await page('severity=error&folder=scripts');
    expect(after.total).toBe(total - mended.size);
    const nothing = await server.call<SureRepairs>('POST', `${API}/repairs/sure`, { shown: { text: 'no such words' } });
    expect(must(nothing.body)).toEqual({ findings: [], left: [], unsure: 0, without: 0 });
  });
});
