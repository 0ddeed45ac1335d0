/** The senders that people copy into their games (docs/examples), each run against a server. */
import { execFile } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath, pathToFileURL } from 'node:url';
import { promisify } from 'node:util';
import ts from 'typescript';
import { LuaFactory } from 'wasmoon';
import type { PlayEventPage, PlayPage, PlaySessionView } from '../api.js';
import { SampleServer } from '../testing/sample-server.js';

const EXAMPLES = fileURLToPath(new URL('../../../docs/examples', import.meta.url));
const API = '/api/projects/1/play';

describe('the senders of the examples', () => {
  let server: SampleServer;
  let folder: string;
  let address: string;
  let token: string;
  beforeAll(async () => {
    server = await new SampleServer().start();
    const at = await server.app.listen({ host: '127.0.0.1', port: 0 });
    const page = await server.read<PlayPage>(API);
    [address, token] = [at + page.path, page.token];
    folder = mkdtempSync(join(tmpdir(), 'glue-senders-'));
  });
  afterAll(async () => {
    await server.end();
    rmSync(folder, { recursive: true, force: true });
  });

  /** What has come of a session: type, source, payload, what led to it, handler. */
  const came = async (name: string): Promise<(string | null)[][]> => {
    const { sessions } = await server.read<PlayPage>(API);
    const { id, unread } = sessions.find((one: PlaySessionView) => one.name === name)!;
    expect(unread).toBe(0);
    const { rows } = await server.read<PlayEventPage>(`${API}/sessions/${id}/events`);
    return rows.reverse().map(({ id: own, source, data, cause, handler }) => [own, source, data, cause, handler]);
  };
  const EXPECTED = [
    ['1', 'Bell', '{"times":3,"boats":["Tender \\"9\\"","Grüne Tonne"]}', null, null],
    ['2', 'Gate', null, '1', 'Gate.open'],
  ];

  it('in TypeScript', async () => {
    const source = readFileSync(join(EXAMPLES, 'send-play.ts'), 'utf8');
    const { outputText } = ts.transpileModule(source, {
      compilerOptions: { module: ts.ModuleKind.ESNext, target: ts.ScriptTarget.ES2022 },
    });
    const file = join(folder, 'send-play.mjs');
    writeFileSync(file, outputText);
    const { PlayLog } = (await import(pathToFileURL(file).href)) as {
      PlayLog: new (address: string, token: string) => { note(happened: object): string; flush(): Promise<void> };
    };
    const log = new PlayLog(`${address}?session=ts`, token);
    const cause = log.note({
      type: 'bell.rung',
      source: 'Bell',
      data: { times: 3, boats: ['Tender "9"', 'Grüne Tonne'] },
    });
    log.note({ type: 'bell.rung', source: 'Gate', happening: 'handled', handler: 'Gate.open', cause });
    await log.flush();
    expect(await came('ts')).toEqual(EXPECTED);
    await new PlayLog('http://127.0.0.1:1/play/1', token).flush();
  });

  it('in Python', async () => {
    const script = `
import sys
sys.path.insert(0, ${JSON.stringify(EXAMPLES)})
sys.dont_write_bytecode = True
from send_play import PlayLog
log = PlayLog(${JSON.stringify(`${address}?session=py`)}, ${JSON.stringify(token)})
cause = log.note("bell.rung", "Bell", data={"times": 3, "boats": ['Tender "9"', "Grüne Tonne"]})
log.note("bell.rung", "Gate", happening="handled", handler="Gate.open", cause=cause)
log.flush()
`;
    await promisify(execFile)('python3', ['-c', script]);
    expect(await came('py')).toEqual(EXPECTED);
  });

  it('in Lua, as lines that are read like any log', async () => {
    const lua = await new LuaFactory().createEngine();
    const lines: string[] = [];
    try {
      await lua.doString(
        `package.preload.send_play = function() ${readFileSync(join(EXAMPLES, 'send_play.lua'), 'utf8')} end`,
      );
      lua.global.set('write', (line: string) => void lines.push(line));
      await lua.doString(`
        local log = require("send_play").new(write, function() return "2026-01-01T12:00:00Z" end)
        local cause = log:note("bell.rung", "Bell", { data = { times = 3, boats = { 'Tender "9"', "Grüne Tonne" } } })
        log:note("bell.rung", "Gate", { happening = "handled", handler = "Gate.open", cause = cause })
      `);
    } finally {
      lua.global.close();
    }
    const response = await fetch(`${address}?session=lua`, {
      method: 'POST',
      headers: { authorization: `Bearer ${token}`, 'content-type': 'application/x-ndjson' },
      body: lines.join(''),
    });
    expect(response.status).toBe(202);
    const [first, second] = await came('lua');
    expect(JSON.parse(first?.[2] ?? '')).toEqual(JSON.parse(EXPECTED[0]?.[2] ?? ''));
    expect(second).toEqual(EXPECTED[1]);
  });
});
