#!/usr/bin/env node
import { readFileSync } from 'node:fs';
import { homedir } from 'node:os';
import { join } from 'node:path';
import { ERRORS, GlueError, REPORT_FORMATS } from '@glue-trace/core';
import { Command, CommanderError, InvalidArgumentError, Option } from 'commander';
import { LEAST_SURE } from '@glue-trace/core';
import { hookCommand, type HookFlags } from './hook-command.js';
import { mapCommand, type MapFlags } from './map-command.js';
import { planCheck, planLearn, type LearnFlags } from './plan-commands.js';
import { playCheck, type PlayFlags } from './play-command.js';
import { playRecord, type RecordFlags } from './play-record.js';
import { repairCommand, type RepairFlags } from './repair-command.js';
import { scanCommand, type ScanFlags } from './scan-command.js';
import { serveCommand, type ServeFlags } from './serve-command.js';
import { endWhenUnheard, remark } from './terminal.js';

const { version } = JSON.parse(readFileSync(new URL('../package.json', import.meta.url), 'utf8')) as {
  version: string;
};

const program = new Command('glue')
  .description(
    'Glue Trace: maps how the scripts, prefabs, objects and data of a game project connect, and finds what is broken.',
  )
  .version(version)
  .exitOverride()
  .configureHelp({ sortSubcommands: true })
  .showHelpAfterError('Run with --help for what is possible.');

program
  .command('scan')
  .description(
    'Scan a project and report what is wrong. Ends with 0: nothing at the threshold, 1: something, 2: wrong use, or too little of the project is read, 3: our fault.',
  )
  .argument('<dir>', 'folder of the project')
  .option('--plan <file>', 'reading plan to use instead of the one in the folder')
  .addOption(new Option('--format <format>', 'how to write the findings').choices(REPORT_FORMATS).default('text'))
  .option('--out <file>', 'write to this file instead of the terminal')
  .addOption(
    new Option('--fail-on <severity>', 'lowest severity that makes the command fail')
      .choices(['error', 'warning', 'note', 'never'])
      .default('error'),
  )
  .option(
    '--new-since <what>',
    'only what is new since then counts: a branch, tag or commit, “scan:12”, or “file:baseline.json”',
  )
  .option('--route <name>', 'only what a play test can reach: a saved route, “start”, or a scene it begins with')
  .option('--allow-unread', 'do not mind how little of the project is read')
  .option('--waived', 'show waived findings as well')
  .option('--data <dir>', 'where scans are kept', dataFolder())
  .action((dir: string, flags: ScanFlags) => scanCommand(dir, flags, version));

program
  .command('repair')
  .description('Show what repairs come to as a unified diff, and write them when asked.')
  .argument('<dir>', 'folder of the project')
  .option('--plan <file>', 'reading plan to use instead of the one in the folder')
  .option('--check <ids...>', 'only findings of these checks')
  .option('--finding <fingerprints...>', 'only these findings')
  .option('--unsure', 'also those that somebody has to look at', false)
  .option('--choose <number>', 'which of the repairs that can be written, likeliest first', number, 1)
  .option('--out <file>', 'write the diff to this file instead of the terminal')
  .option('--write', 'write the repairs into the files')
  .option('--undo', 'take back what was written last')
  .option('--data <dir>', 'where what was written is remembered', dataFolder())
  .action((dir: string, flags: RepairFlags) => repairCommand(dir, flags));

program
  .command('map')
  .description('Write the map for other programs: as GraphML or DOT, whole or what lies around a piece.')
  .argument('<dir>', 'folder of the project')
  .option('--plan <file>', 'reading plan to use instead of the one in the folder')
  .addOption(new Option('--format <format>', 'how to write it').choices(['graphml', 'dot']).default('graphml'))
  .option('--around <piece>', 'only what lies around this piece: its name or its key')
  .option('--steps <number>', 'so many links away from it', number, 2)
  .option('--out <file>', 'write to this file instead of the terminal')
  .action((dir: string, flags: MapFlags) => mapCommand(dir, flags));

program
  .command('hook')
  .description('Write a hook for git that lets a commit pass only when it brings nothing new that is broken.')
  .argument('[dir]', 'top folder of the repository', '.')
  .addOption(
    new Option('--fail-on <severity>', 'lowest severity that stops a commit')
      .choices(['error', 'warning', 'note'])
      .default('error'),
  )
  .option('--force', 'replace a hook that somebody else wrote')
  .action((dir: string, flags: HookFlags) => hookCommand(dir, flags));

