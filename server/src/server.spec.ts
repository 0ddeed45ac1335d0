import { existsSync, mkdirSync, readdirSync, readFileSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import { get } from 'node:http';
import { homedir } from 'node:os';
import { join } from 'node:path';
import {
  itemAt,
  type FindingView,
  type Hit,
  type PlanTrial,
  type PointedCodeView,
  type Preview,
  type TracePage,
  type WrittenRule,
} from '@glue-trace/core';
import { plantedFaults } from '@glue-trace/core/planted-faults';
import Database from 'better-sqlite3';
import type {
  FilePage,
  FindingPage,
  LearnedPage,
  FolderListing,
  PlanPage,
  Problem,
  ProjectView,
  ReadingPage,
  ReadinessPage,
  TextPage,
} from './api.js';
import { createServer, listen } from './server.js';
import { openStore } from './store/store.js';
import { OWN, SampleServer } from './testing/sample-server.js';

const PLANTED = plantedFaults();
/** How many files of a folder have such a path. */
const filesIn = (folder: string, path: RegExp): number =>
  readdirSync(folder, { recursive: true, withFileTypes: true }).filter(
    (entry) => entry.isFile() && path.test(join(entry.parentPath, entry.name).slice(folder.length + 1)),
  ).length;

describe('the server', () => {
  let server: SampleServer;

  beforeAll(async () => {
    server = await new SampleServer().start();
  });
  afterAll(() => server.end());

  it('opens and scans the folders it was started with', async () => {
    const view = await server.settled();
    expect([view.name, view.plan, view.lastScan!.state]).toEqual(['Sluicekeeper', 'ready', 'done']);
    expect(view.verdict).toBe(PLANTED.verdict);
  });

  it('pages and filters findings, with counts for the filters', async () => {
    const all = await server.read<FindingPage>('/api/projects/1/findings');
    expect([all.total, all.rows.length, all.rows[0]!.severity]).toEqual([
      PLANTED.faults.length,
      PLANTED.faults.length,
      'error',
    ]);
    const page = await server.read<FindingPage>('/api/projects/1/findings?offset=5&limit=3');
    expect(page.rows.map((row) => row.position)).toEqual([5, 6, 7]);
    const some = await server.read<FindingPage>(
      '/api/projects/1/findings?severity=note&severity=warning&check=fragile/climb',
    );
    expect(some.rows.map((row) => row.check)).toEqual(['fragile/climb', 'fragile/climb']);
    expect(some.byCheck.map((one) => one.check)).toContain('fragile/never-sent');
    expect(some.byCheck.map((one) => one.check)).not.toContain('broken/missing-file');
    expect((await server.read<FindingPage>('/api/projects/1/findings?folder=scripts/boats')).total).toBe(7);
    expect((await server.read<FindingPage>('/api/projects/1/findings?folder=scripts/boat')).total).toBe(0);
    expect((await server.read<FindingPage>('/api/projects/1/findings?text=CLEAT tender')).total).toBe(1);
  });

  it('gives one cause as one row with its places, and finds it by the folder of each', async () => {
    const page = await server.read<FindingPage>('/api/projects/1/findings?check=broken/case-only');
    expect(page.rows.map(({ places }) => places)).toEqual([1, 2]);
    const { fingerprint } = page.rows[1]!;
    const { files } = await server.read<FindingView>(`/api/projects/1/findings/${fingerprint}`);
    expect(files.length).toBeGreaterThan(0);
    for (const file of files)
      expect(
        (await server.read<FindingPage>(`/api/projects/1/findings?folder=${file}&check=broken/case-only`)).rows,
      ).toEqual([jasmine.objectContaining({ fingerprint })]);
  });

  it('shows a finding with its evidence', async () => {
    const { rows } = await server.read<FindingPage>('/api/projects/1/findings?text=Cleat looks');
    const finding = await server.read<FindingView>(`/api/projects/1/findings/${rows[0]!.fingerprint}`);
    expect(finding.walk.length).toBe(4);
    const { file, range } = finding.evidence[0]!;
    const excerpt = await server.read<{ lines: string[]; from: number; firstLine: number; isChanged: boolean }>(
      `/api/projects/1/excerpt?file=${file}&line=${range.line}`,
    );
    expect(excerpt.lines[excerpt.from - excerpt.firstLine]).toContain("boat.child('Cleat')");
    expect(excerpt.isChanged).toBeFalse();
  });

  it('leads from a finding to Trace and on, hop by hop, both ways', async () => {
    const trace = (piece: string): Promise<TracePage> =>
      server.read<TracePage>(`/api/projects/1/trace?piece=${encodeURIComponent(piece)}`);
    const rope = await trace('type:scripts/boats/tow-rope.ts#TowRope');
    const sent = rope.reliesOn.find((group) => group.verb === 'sends')!.lines[0]!.to!;
    const event = await trace(sent.key);
    const listener = event.reliedOnBy.find((group) => group.verb === 'listens to')!.lines[0]!.from;
    expect(listener.name).toBe('LockChamber');
  });

  it('finds pieces as one types', async () => {
    expect((await server.read<Hit[]>('/api/projects/1/pieces?text=tender 2'))[0]!.title).toBe(
      'Upper Flight / Boats / Tender 2',
    );
  });

  it('refuses foreign Host and Origin headers', async () => {
    for (const headers of [
      { host: 'evil.example' },
      { host: '127.0.0.1.evil.example' },
      { host: '127.0.0.1:4860', origin: 'http://evil.example' },
    ]) {
      const response = await server.app.inject({ url: '/api/projects', headers });
      expect([response.statusCode, response.json<Problem>().code]).toEqual([403, 'request/foreign']);
    }
    expect(
      (
        await server.app.inject({
          url: '/api/projects',
          headers: { host: 'localhost:4860', origin: 'http://localhost:4860' },
        })
      ).statusCode,
    ).toBe(200);
  });

  it('refuses changes that no page of this server asks for', async () => {
    const { host, origin, 'x-glue-token': token } = OWN;
    const foreign: Record<string, string>[] = [
      { host },
      { host, origin },
      { host, 'x-glue-token': token },
      { host, origin, 'x-glue-token': 'another' },
      { host, origin: 'http://127.0.0.1:8080', 'x-glue-token': token },
      { host, origin: 'https://127.0.0.1:4860', 'x-glue-token': token },
      { host, origin: 'null', 'x-glue-token': token },
    ];
    for (const headers of foreign)
      for (const [method, url] of [
        ['POST', '/api/projects/1/scans'],
        ['PUT', '/api/projects/1/plan'],
        ['DELETE', '/api/projects/1'],
      ] as const) {
        const response = await server.app.inject({ method, url, payload: {}, headers });
        expect([response.statusCode, response.json<Problem>().code])
          .withContext(JSON.stringify(headers))
          .toEqual([403, 'request/foreign']);
      }
    expect(
      (await server.app.inject({ method: 'DELETE', url: '/api/projects/1/scans/running', headers: OWN })).statusCode,
    ).toBe(204);
  });

  it('refuses what is not valid, as problem details that name the field', async () => {
    const bad = await server.call<Problem>('GET', '/api/projects/1/findings?limit=0&severity=awful');
    expect([bad.status, bad.type, bad.body.code]).toEqual([
      400,
      'application/problem+json; charset=utf-8',
      'request/invalid',
    ]);
    expect(bad.body.mistakes.map((mistake) => mistake.key)).toEqual(['severity', 'limit']);
    expect((await server.call<Problem>('GET', '/api/projects/one/findings')).status).toBe(400);
    expect((await server.call<Problem>('GET', '/api/projects/99')).body.code).toBe('project/unknown');
    expect((await server.call<Problem>('GET', '/api/projects/1/findings/none')).body.code).toBe('finding/unknown');
    expect((await server.call<Problem>('GET', '/api/projects/1/trace?piece=none')).body.code).toBe('piece/unknown');
    expect((await server.call<Problem>('GET', '/api/nothing')).body.code).toBe('request/unknown');
    expect(
      (
        await server.app.inject({
          method: 'POST',
          url: '/api/projects',
          payload: '{',
          headers: { ...OWN, 'content-type': 'application/json' },
        })
      ).json<Problem>().code,
    ).toBe('request/invalid');
  });

  it('says that a port is taken', async () => {
    const address = await listen(server.app, 0);
    const other = await createServer({
      storePath: join(server.base, 'other.db'),
      folders: [],
      startFolder: server.base,
      version: '0',
      logLevel: 'silent',
    });
    await expectAsync(listen(other, Number(new URL(address).port))).toBeRejectedWithError(/Port \d+ is in use/);
    await other.close();
  });
});

describe('the server over a project that changes', () => {
  let server: SampleServer;

  beforeEach(async () => {
    server = await new SampleServer().start();
  });
  afterEach(() => server.end());

  it('says that a file has changed since the scan', async () => {
    writeFileSync(join(server.folder, 'data/crew.yaml'), '# changed\n');
    expect(
      (await server.read<{ isChanged: boolean }>('/api/projects/1/excerpt?file=data/crew.yaml&line=1')).isChanged,
    ).toBeTrue();
  });

  it('accounts for every file by folder, ending and rule', async () => {
    writeFileSync(join(server.folder, 'stray.bin'), 'x');
    writeFileSync(join(server.folder, 'data/cargo.json'), '{"rows": [');
    await server.scanAgain();
    const page = await server.read<ReadingPage>('/api/projects/1/reading');
    const pictures = filesIn(server.folder, /\.svg$|^README\.md$|^glue-trace\.json$/);
    const read = filesIn(server.folder, /./) - pictures - 3;
    expect(page.total).toEqual({ read, partly: 2, listed: pictures, unread: 1 });
    expect(page.folders.find((one) => one.name === 'data')!.counts).toEqual({
      read: filesIn(server.folder, /^data\/[^/]+$/) - 2,
      partly: 2,
      listed: 0,
      unread: 0,
    });
    expect(page.endings.map((one) => one.name)).toContain('.bin');
    expect(page.rules.find((one) => one.rule === 'files.scenes')).toEqual({
      rule: 'files.scenes',
      files: filesIn(server.folder, /\.scene\.json$/),
      pieces: filesIn(server.folder, /\.scene\.json$/),
      links: 0,
      lost: 0,
    });
    const files = await server.read<FilePage>('/api/projects/1/files?limit=2');
    expect(files.rows.map((file) => [file.path, file.status])).toEqual([
      ['stray.bin', 'unread'],
      ['data/cargo.json', 'partly'],
    ]);
    expect(
      (await server.read<FilePage>('/api/projects/1/files?folder=data&status=read&text=OLLS')).rows.map(
        (file) => file.path,
      ),
    ).toEqual(['data/tolls.json']);
    expect((await server.call('GET', '/api/projects/1/files?status=lost')).status).toBe(400);
  });

  it('brings a store of an older version up to date', async () => {
    await server.app.close();
    const path = server.storePath;
    const db = new Database(path);
    db.exec(`DROP INDEX findings_by_file; ALTER TABLE scans DROP COLUMN rules; ALTER TABLE files DROP COLUMN modified; DROP INDEX findings_counted;
       ALTER TABLE findings DROP COLUMN files; ALTER TABLE findings DROP COLUMN waived; DROP TABLE repairs; DROP TABLE server;
       ALTER TABLE scans DROP COLUMN idle_waivers; ALTER TABLE scans DROP COLUMN note; ALTER TABLE scans DROP COLUMN seen_at; ALTER TABLE scans DROP COLUMN touched;
       ALTER TABLE scans DROP COLUMN plan; DROP TABLE plans; DROP TABLE finding_notes; ALTER TABLE findings DROP COLUMN learned`);
    db.pragma('user_version = 1');
    db.close();
    await server.start([]);
    expect((await server.read<ReadingPage>('/api/projects/1/reading')).rules).toEqual([]);
    expect((await server.read<FindingPage>('/api/projects/1/findings')).total).toBe(PLANTED.faults.length);
  });

  it('shows a repaired finding gone after the next scan', async () => {
    const path = join(server.folder, 'scripts/boats/tender.ts');
    writeFileSync(path, readFileSync(path, 'utf8').replace("child('hull')", "child('Hull')"));
    const view = await server.scanAgain();
    expect(view.verdict).toBe(PLANTED.verdict.replace(`${PLANTED.failing}`, `${PLANTED.failing - 1}`));
    const page = await server.read<ReadinessPage>('/api/projects/1/readiness');
    // All that is read but the file that changed.
    const others = filesIn(server.folder, /(?<!\.svg)$/) - 3;
    expect([page.change, page.scan.reused, page.history.length]).toEqual([
      { since: 1, appeared: 0, gone: 1 },
      others,
      2,
    ]);
  });

  it('gives the plan and files as text, and saves the plan only over what was opened', async () => {
    const before = await server.read<PlanPage>('/api/projects/1/plan');
    expect(before.text).toBe(readFileSync(join(server.folder, 'glue-trace.json'), 'utf8'));
    const put = (body: object): Promise<{ status: number; body: Partial<Problem> }> =>
      server.call('PUT', '/api/projects/1/plan', body);
    const text = before.text.replace('"name": "Sluicekeeper"', '"name": "Sluicekeeper again"');
    expect((await put({ text: '{"version": 1}', hash: before.hash })).body.code).toBe('plan/invalid');
    expect((await put({ text, hash: before.hash })).status).toBe(200);
    expect(readFileSync(join(server.folder, 'glue-trace.json'), 'utf8')).toBe(text);
    expect((await put({ text, hash: before.hash })).body.code).toBe('plan/changed');
    const page = await server.read<TextPage>('/api/projects/1/text?file=data%2Fcrew.yaml');
    expect([page.text, page.isCut]).toEqual([readFileSync(join(server.folder, 'data/crew.yaml'), 'utf8'), false]);
    expect((await server.read<Problem>('/api/projects/1/text?file=..%2Fsecret')).code).toBe('file/missing');
  });

  it('shows long files by their beginning, and refuses what is no text', async () => {
    writeFileSync(join(server.folder, 'data/long.yaml'), `text: ${'x'.repeat(500_000)}`);
    writeFileSync(join(server.folder, 'data/bytes.yaml'), Buffer.from([1, 0, 2]));
    await server.scanAgain();
    const page = await server.read<TextPage>('/api/projects/1/text?file=data/long.yaml');
    expect([page.text.length, page.isCut]).toEqual([400_000, true]);
    expect((await server.read<Problem>('/api/projects/1/text?file=data/bytes.yaml')).code).toBe('file/unreadable');
    expect((await server.read<Problem>('/api/projects/1/text')).code).toBe('request/invalid');
  });

  it('writes no plan through a link that stands in its place', async () => {
    const before = await server.read<PlanPage>('/api/projects/1/plan');
    const secret = join(server.base, 'secret.json');
    writeFileSync(secret, before.text);
    rmSync(before.path);
    symlinkSync(secret, before.path);
    const text = before.text.replace('"name": "Sluicekeeper"', '"name": "Theirs"');
    const { body } = await server.call<Problem>('PUT', '/api/projects/1/plan', { text, hash: before.hash });
    expect([body.code, readFileSync(secret, 'utf8')]).toEqual(['file/unreadable', before.text]);
    expect((await server.read<ProjectView>('/api/projects/1')).planError!.detail).toContain('is a link');
  });

  it('goes on answering while another connection writes, and scans when that is done', async () => {
    const other = new Database(server.storePath);
    other.exec('BEGIN IMMEDIATE');
    const scanning = server.scanAgain();
    // Answers come although the scan waits for the store.
    for (let at = 0; at < 5; at++)
      expect((await server.read<FindingPage>('/api/projects/1/findings')).total).toBe(PLANTED.faults.length);
    other.exec('COMMIT');
    other.close();
    expect((await scanning).lastScan!.state).toBe('done');
    expect((await server.read<ReadinessPage>('/api/projects/1/readiness')).history.length).toBe(2);
  });

  it('keeps the last good scan when the plan breaks, and says what is wrong with it', async () => {
    writeFileSync(join(server.folder, 'glue-trace.json'), '{"version": 1, "name": "x", "filez": {}}');
    const view = await server.scanAgain();
    expect([view.plan, view.lastScan!.state, view.lastScan!.error!.code]).toEqual(['broken', 'failed', 'plan/invalid']);
    expect(view.planError!.mistakes[0]!.message).toContain('“files”');
    expect((await server.read<FindingPage>('/api/projects/1/findings')).total).toBe(PLANTED.faults.length);
  });

  it('says that the folder is gone, and comes back when it does', async () => {
    rmSync(server.folder, { recursive: true });
    expect((await server.scanAgain()).plan).toBe('folder gone');
    server.copySample();
    expect((await server.scanAgain()).lastScan!.state).toBe('done');
  });

  it('runs one scan at a time for a project', async () => {
    const [a, b] = await Promise.all([
      server.call<{ scanId: number }>('POST', '/api/projects/1/scans', {}),
      server.call<{ scanId: number }>('POST', '/api/projects/1/scans', {}),
    ]);
    expect([a.status, a.body.scanId]).toEqual([202, b.body.scanId]);
    await server.settled();
  });

  it('stops a scan and keeps what was there', async () => {
    await server.call('POST', '/api/projects/1/scans', {});
    expect((await server.call('DELETE', '/api/projects/1/scans/running')).status).toBe(204);
    const view = await server.settled();
    expect(view.lastScan!.state).toBe('stopped');
    expect((await server.read<FindingPage>('/api/projects/1/findings')).total).toBe(PLANTED.faults.length);
  });

  it('starts clean after it was stopped during a scan, and traces without being asked to scan', async () => {
    await server.app.close();
    const store = openStore(server.storePath);
    store.beginScan(1);
    store.close();
    await server.start([]);
    const view = await server.read<ProjectView>('/api/projects/1');
    expect([view.running, view.lastScan!.state]).toEqual([null, 'stopped']);
    expect((await server.call<TracePage>('GET', '/api/projects/1/trace?piece=event:rope.tight')).status).toBe(200);
  });

  /** What a window that looks at the project hears, until it has heard something. */
  const heard = async (until: string, onText: (text: string, before: string) => void): Promise<string> => {
    const address = await listen(server.app, 0);
    return new Promise((resolve, reject) => {
      const request = get(
        `${address}/api/projects/1/progress`,
        { headers: { accept: 'text/event-stream' } },
        (response) => {
          let text = '';
          response.on('data', (chunk: Buffer) => {
            const before = text;
            text += chunk.toString();
            onText(text, before);
            if (!text.includes(until)) return;
            request.destroy();
            resolve(text);
          });
        },
      );
      request.on('error', (error) => (error.message.includes('hang up') ? undefined : reject(error)));
    });
  };
  const isFirst = (words: string, text: string, before: string): boolean =>
    text.includes(words) && !before.includes(words);

  it('tells progress as server-sent events', async () => {
    const told = await heard('"is":"done"', (_text, before) => {
      if (before === '') void server.call('POST', '/api/projects/1/scans', {});
    });
    expect(told).toContain('event: scan');
    expect(told).toContain('"phase":"reading"');
  });

  it('tells other windows what was decided and noted in one, and nothing of what failed', async () => {
    const { rows } = await server.read<FindingPage>('/api/projects/1/findings');
    const { fingerprint } = itemAt(rows, 0);
    const told = await heard('"by":"w2"', (text, before) => {
      if (!isFirst('event: watching', text, before)) return;
      const note = `/api/projects/1/findings/${fingerprint}/note`;
      void server
        .call('PUT', `/api/projects/1/findings/gone/note`, { note: 'x' }, { 'x-glue-window': 'w0' })
        .then(() => server.call('PUT', note, { note: 'Ask Ada' }, { 'x-glue-window': 'w1' }))
        .then(() =>
          server.call(
            'POST',
            '/api/projects/1/waivers',
            { findings: [fingerprint], reason: 'x' },
            { 'x-glue-window': 'w2' },
          ),
        );
    });
    expect([...(told.match(/event: change\ndata: .*/g) ?? [])]).toEqual([
      ...['event: change\ndata: {"by":"w1"}', 'event: change\ndata: {"by":"w2"}'],
    ]);
  });

  it('scans again by itself while somebody looks, and says what is new and gone', async () => {
    const path = join(server.folder, 'scripts/boats/tender.ts');
    const told = await heard('"is":"done"', (text, before) => {
      if (isFirst('event: watching', text, before))
        writeFileSync(path, readFileSync(path, 'utf8').replace("child('hull')", "child('Hull')"));
    });
    expect(told).toContain('"change":{"since":1,"appeared":0,"gone":1}');
  });

  it('scans a project opened after another one was forgotten by itself', async () => {
    await server.call('DELETE', '/api/projects/1');
    const folder = join(server.base, 'another');
    mkdirSync(folder);
    writeFileSync(join(folder, 'glue-trace.json'), '{"version": 1, "name": "Another"}');
    const { id } = (await server.call<ProjectView>('POST', '/api/projects', { folder })).body;
    const { name, lastScan } = await server.settled(id);
    expect([name, lastScan!.state]).toEqual(['Another', 'done']);
    expect((await server.call('GET', `/api/projects/${id}/trace?piece=event:rope.tight`)).status).toBe(404);
  });

  it('forgets a project and leaves its files', async () => {
    expect((await server.call('DELETE', '/api/projects/1')).status).toBe(204);
    expect(await server.read<ProjectView[]>('/api/projects')).toEqual([]);
    expect(readFileSync(join(server.folder, 'glue-trace.json')).length).toBeGreaterThan(0);
  });

  it('refuses files outside of the scan', async () => {
    for (const file of ['../../etc/passwd', '/etc/passwd', 'nothing.json']) {
      expect(
        (await server.call<Problem>('GET', `/api/projects/1/excerpt?line=1&file=${encodeURIComponent(file)}`)).body
          .code,
      ).toBe('file/missing');
    }
    rmSync(join(server.folder, 'data/crew.yaml'));
    symlinkSync('/etc/passwd', join(server.folder, 'data/crew.yaml'));
    expect((await server.call<Problem>('GET', '/api/projects/1/excerpt?line=1&file=data/crew.yaml')).body.code).toBe(
      'file/missing',
    );
  });
});

describe('the server, opening folders', () => {
  let server: SampleServer;

  beforeEach(async () => {
    server = await new SampleServer().start([]);
  });
  afterEach(() => server.end());

  it('writes a plan of its own where a built-in one was in force', async () => {
    const standard = join(server.base, 'standard');
    mkdirSync(standard);
    writeFileSync(join(standard, 'lock.x3d'), '<X3D><Scene><Group DEF="Gate"/></Scene></X3D>');
    const { id } = (await server.call<ProjectView>('POST', '/api/projects', { folder: standard })).body;
    await server.settled(id);
    const plan = await server.read<PlanPage>(`/api/projects/${id}/plan`);
    expect([plan.origin, JSON.parse(plan.text)]).toEqual([
      'built in',
      { version: 1, name: 'standard', extends: ['x3d'] },
    ]);
    const text = plan.text.replace('"standard"', '"Own"');
    expect((await server.call('PUT', `/api/projects/${id}/plan`, { text, hash: plan.hash })).status).toBe(200);
    expect(readFileSync(join(standard, 'glue-trace.json'), 'utf8')).toBe(text);
    expect((await server.settled(id)).name).toBe('Own');
  });

  it('gives the plans that a plan builds on along with it', async () => {
    const own = join(server.base, 'own');
    mkdirSync(own);
    const shared = '{"version": 1, "name": "Shared", "files": {"all": {"match": "*.json", "as": "data asset"}}}';
    writeFileSync(join(own, 'shared.json'), shared);
    writeFileSync(join(own, 'glue-trace.json'), '{"version": 1, "name": "Own", "extends": ["shared.json", "x3d"]}');
    const { id } = (await server.call<ProjectView>('POST', '/api/projects', { folder: own })).body;
    await server.settled(id);
    expect((await server.read<PlanPage>(`/api/projects/${id}/plan`)).bases).toEqual({ 'shared.json': shared });
  });

  it('scans a folder without a plan by one that is learned, and writes that with the first decision', async () => {
    const bare = join(server.base, 'bare');
    mkdirSync(join(bare, 'data'), { recursive: true });
    const rows = ['lad', 'keeper', 'pilot', 'clerk'].map((code) => ({ code, wage: 3 }));
    const boats = rows.map(({ code }, at) => ({ id: `b${at}`, crew: code, with: 'none' }));
    writeFileSync(join(bare, 'data/crew.json'), JSON.stringify({ rows }));
    writeFileSync(join(bare, 'data/boats.json'), JSON.stringify({ boats: [...boats, { id: 'b9', crew: 'piolt' }] }));
    const { status, body: project } = await server.call<ProjectView>('POST', '/api/projects', { folder: bare });
    expect([status, project.plan]).toEqual([201, 'learned']);
    expect((await server.settled(project.id)).lastScan!.state).toBe('done');
    const at = `/api/projects/${project.id}/learned`;
    const page = await server.read<LearnedPage>(at);
    const crew = page.rules.find(({ key }) => key.endsWith('references.crew'))!;
    expect([page.isWritten, page.textFiles, page.readFiles, crew.leads, crew.of, crew.misses]).toEqual([
      false,
      2,
      2,
      4,
      5,
      ['piolt'],
    ]);
    expect(JSON.parse(crew.rule)).toEqual(jasmine.objectContaining({ at: '$.boats[*].crew', by: 'id' }));
    expect(existsSync(join(bare, 'glue-trace.json'))).toBeFalse();
    // What was shown is decided on, though a file has changed since; a scan that is asked for learns anew.
    writeFileSync(
      join(bare, 'data/boats.json'),
      JSON.stringify({ boats: boats.map((one) => ({ ...one, pilot: one.crew })) }),
    );
    await server.call('POST', `/api/projects/${project.id}/scans`);
    await server.settled(project.id);
    const { rules } = await server.read<ReadingPage>(`/api/projects/${project.id}/reading`);
    expect(JSON.stringify(rules)).toContain('references.pilot');
    const { body: after } = await server.call<LearnedPage>('POST', at, { take: [crew.key], hash: page.hash });
    expect([after.isWritten, after.rules.length]).toEqual([true, page.rules.length - 1]);
    expect(after.rules).toEqual(page.rules.filter((rule) => rule !== crew));
    expect(existsSync(join(bare, 'glue-trace.json'))).toBeTrue();
    // Something else is meant than what was learned: it is written as said, and is asked about no more.
    const [left] = after.rules;
    const rule = { at: '$.rows[*]', kind: 'record', id: '$.code', space: 'people' };
    const { body: other } = await server.call<LearnedPage>('POST', at, {
      put: [{ key: left!.key, rule }],
      hash: after.hash,
    });
    expect(other.rules).toEqual(after.rules.slice(1));
    expect(readFileSync(join(bare, 'glue-trace.json'), 'utf8')).toContain('"people"');
    const wrong = await server.call<Problem>('POST', at, {
      put: [{ key: crew.key, rule: { at: 4 } }],
      hash: other.hash,
    });
    expect([wrong.status, wrong.body.code]).toEqual([422, 'plan/invalid']);
    const late = await server.call<Problem>('POST', at, { refuse: [crew.key], hash: page.hash });
    expect(late.body.code).toBe('plan/changed');
    expect((await server.settled(project.id)).plan).toBe('ready');
  });

  it('opens the plan that was learned to be changed, and writes it', async () => {
    const bare = join(server.base, 'learned');
    mkdirSync(bare);
    const script = "function begin() {\n  stage.find('Gate');\n  bells.ring('tide', () => 1);\n}\n";
    writeFileSync(join(bare, 'a.ts'), script);
    writeFileSync(
      join(bare, 'b.json'),
      JSON.stringify({ rows: [{ name: 'Gate' }, { name: 'Weir' }, { name: 'Lock' }] }),
    );
    const { id } = (await server.call<ProjectView>('POST', '/api/projects', { folder: bare })).body;
    await server.settled(id);
    const at = `/api/projects/${id}/plan`;
    const { origin, text, hash, bases } = await server.read<PlanPage>(at);
    expect([origin, existsSync(join(bare, 'glue-trace.json'))]).toEqual(['learned', false]);
    const desk = { plan: text, bases, file: 'a.ts' };
    const offset = script.indexOf("'Gate'") + 1;
    const pointed = (await server.call<PointedCodeView[]>('POST', `${at}/point`, { ...desk, offset })).body;
    expect([pointed[0]!.is, pointed[0]!.words, pointed[0]!.forms[0]!.head]).toEqual([
      'argument',
      "'Gate'",
      'stage.find',
    ]);
    const said = { offset, around: 0, form: 0, saying: 'find' };
    const written = (await server.call<WrittenRule>('POST', `${at}/say`, { ...desk, said })).body;
    expect(written.rule).toBe('calls: stage.find($name)');
    const preview = (await server.call<Preview>('POST', `${at}/code`, { ...desk, plan: written.text })).body;
    expect(preview.counts).toContain({ rule: written.rule, count: 1 });
    const trial = { plan: written.text, rule: written.rule };
    const { rule } = (await server.call<PlanTrial>('POST', `${at}/trial`, trial)).body;
    expect([rule!.found, rule!.places[0]!.text]).toEqual([1, 'Gate']);
    const wrong = await server.call<Problem>('POST', `${at}/trial`, { plan: '{ "version": 1 }' });
    expect([wrong.status, wrong.body.code]).toEqual([422, 'plan/invalid']);
    const data = await server.call<Problem>('POST', `${at}/code`, { ...desk, file: 'b.json' });
    expect([data.status, data.body.detail]).toEqual([400, '“b.json” is no script.']);
    expect((await server.call('PUT', at, { text: written.text, hash })).status).toBe(200);
    expect(readFileSync(join(bare, 'glue-trace.json'), 'utf8')).toBe(written.text);
    expect((await server.read<PlanPage>(at)).origin).toBe('own');
  });

  it('learns again beside the plan, and keeps what is not decided until it is', async () => {
    const own = join(server.base, 'again');
    mkdirSync(own);
    const rows = ['lad', 'keeper', 'pilot', 'clerk'].map((code) => ({ code, wage: 3 }));
    const boats = rows.map(({ code }, at) => ({ id: `b${at}`, crew: code, mate: code }));
    writeFileSync(join(own, 'crew.json'), JSON.stringify({ rows }));
    writeFileSync(join(own, 'boats.json'), JSON.stringify({ boats }));
    const files = {
      crew: {
        match: 'crew.json',
        as: 'data asset',
        pieces: { rows: { at: '$.rows[*]', kind: 'record', id: '$.code' } },
      },
      boats: { match: 'boats.json', as: 'data asset', references: { wrong: { at: '$.boats[*].id', by: 'path' } } },
    };
    writeFileSync(join(own, 'glue-trace.json'), JSON.stringify({ version: 1, name: 'Own', files }));
    const { id } = (await server.call<ProjectView>('POST', '/api/projects', { folder: own })).body;
    await server.settled(id);
    const at = `/api/projects/${id}/learned`;
    const first = await server.read<LearnedPage>(at);
    expect([first.isAgain, first.rules]).toEqual([false, []]);
    const again = (await server.call<LearnedPage>('POST', `${at}/again`, {})).body;
    const told = ({ rules }: LearnedPage): string[] => rules.map(({ key, is }) => `${is}: ${key}`);
    expect(told(again)).toEqual(
      jasmine.arrayWithExactContents([
        'new: files.boats.references.crew',
        'new: files.boats.references.mate',
        'failing: files.boats.references.wrong',
      ]),
    );
    const crew = again.rules.find(({ key }) => key.endsWith('.crew'))!;
    const put = [{ key: crew.key, rule: JSON.parse(crew.rule) as object }];
    const { body: after } = await server.call<LearnedPage>('POST', at, { put, hash: again.hash });
    expect(told(after)).toEqual(told(again).filter((one) => !one.endsWith('.crew')));
    const refuse = ['files.boats.references.mate', 'files.boats.references.wrong'];
    const { body: last } = await server.call<LearnedPage>('POST', at, { refuse, hash: after.hash });
    expect([last.isAgain, last.rules]).toEqual([true, []]);
    const plan = JSON.parse(readFileSync(join(own, 'glue-trace.json'), 'utf8')) as typeof files & {
      files: Record<string, { references: object }>;
      learned: { refused: string[] };
    };
    expect([Object.keys(plan.files['boats']!.references), plan.learned.refused]).toEqual([['crew'], refuse]);
    await server.settled(id);
    expect((await server.call<LearnedPage>('POST', `${at}/again`, {})).body.rules).toEqual([]);
  });

  it('says so when nothing can be learned', async () => {
    const bare = join(server.base, 'empty');
    mkdirSync(bare);
    const { body: project } = await server.call<ProjectView>('POST', '/api/projects', { folder: bare });
    const { error } = (await server.settled(project.id)).lastScan!;
    expect([error!.code, error!.detail]).toEqual([
      'plan/missing',
      jasmine.stringContaining('no file that one could be learned from'),
    ]);
  });

  it('opens nothing outside of the start folder and the home, also through a link', async () => {
    expect((await server.call<Problem>('POST', '/api/projects', { folder: '/etc' })).body.code).toBe(
      'folder/not-allowed',
    );
    symlinkSync('/etc', join(server.base, 'way-out'));
    expect(
      (await server.call<Problem>('POST', '/api/projects', { folder: join(server.base, 'way-out') })).body.code,
    ).toBe('folder/not-allowed');
    expect(
      (await server.call<Problem>('POST', '/api/projects', { folder: join(server.base, '../../etc') })).body.code,
    ).toBe('folder/not-allowed');
  });

  it('says that a folder does not exist', async () => {
    const { status, body } = await server.call<Problem>('POST', '/api/projects', {
      folder: join(server.base, 'nowhere'),
    });
    expect([status, body.code]).toEqual([404, 'folder/missing']);
  });

  it('lists folders from the start folder and the home', async () => {
    const listing = await server.read<FolderListing>(`/api/folders?path=${encodeURIComponent(server.base)}`);
    expect(listing.folders.find((one) => one.name === 'sluicekeeper')!.hasPlan).toBeTrue();
    expect((await server.call('GET', `/api/folders?path=${encodeURIComponent(homedir())}`)).status).toBe(200);
    expect((await server.call('GET', '/api/folders?path=/')).status).toBe(403);
  });
});
