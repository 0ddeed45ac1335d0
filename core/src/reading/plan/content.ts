/** What is found in a file by the rule that reads it: in a script, by the rules of its tables. */
import { entryOf } from '../../helpers/at.js';
import { once } from '../../helpers/once.js';
import type { FileFacts } from '../facts.js';
import type { ContentRules, Plan, ScriptRule, TableRule } from './plan.js';

const GROUPS = ['pieces', 'references', 'events', 'connections', 'attachments'] as const;
type Group = (typeof GROUPS)[number];

/** A rule inside a table's has the table's name in front of its own, as in `limits/cargo`. */
function within(table: string, rule: string): string {
  return `${table}/${rule}`;
}

/** The rules of one table, by the names that facts know them under. */
export function tableContent(name: string, table: TableRule): ContentRules {
  const renamed = <Rule>(rules: Record<string, Rule>): Record<string, Rule> =>
    Object.fromEntries(Object.entries(rules).map(([rule, value]) => [within(name, rule), value]));
  return {
    pieces: renamed(table.pieces),
    references: renamed(table.references),
    events: renamed(table.events),
    connections: renamed(table.connections),
    attachments: renamed(table.attachments),
  };
}

const allTables = once(({ tables }: ScriptRule): ContentRules => {
  const whole: ContentRules = { pieces: {}, references: {}, events: {}, connections: {}, attachments: {} };
  for (const [name, table] of Object.entries(tables)) {
    const content = tableContent(name, table);
    for (const group of GROUPS) Object.assign(whole[group], content[group]);
  }
  return whole;
});

/** The rules by whose names the facts of a file go. */
export function contentOf(plan: Plan, { kind, rule }: Pick<FileFacts, 'kind' | 'rule'>): ContentRules {
  return kind === 'script' ? allTables(entryOf(plan.scripts, rule)) : entryOf(plan.files, rule);
}

/** Where the rule of something in a file stands in the plan: `files.scene.pieces.object`. */
export function ruleKey({ kind, rule }: Pick<FileFacts, 'kind' | 'rule'>, group: Group, name: string): string {
  if (kind !== 'script') return `files.${rule}.${group}.${name}`;
  const [table = ''] = name.split('/', 1);
  return `scripts.${rule}.tables.${table}.${group}.${name.slice(table.length + 1)}`;
}

/** The places of all rules of a plan that something is found by in trees. */
export function contentKeys({ files, scripts }: Plan): string[] {
  const keysIn = (at: string, rules: ContentRules): string[] =>
    GROUPS.flatMap((group) => Object.keys(rules[group]).map((name) => `${at}.${group}.${name}`));
  return [
    ...Object.entries(files).flatMap(([name, rule]) => keysIn(`files.${name}`, rule)),
    ...Object.entries(scripts).flatMap(([name, { tables }]) =>
      Object.entries(tables).flatMap(([table, rule]) => keysIn(`scripts.${name}.tables.${table}`, rule)),
    ),
  ];
}
