/** A learned plan as text: rules with comments that carry the evidence, and what was learned for later. */
import type { LearnedPlan } from './plan-of.js';
import type { Evidence } from './rules.js';

/** Stands for a comment while the plan is still an object. */
const NOTE = '$note';
const MOST_EXAMPLES = 2;

type Named = Record<string, Record<string, unknown>>;

/** Rules that are less sure are no more than a guess. */
export const LEAST_SURE = 0.5;

/** @param least rules that are less sure are left out, from 0 to 1 */
export function planText({ plan, evidence }: LearnedPlan, least = LEAST_SURE): string {
  const kept = new Map(evidence.map((one) => [one.key, one]));
  const isIn = (key: string): boolean => (kept.get(key)?.sure ?? 1) >= least;
  const withReferences = (all: Named, of: string): Named =>
    Object.fromEntries(
      Object.entries(all).map(([name, rule]) => {
        if (rule.references === undefined) return [name, rule];
        const references = Object.entries(rule.references as Record<string, object>).flatMap(([key, reference]) => {
          const at = `${of}.${name}.references.${key}`;
          return isIn(at) ? [[key, noted(kept.get(at), reference)] as const] : [];
        });
        return [name, { ...rule, references: Object.fromEntries(references) }];
      }),
    );
  const files = withReferences(plan.files as Named, 'files');
  const scripts = Object.fromEntries(
    Object.entries((plan.scripts ?? {}) as Named).map(([name, rule]) => [
      name,
      rule.tables === undefined
        ? rule
        : { ...rule, tables: sayingSomething(withReferences(rule.tables as Named, `scripts.${name}.tables`)) },
    ]),
  );
  const calls = ((plan.calls ?? []) as { call: string }[]).flatMap((row) => {
    const at = `calls: ${row.call}`;
    return isIn(at) ? [noted(kept.get(at), row)] : [];
  });
  const rules = Object.fromEntries(
    evidence
      // What stays in the plan though it is less sure must be told as what it is.
      .filter(({ key }) => isIn(key) || !(key.startsWith('calls: ') || key.includes('.references.')))
      .map(({ key, sure, of, leads }) => [key, { sure: Math.round(sure * 1000) / 1000, of, leads }]),
  );
  const whole = {
    [NOTE]: 'Learned from the project: see docs/learning.md. What stands under “learned” nobody has looked at yet.',
    ...plan,
    files,
    ...(plan.scripts !== undefined && { scripts }),
    ...(plan.calls !== undefined && { calls }),
    learned: { rules },
  };
  return `${laidOut(whole, '')}\n`;
}

/** Tables of which something is said. */
function sayingSomething(tables: Named): Named {
  const isSaid = ({ pieces, events, references = {} }: Record<string, unknown>): boolean =>
    pieces !== undefined || events !== undefined || Object.keys(references as object).length > 0;
  return Object.fromEntries(Object.entries(tables).filter(([, rule]) => isSaid(rule)));
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
  const fares = examples.length > 0 ? `${leads} of ${of} lead somewhere` : `${of} ${of === 1 ? 'place' : 'places'}`;
  const words = `${fares}, ${Math.round(sure * 100)} % sure${shown.length > 0 ? `: ${shown.join(', ')}` : ''}${lost}`;
  // What stands in a comment must stay on its line.
  return { [NOTE]: words.replace(/\s+/g, ' '), ...rule };
}

/** What fits on a line stands on one. */
const WIDTH = 110;

/** A value as JSON, laid out as people write plans; notes are comments. */
function laidOut(value: unknown, indent: string): string {
  const inner = `${indent}  `;
  if (Array.isArray(value)) {
    const line = `[${value.map((one) => laidOut(one, inner)).join(', ')}]`;
    if (fits(line, indent)) return line;
    return `[\n${value.map((one) => inner + laidOut(one, inner)).join(',\n')}\n${indent}]`;
  }
  if (typeof value !== 'object' || value === null) return JSON.stringify(value);
  const { [NOTE]: note, ...rest } = value as Record<string, unknown>;
  const entries = Object.entries(rest).filter(([, one]) => one !== undefined);
  if (entries.length === 0) return '{}';
  const written = entries.map(([key, one]) => `${JSON.stringify(key)}: ${laidOut(one, inner)}`);
  const line = `{ ${written.join(', ')} }`;
  if (note === undefined && indent !== '' && fits(line, indent)) return line;
  const comment = typeof note === 'string' ? `${inner}// ${note}\n` : '';
  // Under a comment, what fits on a line stays on one.
  const whole = `${inner}${written.join(', ')}`;
  if (note !== undefined && indent !== '' && fits(whole, '')) return `{\n${comment}${whole}\n${indent}}`;
  return `{\n${comment}${written.map((one) => inner + one).join(',\n')}\n${indent}}`;
}

const fits = (line: string, indent: string): boolean => !line.includes('\n') && indent.length + line.length <= WIDTH;
