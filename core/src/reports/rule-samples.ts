/** What a rule of the plan found first, to see at a glance whether it finds what was meant. */
import { itemAt } from '../helpers/at.js';
import type { FileFacts, Written } from '../reading/facts.js';
import { ruleKey } from '../reading/plan/content.js';
import type { Plan } from '../reading/plan/plan.js';
import { callKey } from '../linking/rule-counts.js';
import type { Range } from '../model/piece.js';

export interface RuleSample {
  /** What was found: a name, a text as written. */
  text: string;
  file: string;
  /** 1-based. */
  line: number;
}

/** One sample for each rule that found something, by its key in the plan. */
export function ruleSamples(facts: FileFacts[], plan: Plan): Map<string, RuleSample> {
  const samples = new Map<string, RuleSample>();
  for (const fact of facts) {
    const add = (rule: string, text: string, { line }: Range): void => {
      if (text && !samples.has(rule)) samples.set(rule, { text, file: fact.file, line });
    };
    const addWritten = (rule: string, { text, range }: Written): void => add(rule, text, range);
    const { script } = fact;
    if (script) {
      const rule = script.rule ?? fact.rule;
      add(`scripts.${rule}`, script.types[0]?.name ?? fact.name, script.types[0]?.range ?? fact.range);
      for (const { rule, range, arguments: given } of script.operations) {
        const said = Object.values(given).find((value) => value.is === 'text' || value.is === 'constant');
        const text =
          said?.is === 'text' ? said.text : said?.is === 'constant' ? said.name : itemAt(plan.calls, rule).means;
        add(callKey(itemAt(plan.calls, rule).call), text, range);
      }
      for (const literal of script.literals) addWritten(`literals.${literal.rule}`, literal);
    }
    if (fact.kind !== 'script') add(`files.${fact.rule}`, fact.name, fact.range);
    for (const { rule, name, id, range } of fact.pieces) add(ruleKey(fact, 'pieces', rule), name || id, range);
    for (const reference of fact.references) addWritten(ruleKey(fact, 'references', reference.rule), reference);
    for (const { rule, event, range } of fact.events) add(ruleKey(fact, 'events', rule), event, range);
    for (const { rule, to, range } of fact.connections) add(ruleKey(fact, 'connections', rule), to, range);
    for (const { rule, script: path } of fact.attachments) addWritten(ruleKey(fact, 'attachments', rule), path);
  }
  return samples;
}
