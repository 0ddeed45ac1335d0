/** What was read by one plan and is the same by another, so that trying a small change does not read a project anew. */
import { itemAt, type FileFacts, type Plan, type RuleFor } from '@glue-trace/core';

/**
 * @param textOf the text of a file of the project
 * @returns whether the facts of a file are those that the second plan would give, too
 */
export function reusable(
  before: Plan,
  after: Plan,
  textOf: (path: string) => string,
): (rule: RuleFor, fact: FileFacts) => boolean {
  const sameRule = new Map<string, boolean>();
  const isSameRule = ({ of, name }: RuleFor): boolean => {
    const key = `${of}.${name}`;
    let is = sameRule.get(key);
    if (is === undefined) sameRule.set(key, (is = isAlike(before[of][name], after[of][name])));
    return is;
  };
  const words = isAlike(codePart(before), codePart(after)) ? changedWords(before, after) : undefined;
  return (rule, fact) => {
    const isScript = rule.of === 'scripts';
    if (fact.rule !== rule.name || (fact.kind === 'script') !== isScript || !isSameRule(rule)) return false;
    if (!isScript && !fact.script && !holdsCode(rule)) return true;
    if (words?.length === 0) return true;
    const text = words && textOf(fact.file);
    return text !== undefined && !words?.some((word) => text.includes(word));
  };
}

function isAlike(one: unknown, other: unknown): boolean {
  return JSON.stringify(one) === JSON.stringify(other);
}

/** What reading code asks of a plan, besides the call table. */
function codePart({ scripts, literals, globals }: Plan): unknown {
  return [scripts, literals, globals];
}

function holdsCode({ rule }: RuleFor): boolean {
  return Object.values(rule.embedded).some(({ script }) => script !== undefined);
}

/** What must stand in code that a changed row of the call table is about; undefined when that may be anything. */
function changedWords({ calls: before }: Plan, { calls: after }: Plan): string[] | undefined {
  const words: string[] = [];
  for (let at = 0; at < Math.max(before.length, after.length); at++) {
    if (isAlike(before[at], after[at])) continue;
    for (const row of [before[at], after[at]]) {
      if (!row) continue;
      const literal = row.pattern.member.split('*').sort((a, b) => b.length - a.length);
      const word = itemAt(literal, 0);
      if (word === '') return undefined;
      words.push(word);
    }
  }
  return words;
}
