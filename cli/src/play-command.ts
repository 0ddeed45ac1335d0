import { createReadStream, existsSync } from 'node:fs';
import { createInterface } from 'node:readline';
import { createPlayReport, GlueError, readPlayLine, type Met, type PlayAgainstMap } from '@glue-trace/core';
import { scanFolder } from '@glue-trace/server';
import { give, tell } from './terminal.js';

export interface PlayFlags {
  plan?: string;
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

/** Reads play logs, and tells how what happened stands to the map. Ends with 1 when the map does not know some of it. */
export async function playCheck(dir: string, files: string[], { plan, format }: PlayFlags): Promise<void> {
  const missing = files.find((file) => file !== '-' && !existsSync(file));
  if (missing !== undefined)
    throw new GlueError(
      'file/missing',
      `There is no play log at ${missing}. Give the path of a *.play.ndjson, or “-” for standard input.`,
    );
  const { analysis } = await scanFolder({ folder: dir, planFile: plan, learns: true });
  const report = createPlayReport(analysis.linked.graph, analysis.linked.plan.engine.events);
  const logs: Log[] = [];
  for (const file of files) logs.push(await readLog(file, report));
  const told = report.end();
  if (format === 'json') await give(`${JSON.stringify({ logs, ...told }, null, 2)}\n`);
  else await tell(inWords(logs, told));
  process.exitCode = told.unknownEvents.length + told.unknownSenders.length > 0 ? 1 : 0;
}

async function readLog(file: string, report: ReturnType<typeof createPlayReport>): Promise<Log> {
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
  const list = (title: string, all: readonly string[]): string[] =>
    all.length === 0
      ? []
      : [
          '',
          title,
          ...all.slice(0, MOST_TOLD).map((one) => `  ${one}`),
          ...(all.length > MOST_TOLD ? [`  and ${all.length - MOST_TOLD} more`] : []),
        ];
  const met = ({ name, times, line, near }: Met): string =>
    `${name}: ${times} times, first in line ${line}${near === undefined ? '' : `; there is ${near}`}`;
  return `${[
    ...lines,
    '',
    `Seen: ${told.seen.events.seen} of ${told.seen.events.of} events that the map has sent, ${told.seen.scenes.seen} of ${told.seen.scenes.of} scenes loaded.`,
    happened.length > 0 ? `What happened: ${happened.join(', ')}.` : 'Nothing happened.',
    ...list('Events that the map does not know:', told.unknownEvents.map(met)),
    ...list('Senders that are not on the map:', told.unknownSenders.map(met)),
    ...list('Sent, listened to on the map, and handled by nothing:', told.neverHandled.map(met)),
    ...list('Handled more than once for one sending:', told.handledTwice.map(met)),
    ...list('The map knows who sends them, and they were never sent:', told.neverSent),
  ].join('\n')}\n`;
}
