/** What is found in a file by the rule that reads it, and by the rules of documents inside it: tables in code, texts in texts. */
import { entryOf } from '../../helpers/at.js';
import { once } from '../../helpers/once.js';
import type { FileFacts } from '../facts.js';
import type { ContentRules, FileRule, Plan, ScriptRule } from './plan.js';

const GROUPS = ['pieces', 'references', 'events', 'connections', 'attachments'] as const;
type Group = (typeof GROUPS)[number];
/** Where documents inside files are told of in the plan. */
type Inside = 'tables' | 'embedded';

/** Stands in facts between the parts of a rule's name that is found in a document inside: no name in a plan has it. */
const MARK = '\u001f';

/** The rules of one document inside a file, by the names that facts know them under. */
export function insideContent(inside: Inside, name: string, rules: ContentRules): ContentRules {
  const renamed = <Rule>(all: Record<string, Rule>): Record<string, Rule> =>
    Object.fromEntries(Object.entries(all).map(([rule, value]) => [[inside, name, rule].join(MARK), value]));
  return {
    pieces: renamed(rules.pieces),
    references: renamed(rules.references),
    events: renamed(rules.events),
    connections: renamed(rules.connections),
    attachments: renamed(rules.attachments),
  };
}

const NONE: ContentRules = { pieces: {}, references: {}, events: {}, connections: {}, attachments: {} };

function insideOf(rule: FileRule | ScriptRule): { inside: Inside; name: string; rules: ContentRules }[] {
  const named = (
    inside: Inside,
    all: Record<string, ContentRules>,
  ): { inside: Inside; name: string; rules: ContentRules }[] =>
    Object.entries(all).map(([name, rules]) => ({ inside, name, rules }));
  return [...named('tables', 'tables' in rule ? rule.tables : {}), ...named('embedded', rule.embedded)];
}

const whole = once((rule: FileRule | ScriptRule): ContentRules => {
  const own: ContentRules = 'language' in rule ? NONE : rule;
  const inside = insideOf(rule);
  if (inside.length === 0) return own;
  const all: ContentRules = { ...own };
  for (const { inside: kind, name, rules } of inside) {
    const content = insideContent(kind, name, rules);
    for (const group of GROUPS) Object.assign(all, { [group]: { ...all[group], ...content[group] } });
  }
  return all;
});

/** The rules by whose names the facts of a file go. */
export function contentOf(plan: Plan, { kind, rule }: Pick<FileFacts, 'kind' | 'rule'>): ContentRules {
  return whole(kind === 'script' ? entryOf(plan.scripts, rule) : entryOf(plan.files, rule));
}

/** Where the rule of something in a file stands in the plan: `files.scene.pieces.object`. */
export function ruleKey({ kind, rule }: Pick<FileFacts, 'kind' | 'rule'>, group: Group, name: string): string {
  const home = `${kind === 'script' ? 'scripts' : 'files'}.${rule}`;
  const [inside, document, inner] = name.split(MARK);
  return inner === undefined ? `${home}.${group}.${name}` : `${home}.${inside}.${document}.${group}.${inner}`;
}

/** The places of all rules of a plan for files and scripts, each with those inside it behind it. */
export function ruleKeys({ files, scripts }: Plan): string[] {
  const keysIn = (at: string, rules: ContentRules): string[] =>
    GROUPS.flatMap((group) => Object.keys(rules[group]).map((name) => `${at}.${group}.${name}`));
  const keysInside = (at: string, rule: FileRule | ScriptRule): string[] =>
    insideOf(rule).flatMap(({ inside, name, rules }) => keysIn(`${at}.${inside}.${name}`, rules));
  return [
    ...Object.entries(scripts).flatMap(([name, rule]) => [`scripts.${name}`, ...keysInside(`scripts.${name}`, rule)]),
    ...Object.entries(files).flatMap(([name, rule]) => [
      `files.${name}`,
      ...keysIn(`files.${name}`, rule),
      ...keysInside(`files.${name}`, rule),
    ]),
  ];
}

/** The rule that reads the code of a file. */
export function scriptRuleOf(plan: Plan, { rule, script }: Pick<FileFacts, 'rule' | 'script'>): ScriptRule {
  return entryOf(plan.scripts, script?.rule ?? rule);
}
