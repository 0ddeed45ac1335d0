import { itemAt } from '../helpers/at.js';
import type { FileFacts } from '../reading/facts.js';
import { ruleKey, ruleKeys } from '../reading/plan/content.js';
import type { Plan } from '../reading/plan/plan.js';
import type { LookUp, RuleCount } from './linked.js';

/** The count of one rule, begun when there is none. */
export function countOf(counts: Map<string, RuleCount>, rule: string): RuleCount {
  let count = counts.get(rule);
  if (!count) counts.set(rule, (count = { files: 0, pieces: 0, links: 0, lost: 0 }));
  return count;
}

/** Counts what each rule found in the facts. Every rule of the plan gets a count, so that idle ones show as zero. */
export function countFacts(facts: FileFacts[], plan: Plan): Map<string, RuleCount> {
  const counts = new Map<string, RuleCount>();
  for (const key of ruleKeys(plan)) countOf(counts, key);
  for (const name of Object.keys(plan.literals)) countOf(counts, `literals.${name}`);
  for (const rule of plan.calls) countOf(counts, callKey(rule.call)).uses = 0;
  for (const fact of facts) countFile(counts, fact, plan);
  return counts;
}

export function callKey(call: string): string {
  return `calls: ${call}`;
}

/** Counts what rules found in one file; with a sign of -1 it is taken back. */
export function countFile(counts: Map<string, RuleCount>, fact: FileFacts, plan: Plan, sign: 1 | -1 = 1): void {
  const isScript = fact.kind === 'script';
  const key = isScript ? `scripts.${fact.rule}` : `files.${fact.rule}`;
  const file = countOf(counts, key);
  file.files += sign;
  file.pieces += sign * (isScript ? (fact.script?.types.length ?? 0) : 1);
  for (const { rule } of fact.pieces) countOf(counts, ruleKey(fact, 'pieces', rule)).pieces += sign;
  for (const { rule } of fact.events) countOf(counts, ruleKey(fact, 'events', rule)).links += sign;
  for (const { rule } of fact.attachments) countOf(counts, ruleKey(fact, 'attachments', rule)).links += sign;
  for (const operation of fact.script?.operations ?? []) {
    if (operation.isHanded) continue;
    const count = countOf(counts, callKey(itemAt(plan.calls, operation.rule).call));
    count.uses = (count.uses ?? 0) + sign;
  }
}

/** The counts together with what look-ups came to, from all places; look-ups by script and operation. */
export function withLookUps(
  counts: ReadonlyMap<string, RuleCount>,
  facts: readonly FileFacts[],
  plan: Plan,
  lookUps: ReadonlyMap<number, LookUp[]>,
): Map<string, RuleCount> {
  const all = new Map([...counts].map(([rule, count]) => [rule, { ...count }]));
  for (const [source, ofScript] of lookUps) {
    const operations = itemAt(facts, source).script?.operations ?? [];
    ofScript.forEach(({ foundCount, lost }, at) => {
      const count = countOf(all, callKey(itemAt(plan.calls, itemAt(operations, at).rule).call));
      count.links += foundCount;
      count.lost += lost.length;
    });
  }
  return all;
}
