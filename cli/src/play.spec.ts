/** Play logs on the command line: from files and from standard input, with all that may be wrong with them. */
import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';

const MAIN = fileURLToPath(new URL('./main.js', import.meta.url));
const SAMPLE = fileURLToPath(new URL('../../samples/sluicekeeper', import.meta.url));

const glue = (input: string, ...args: string[]): { code: number | null; out: string; error: string } => {
  const { status, stdout, stderr } = spawnSync(process.execPath, [MAIN, 'play', 'check', SAMPLE, ...args], {
    encoding: 'utf8',
    input,
  });
  return { code: status, out: stdout, error: stderr };
};
const sent = (type: string, more: object = {}): string =>
  JSON.stringify({ specversion: '1.0', id: '1', type, source: 'scenes/upper-flight.scene.json', ...more });

describe('glue play check', () => {
  let folder: string;
  beforeEach(() => (folder = mkdtempSync(join(tmpdir(), 'glue-play-'))));
  afterEach(() => rmSync(folder, { recursive: true, force: true }));

  it('tells what could not be read, what the map does not know, and what was never sent', () => {
    const log = join(folder, 'friday.play.ndjson');
    writeFileSync(log, [sent('bell.rung'), '{ broken', '', sent('bell.rnug'), sent('bell.rnug')].join('\r\n'));
    const { code, out } = glue('', log);
    expect(code).toBe(1);
    expect(out).toContain('friday.play.ndjson: 5 lines, 1 of them not read');
    expect(out).toContain('  line 2: it is no JSON');
    expect(out).toContain('What happened: 3 sent.');
    expect(out).toContain('An event that the map does not know (play/unknown-event)');
    expect(out).toContain(`  warning: bell.rnug came 2 times, and the map does not know it`);
    expect(out).toContain(`      lines 4, 5 of ${log}`);
    expect(out).not.toContain('play/unknown-sender');
    expect(out).toMatch(/note: \S+ never came; .+ can send it/);
  });
  it('reads standard input, for programs as well, and ends with 0 when the map knows all of it', () => {
    const { code, out } = glue(`${sent('plate.pressed')}\n`, '-', '--format', 'json');
    expect(code).toBe(0);
    const told = JSON.parse(out) as { logs: object[]; events: number; findings: { check: string; text: string }[] };
    expect(told.logs).toEqual([{ file: 'standard input', lines: 1, unread: [], unreadCount: 0 }]);
    const never = told.findings.filter(({ check }) => check === 'play/never-sent').map(({ text }) => text);
    expect([told.events, never.length > 3, never.length === told.findings.length]).toEqual([1, true, true]);
    expect(never.some((one) => one.startsWith('plate.pressed'))).toBeFalse();
  });
  it('speaks for a route, and for several logs together', () => {
    const [one, other] = ['one.ndjson', 'other.ndjson'].map((name) => join(folder, name));
    writeFileSync(one ?? '', sent('plate.pressed'));
    writeFileSync(other ?? '', sent('bell.rung'));
    const all = glue('', one ?? '', other ?? '');
    expect([all.code, all.out.includes('What happened: 2 sent.')]).toEqual([0, true]);
    const onRoute = glue('', one ?? '', '--route', 'scenes/toll-office.scene.json');
    expect(onRoute.out).toContain('of 3 scenes loaded');
    expect(glue('', one ?? '', '--route', 'nowhere').code).toBe(2);
  });
  it('says that there is no such log', () => {
    const { code, error } = glue('', join(folder, 'gone.play.ndjson'));
    expect([code, error.includes('[file/missing]')]).toEqual([2, true]);
  });
});
