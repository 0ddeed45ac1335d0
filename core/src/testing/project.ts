/** Small made-up projects for specs: files as texts, analysed as a real scan does it. */
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { analyse, type Analysis } from '../analyse.js';
import { CHECK_IDS } from '../checks/registry.js';
import { plain, type Finding } from '../model/finding.js';
import { NO_HISTORY, type History, type Version } from '../model/history.js';
import type { FileFacts } from '../reading/facts.js';
import { LANGUAGES, type Plan } from '../reading/plan/plan.js';
import { readPlan, type LoadPlan } from '../reading/plan/read-plan.js';
import { readFile } from '../reading/read-file.js';
import { factsOfName, readsText, ruleFor } from '../reading/read-structured.js';
import { prepareGrammars } from '../reading/scripts/languages.js';
import { toldInFull } from './told-in-full.js';

const require = createRequire(import.meta.url);

/** Makes the script grammars ready; call in `beforeAll`. */
export async function useGrammars(): Promise<void> {
  await prepareGrammars(LANGUAGES, async (path) => readFileSync(require.resolve(path)));
}

const OBJECTS = {
  objects: {
    at: '$..objects[*]',
    kind: 'object',
    id: '$.id',
    madeFrom: { field: '$.prefab' },
    labels: '$.labels[*]',
    parts: { at: '$.parts[*]', type: '$.type', script: { field: '$.script' }, values: '$.slots' },
  },
};
const REFERENCES = {
  identities: { at: '$..slots..*', by: 'id', pattern: '^#(.+)$' },
  paths: { at: '$..slots..*', by: 'path', pattern: '^data/.+$' },
  ways: { at: '$..slots..*', by: 'object path', pattern: '^@(.+)$' },
};

/** The plan that the specs' projects are written for. */
export const PLAN = {
  version: 1,
  name: 'A small flight',
  files: {
    scenes: {
      match: 'scenes/*',
      as: 'scene',
      pieces: OBJECTS,
      references: REFERENCES,
      events: {
        wires: {
          at: '$.wires[*]',
          event: '$.when',
          from: { select: '$.from', pattern: '^#(.+)$' },
          to: { select: '$.to', pattern: '^#(.+)$' },
          handler: '$.do',
        },
      },
    },
    prefabs: { match: 'prefabs/*', as: 'prefab', pieces: OBJECTS, references: REFERENCES },
    data: { match: 'data/*', as: 'data asset' },
  },
  scripts: {
    ts: {
      match: 'scripts/*.ts',
      language: 'typescript',
      exposed: { decorators: ['slot'] },
      moments: { start: ['begin'], everyFrame: ['everyFrame'] },
    },
    py: { match: 'scripts/*.py', language: 'python', exposed: { types: ['Slot'] }, moments: { start: ['begin'] } },
  },
  calls: [
    { call: '*.holder', means: 'step up' },
    { call: '*.child($name)', means: 'child' },
    { call: '*.way($path)', means: 'object path' },
    { call: '*.part($type)', means: 'part' },
    { call: '*.hasPart($type)', means: 'asks part' },
    { call: 'stage.find($name)', means: 'find' },
    { call: 'stage.labelled($label)', means: 'find label' },
    { call: 'bells.ring($event, ...)', means: 'send' },
    { call: 'bells.hear($event, $handler)', means: 'listen' },
    { call: 'spawnFrom($path)', means: 'spawn' },
    { call: 'table($path)', means: 'use file' },
  ],
  house: { unattached: 'fine' },
  engine: { events: ['engine.*'], objects: ['Joint'], parts: ['Body'], files: ['engine/*'] },
};

export function planOf(changes: object = {}): Plan {
  return readPlan(JSON.stringify({ ...PLAN, ...changes }), CHECK_IDS);
}

/** Objects that stand in a file are given as values and written as JSON. */
export type Files = Record<string, string | object>;

export function factsOf(files: Files, plan: Plan): { facts: FileFacts[]; others: string[] } {
  const facts: FileFacts[] = [];
  const others: string[] = [];
  for (const [path, content] of Object.entries(files)) {
    const rule = ruleFor(plan, path);
    const text = typeof content === 'string' ? content : JSON.stringify(content, null, 1);
    if (!rule) others.push(path);
    else facts.push(readsText(rule, path) ? readFile(path, text, rule, plan) : factsOfName(path, rule));
  }
  return { facts, others };
}

export function scan(files: Files, changes: object = {}): Analysis {
  const plan = planOf(changes);
  const { facts, others } = factsOf(files, plan);
  return toldInFull(analyse(facts, others, plan));
}

/** What is committed, oldest first: on 2026-03-01, on the day after, and so on. Each says what has changed. */
export type Commits = { subject: string; files: Files }[];

/** Scans a project that has a version history, as of its last commit and of what was changed since. */
export function scanAfter(commits: Commits, since: Files = {}, changes: object = {}): Analysis {
  const plan = planOf(changes);
  const now = Object.assign({}, ...commits.map(({ files }) => files), since) as Files;
  const { facts, others } = factsOf(now, plan);
  return toldInFull(analyse(facts, others, plan, undefined, historyOf(commits, plan)));
}

function historyOf(commits: Commits, plan: Plan): History {
  const versionsOf = (path: string): Version[] => {
    const touching = commits.flatMap(({ subject, files }, at) => (path in files ? [{ subject, files, at }] : []));
    return touching
      .map(({ subject, files, at }, position): Version => ({
        commit: { id: `c${at}`, day: `2026-03-${String(at + 1).padStart(2, '0')}`, order: at, subject },
        isFirst: position === 0,
        facts: () => factsOf({ [path]: files[path] }, plan).facts[0],
      }))
      .reverse();
  };
  return { ...NO_HISTORY, versionsOf };
}

/** Scans with a plan of its own. */
export function scanWith(files: Files, plan: object, load?: LoadPlan): Analysis {
  const read = readPlan(JSON.stringify({ version: 1, name: 'Small', ...plan }), CHECK_IDS, load);
  const { facts, others } = factsOf(files, read);
  return toldInFull(analyse(facts, others, read));
}

/** A scene with these objects. */
export function scene(...objects: object[]): object {
  return { objects };
}

/** A script whose only type has this body and runs `begin`. */
export function script(name: string, begin: string, rest = ''): string {
  return `export class ${name} extends Behaviour {\n  ${rest}\n  begin() {\n    ${begin}\n  }\n}\n`;
}

/** An object that carries a script. */
export function carrier(name: string, file: string, more: object = {}, slots: object = {}): object {
  return { name, parts: [{ script: `scripts/${file}`, slots }], ...more };
}

/** `check: sentence @ file:line` of every finding of a check. */
export function told(analysis: Analysis, check: string): string[] {
  return analysis.findings.filter((finding) => finding.check === check).map(line);
}

export function line(finding: Finding): string {
  const [{ file, range }] = finding.evidence;
  return `${plain(finding.sentence)} @ ${file}:${range.line}`;
}
