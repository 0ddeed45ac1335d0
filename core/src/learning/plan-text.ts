/** A learned plan as text: rules with comments that carry the evidence, and what was learned for later. */
import type { LearnedPlan } from './plan-of.js';
import type { Evidence } from './rules.js';

/** Stands for a comment while the plan is still an object. */
const NOTE = '$note';
const MOST_EXAMPLES = 2;

/** @param least rules that are less sure are left out */
export function planText({ plan, evidence }: LearnedPlan, least = 0): string {
  const kept = new Map(evidence.map((one) => [one.key, one]));
  const isIn = (key: string): boolean => (kept.get(key)?.sure ?? 1) >= least;
  const files = Object.fromEntries(
    Object.entries(plan.files as Record<string, Record<string, unknown>>).map(([name, rule]) => {
      const references = Object.entries((rule.references ?? {}) as Record<string, object>).flatMap(
        ([key, reference]) => {
          const at = `files.${name}.references.${key}`;
          return isIn(at) ? [[key, noted(kept.get(at), reference)] as const] : [];
        },
      );
      return [name, { ...rule, ...(rule.references !== undefined && { references: Object.fromEntries(references) }) }];
    }),
  );
  const calls = ((plan.calls ?? []) as { call: string }[]).flatMap((row) => {
    const at = `calls: ${row.call}`;
    return isIn(at) ? [noted(kept.get(at), row)] : [];
  });
  const rules = Object.fromEntries(
    evidence
      .filter(({ key }) => isIn(key))
      .map(({ key, sure, of, leads }) => [key, { sure: Math.round(sure * 1000) / 1000, of, leads }]),
  );
  const whole = {
    [NOTE]: 'Learned from the project: see docs/learning.md. What stands under “learned” nobody has looked at yet.',
    ...plan,
    files,
    ...(plan.calls !== undefined && { calls }),
    learned: { rules },
  };
  return `${JSON.stringify(whole, null, 2).replace(/^(\s*)"\$note": "(.*)",$/gm, (_, space: string, text: string) => `${space}// ${unquoted(text)}`)}\n`;
}

function noted(evidence: Evidence | undefined, rule: object): object {
  if (!evidence) return rule;
  const { leads, of, sure, examples, misses } = evidence;
  const shown = examples.slice(0, MOST_EXAMPLES).map((text) => `“${text}”`);
  const lost =
    misses.length > 0
      ? `; not ${misses
          .slice(0, MOST_EXAMPLES)
          .map((text) => `“${text}”`)
          .join(', ')}`
      : '';
  const words = `${leads} of ${of} lead somewhere, ${Math.round(sure * 100)} % sure${shown.length > 0 ? `: ${shown.join(', ')}` : ''}${lost}`;
  // What stands in a comment must stay on its line.
  return { [NOTE]: words.replace(/\s+/g, ' '), ...rule };
}

function unquoted(text: string): string {
  try {
    return JSON.parse(`"${text}"`) as string;
  } catch {
    return text;
  }
}