program
  .command('serve')
  .description('Open the interface in a browser, on this machine only.')
  .argument('[dirs...]', 'folders of projects to open')
  .option('--plan <file>', 'reading plan for the first folder')
  .option('--port <port>', 'port to listen on; 0 takes a free one', port, 4860)
  .option('--data <dir>', 'where scans are kept', dataFolder())
  .action((dirs: string[], flags: ServeFlags) => serveCommand(dirs, flags, version));

const plan = program.command('plan').description('Write and check reading plans.');
plan
  .command('learn')
  .description(
    'Learn a plan from the files of a project, and show its rules with how many of their texts lead somewhere; beside a plan that stands, only what that does not say, and what of it does not hold.',
  )
  .argument('<dir>', 'folder of the project')
  .option('--write', 'write the plan into the folder, or add what is new to the one that stands')
  .option('--print', 'print the plan')
  .option('--sure <share>', 'leave out rules that are less sure, from 0 to 1', share, LEAST_SURE)
  .addOption(new Option('--format <format>', 'how to show the rules').choices(['text', 'json']).default('text'))
  .action((dir: string, flags: LearnFlags) => planLearn(dir, flags));
plan
  .command('init')
  .description(
    'Write a plan that was learned from the files of a project, where there is none: as “plan learn --write”.',
  )
  .argument('<dir>', 'folder of the project')
  .option('--print', 'print the plan instead of writing it')
  .action((dir: string, { print }: { print?: boolean }) =>
    planLearn(dir, { isFirst: true, print, write: !print, sure: LEAST_SURE, format: 'text' }),
  );
plan
  .command('check')
  .description(
    'Say what each rule of a plan yields, and which files nothing reads. Ends with 1 when a rule for files, pieces or references finds nothing.',
  )
  .argument('<dir>', 'folder of the project')
  .option('--plan <file>', 'reading plan to use instead of the one in the folder')
  .option('--allow-empty', 'end with 0 also when such a rule finds nothing')
  .action((dir: string, flags: { plan?: string; allowEmpty?: boolean }) => planCheck(dir, flags));

const play = program.command('play').description('Read what a running game told of itself.');
play
  .command('check')
  .description(
    'Tell how what happened in play stands to the map. Ends with 1 when something worse than a note is found.',
  )
  .argument('<dir>', 'folder of the project')
  .argument('<logs...>', 'play logs, or “-” for standard input')
  .option('--plan <file>', 'reading plan to use instead of the one in the folder')
  .option('--route <name>', 'only what a play test can reach: a saved route, “start”, or a scene it begins with')
  .addOption(new Option('--format <format>', 'how to tell it').choices(['text', 'json']).default('text'))
  .action((dir: string, logs: string[], flags: PlayFlags) => playCheck(dir, logs, flags));
play
  .command('record')
  .description(
    'Send what a game writes to the server that is open, as a session: lines of standard input, or of a file.',
  )
  .argument('<dir>', 'folder of the project')
  .option('--name <name>', 'what the session is called', 'recorded')
  .option('--follow <file>', 'read this file, and go on as it grows, until stopped')
  .option('--data <dir>', 'where scans are kept', dataFolder())
  .action((dir: string, flags: RecordFlags) => playRecord(dir, flags));

/** Where scans and repairs are kept. */
function dataFolder(): string {
  return process.env['GLUE_TRACE_DATA'] ?? join(homedir(), '.glue-trace');
}

function number(text: string): number {
  const value = Number(text);
  if (!Number.isInteger(value) || value < 1) throw new InvalidArgumentError('A number from 1 up.');
  return value;
}

function share(text: string): number {
  const value = Number(text);
  if (!(value >= 0 && value <= 1)) throw new InvalidArgumentError('A share is a number from 0 to 1.');
  return value;
}

function port(text: string): number {
  const number = Number(text);
  if (!Number.isInteger(number) || number < 0 || number > 65535)
    throw new InvalidArgumentError('A port is a number from 0 to 65535.');
  return number;
}

/** Ends with one clear line; never with a stack trace. */
function explain(error: unknown): number {
  if (error instanceof CommanderError) return error.exitCode === 0 ? 0 : 2;
  if (error instanceof GlueError) {
    remark(`glue: ${error.message} [${error.code}]`);
    for (const { file, key, message, line } of error.mistakes.slice(1))
      remark(`glue: ${file === undefined ? '' : `${file}, `}line ${line}: ${key}: ${message}`);
    return ERRORS[error.code].exit;
  }
  const detail = error instanceof Error ? error.message : String(error);
  remark(`glue: ${ERRORS['fault/ours'].title}: ${detail} [fault/ours]`);
  if (process.env['GLUE_TRACE_DEBUG']) remark(`${(error as Error).stack}`);
  return ERRORS['fault/ours'].exit;
}

endWhenUnheard();
try {
  await program.parseAsync();
} catch (error) {
  process.exitCode = explain(error);
}
