import { itemAt } from '../helpers/at.js';
import type { FileFacts } from '../reading/facts.js';
import type { Plan } from '../reading/plan/plan.js';
import type { RuleCount } from './linked.js';

/** The count of one rule, begun when there is none. */
export function countOf(counts: Map<string, RuleCount>, rule: string): RuleCount {
  let count = counts.get(rule);
  if (!count) counts.set(rule, (count = { files: 0, pieces: 0, links: 0, lost: 0 }));
  return count;
}

/** Counts what each rule found in the facts. Every rule of the plan gets a count, so that idle ones show as zero. */
export function countFacts(facts: FileFacts[], plan: Plan): Map<string, RuleCount> {
  const counts = new Map<string, RuleCount>();
  for (const name of Object.keys(plan.scripts)) countOf(counts, `scripts.${name}`);
  for (const [name, rule] of Object.entries(plan.files)) {
    countOf(counts, `files.${name}`);
    for (const group of ['pieces', 'references', 'events', 'connections', 'attachments'] as const) {
      for (const inner of Object.keys(rule[group])) countOf(counts, `files.${name}.${group}.${inner}`);
    }
  }
  for (const name of Object.keys(plan.literals)) countOf(counts, `literals.${name}`);
  plan.calls.forEach((rule) => countOf(counts, callKey(rule.call)));
  for (const fact of facts) countFile(counts, fact, plan);
  return counts;
}

export function callKey(call: string): string {
  return `calls: ${call}`;
}

/** Counts what rules found in one file; with a sign of -1 it is taken back. */
export function countFile(counts: Map<string, RuleCount>, fact: FileFacts, plan: Plan, sign: 1 | -1 = 1): void {
  const key = fact.script ? `scripts.${fact.rule}` : `files.${fact.rule}`;
  const file = countOf(counts, key);
  file.files += sign;
  file.pieces += sign * (fact.script ? fact.script.types.length : 1);
  for (const piece of fact.pieces) countOf(counts, `${key}.pieces.${piece.rule}`).pieces += sign;
  for (const event of fact.events) countOf(counts, `${key}.events.${event.rule}`).links += sign;
  for (const entry of fact.attachments) countOf(counts, `${key}.attachments.${entry.rule}`).links += sign;
  for (const operation of fact.script?.operations ?? [])
    countOf(counts, callKey(itemAt(plan.calls, operation.rule).call)).links += sign;
}
