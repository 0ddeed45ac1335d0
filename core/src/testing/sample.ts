/** The sample project, for specs that try it as a whole. */
import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { analyse, type Analysis } from '../analyse.js';
import { CHECK_IDS } from '../checks/registry.js';
import type { FileFacts } from '../reading/facts.js';
import type { Plan } from '../reading/plan/plan.js';
import { readPlan } from '../reading/plan/read-plan.js';
import { readFile } from '../reading/read-file.js';
import { factsOfName, readsText, ruleFor } from '../reading/read-structured.js';
import { toldInFull } from './told-in-full.js';

export const SAMPLE = fileURLToPath(new URL('../../../samples/sluicekeeper', import.meta.url));

/** The sample's plan, and the texts of its files by path, in order. */
export function sampleFiles(): { plan: Plan; texts: Map<string, string> } {
  const plan = readPlan(readFileSync(join(SAMPLE, 'glue-trace.json'), 'utf8'), CHECK_IDS);
  const paths = readdirSync(SAMPLE, { recursive: true, withFileTypes: true })
    .filter((entry) => entry.isFile())
    .map((entry) => join(entry.parentPath, entry.name).slice(SAMPLE.length + 1))
    .sort();
  return { plan, texts: new Map(paths.map((path) => [path, readFileSync(join(SAMPLE, path), 'utf8')])) };
}

export function factsOfText(plan: Plan, path: string, text: string): FileFacts | undefined {
  const rule = ruleFor(plan, path);
  if (!rule) return undefined;
  return readsText(rule, path) ? readOnce(plan, path, text, rule) : factsOfName(path, rule);
}

/** Facts of files last read: most files of the sample stay as they are from one analysis to the next. */
const read = new WeakMap<Plan, Map<string, { text: string; facts: FileFacts }>>();

function readOnce(plan: Plan, path: string, text: string, rule: NonNullable<ReturnType<typeof ruleFor>>): FileFacts {
  const known = read.get(plan) ?? new Map<string, { text: string; facts: FileFacts }>();
  read.set(plan, known);
  const last = known.get(path);
  if (last?.text === text) return last.facts;
  const facts = readFile(path, text, rule, plan);
  known.set(path, { text, facts });
  return facts;
}

export function analyseTexts(plan: Plan, texts: ReadonlyMap<string, string>): Analysis {
  const facts: FileFacts[] = [];
  const others: string[] = [];
  for (const [path, text] of texts) {
    const fact = factsOfText(plan, path, text);
    if (fact) facts.push(fact);
    else others.push(path);
  }
  return toldInFull(analyse(facts, others, plan));
}
