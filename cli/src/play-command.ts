import { createReadStream, existsSync } from 'node:fs';
import { createInterface } from 'node:readline';
import {
  createPlayReport,
  GlueError,
  playExpected,
  reachedBy,
  readPlayLine,
  startsOf,
  PLAY_CHECKS,
  type PlayAgainstMap,
  type PlayFinding,
  type PlayReport,
  type SeenOf,
} from '@glue-trace/core';
import { routeNamed, scanFolder } from '@glue-trace/server';
import { give, tell } from './terminal.js';

export interface PlayFlags {
  plan?: string;
  route?: string;
  format: 'text' | 'json';
}

/** What was read of a log, and what was not. */
interface Log {
  file: string;
  lines: number;
  unread: { line: number; problem: string }[];
  unreadCount: number;
}

/** Lines that were not read are told so far. */
const MOST_TOLD = 20;

/** Reads play logs, and tells how what happened stands to the map. Ends with 1 when something worse than a note is found. */
export async function playCheck(dir: string, files: string[], { plan, route, format }: PlayFlags): Promise<void> {
  const missing = files.find((file) => file !== '-' && !existsSync(file));
  if (missing !== undefined)
    throw new GlueError(
      'file/missing',
      `There is no play log at ${missing}. Give the path of a *.play.ndjson, or “-” for standard input.`,
    );
  const { analysis } = await scanFolder({ folder: dir, planFile: plan, learns: true });
  const { linked } = analysis;
  const starts = startsOf(linked);
  const reached = route === undefined ? undefined : routeNamed(dir, linked.graph, route, starts);
  const report = createPlayReport(linked.graph, playExpected(linked), {
    starts: reached?.starts ?? reachedBy(linked.graph, { from: starts }).starts,
    ...(reached && { route: reached.pieces }),
  });
  const logs: Log[] = [];
  for (const file of files) {
    report.session();
    logs.push(await readLog(file, report));
  }
  const told = report.end();
  if (format === 'json') await give(`${JSON.stringify({ logs, ...told }, null, 2)}\n`);
  else await tell(inWords(logs, told));
  process.exitCode = told.findings.some(({ severity }) => severity !== 'note') ? 1 : 0;
}

async function readLog(file: string, report: PlayReport): Promise<Log> {
  const input = file === '-' ? process.stdin : createReadStream(file);
  const log: Log = { file: file === '-' ? 'standard input' : file, lines: 0, unread: [], unreadCount: 0 };
  for await (const line of createInterface({ input, crlfDelay: Infinity })) {
    log.lines++;
    if (line.trim() === '') continue;
    const read = readPlayLine(line);
    if ('event' in read) {
      report.add(read.event, log.lines);
      continue;
    }
    log.unreadCount++;
    if (log.unread.length < MOST_TOLD) log.unread.push({ line: log.lines, problem: read.problem });
  }
  return log;
}

function inWords(logs: readonly Log[], told: PlayAgainstMap): string {
  const lines = logs.flatMap(({ file, lines: count, unread, unreadCount }) => [
    `${file}: ${count} lines${unreadCount > 0 ? `, ${unreadCount} of them not read` : ''}`,
    ...unread.map(({ line, problem }) => `  line ${line}: ${problem}`),
    ...(unreadCount > unread.length ? [`  and ${unreadCount - unread.length} more`] : []),
  ]);
  const happened = Object.entries(told.byHappening).map(([what, count]) => `${count} ${what}`);
  const { events, wires, scenes, spawns } = told.seen;
  const seen = (what: string, { seen, of }: SeenOf): string => `${seen} of ${of} ${what}`;
  const placed = ({ lines: places, evidence }: PlayFinding): string => {
    const byLog = logs.flatMap(({ file }, session) => {
      const own = places.filter((place) => place.session === session).map(({ line }) => line);
      return own.length > 0 ? [`${own.length === 1 ? 'line' : 'lines'} ${own.join(', ')} of ${file}`] : [];
    });
    return [...byLog, ...evidence.map(({ file, range }) => `${file}:${range.line}`)].join('; ');
  };
  return `${[
    ...lines,
    '',
    `Seen: ${[
      seen('events that the map has sent', events),
      ...(wires ? [seen('listeners handled', wires)] : []),
      seen('scenes loaded', scenes),
      seen('things spawned', spawns),
    ].join(', ')}.`,
    happened.length > 0 ? `What happened: ${happened.join(', ')}.` : 'Nothing happened.',
    ...PLAY_CHECKS.flatMap(({ id, title }) => {
      const found = told.findings.filter(({ check }) => check === id);
      const count = told.counts[id] ?? 0;
      const shown = found.slice(0, MOST_TOLD);
      return found.length === 0
        ? []
        : [
            '',
            `${title} (${id})`,
            ...shown.flatMap((one) => [
              `  ${one.severity}: ${one.text}`,
              ...(placed(one) ? [`      ${placed(one)}`] : []),
            ]),
            ...(count > shown.length ? [`  and ${count - shown.length} more`] : []),
          ];
    }),
  ].join('\n')}\n`;
}
