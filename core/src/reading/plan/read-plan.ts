import { itemAt } from '../../helpers/at.js';
import type Joi from 'joi';
import { GlueError, type Mistake } from '../../model/errors.js';
import { linesOf } from '../lines.js';
import { readJson } from '../tree/json.js';
import { plainValue, type TreeNode } from '../tree/node.js';
import { BUILT_IN_PLANS } from './built-in/built-in.js';
import { parseCallPattern } from './call-pattern.js';
import { unfoldGraphs } from './graphs.js';
import { formless, idleRows } from './idle-rows.js';
import { mistakeAt, type Layer } from './layers.js';
import { didYouMean, mistakeOf } from './mistakes.js';
import { PLAN_FILE, type Plan } from './plan.js';
import { planSchema } from './schema.js';

/** Gives the text of a plan that another one builds on, by its name or path; undefined when there is none. */
export type LoadPlan = (name: string) => string | undefined;

/**
 * Reads and validates the text of a reading plan (JSON, comments allowed).
 * @param knownChecks ids of the checks, so that a misspelt one under `checks` is reported
 * @param load plans by name or path, for `extends`; the built-in ones are known without it
 * @throws GlueError `plan/not-json` or `plan/invalid` with every mistake: its key, what was expected and the nearest
 *   valid word, and its line
 */
export function readPlan(text: string, knownChecks: readonly string[] = [], load: LoadPlan = () => undefined): Plan {
  try {
    return checkedPlan(text, knownChecks, load);
  } catch (error) {
    if (!(error instanceof RangeError)) throw error;
    throw new GlueError('plan/not-json', `${PLAN_FILE} is nested too deeply to be read.`);
  }
}

/** Names of the rules for files that a plan has from built-in ones: not each project has something of all of them. */
export function builtInRules({ extends: bases }: Plan): Set<string> {
  const plans = bases.flatMap((name) => BUILT_IN_PLANS[name] ?? []);
  return new Set(plans.flatMap((text) => Object.keys(readPlan(text).files)));
}

function checkedPlan(text: string, knownChecks: readonly string[], load: LoadPlan): Plan {
  const own: Layer = { file: '', root: parse(text), lines: linesOf(text) };
  const layers = [own];
  const whole = withBases(own, load, layers, [], { plans: 0, length: 0 });
  const checked: Joi.ValidationResult<unknown> = planSchema.validate(whole, {
    abortEarly: false,
    errors: { wrap: { label: false } },
  });
  const { error } = checked;
  const value: unknown = checked.value;
  const mistakes = error ? error.details.map((detail) => mistakeOf(detail, layers)) : [];
  if (!error) {
    for (const rule of (value as Plan).calls) rule.pattern = parseCallPattern(rule.call);
    mistakes.push(...unknownChecks((value as Plan).checks, knownChecks, layers));
    for (const { key, message } of [
      ...unfoldGraphs(value as Plan),
      ...idleRows(value as Plan),
      ...formless(value as Plan),
    ])
      mistakes.push(mistakeAt(key, message, layers));
  }
  if (mistakes.length > 0) {
    const first = itemAt(mistakes, 0);
    const more = mistakes.length > 1 ? ` (and ${mistakes.length - 1} more)` : '';
    throw new GlueError(
      'plan/invalid',
      `${first.file ?? PLAN_FILE}, line ${first.line}: ${first.key}: ${first.message}${more}`,
      mistakes,
    );
  }
  return value as Plan;
}

/** @throws GlueError `plan/not-json` */
function parse(text: string, file = PLAN_FILE): TreeNode {
  const { documents, problems } = readJson(text);
  if (problems.length === 0 && documents.length > 0) return itemAt(documents, 0);
  const lines = linesOf(text);
  const first = problems[0] ?? { message: 'the file is empty', start: 0, end: 0 };
  const line = lines.lineOf(first.start);
  const column = lines.columnOf(first.start);
  throw new GlueError('plan/not-json', `${file}, line ${line}, column ${column}: ${first.message}.`, [
    { key: '', message: first.message, line, column, ...(file !== PLAN_FILE && { file }) },
  ]);
}

/** Plans that a plan builds on, and these on others, all in all. */
const MOST_BASES = 50;
/** In UTF-16 units, all of them together. */
const LONGEST_BASES = 8_000_000;

/**
 * A plan together with those it builds on: what stands in the plan itself comes first and wins.
 * @param layers filled with the plans it builds on, in the order in which they count
 * @param taken how many plans were taken in so far, and how long they were together
 */
function withBases(
  plan: Layer,
  load: LoadPlan,
  layers: Layer[],
  through: string[],
  taken: { plans: number; length: number },
): unknown {
  const own = plainValue(plan.root);
  const names = isObject(own) ? [own['extends'] ?? []].flat() : [];
  let whole = own;
  for (const name of names) {
    if (typeof name !== 'string') continue;
    const text = BUILT_IN_PLANS[name] ?? load(name);
    taken.plans++;
    taken.length += text?.length ?? 0;
    const message =
      text === undefined
        ? `“${name}” is no plan that could be read. ${didYouMean(name, Object.keys(BUILT_IN_PLANS))} Or give the path of a plan that stands beside this one or below.`
        : through.includes(name)
          ? `“${name}” builds on itself.`
          : taken.plans > MOST_BASES
            ? `More than ${MOST_BASES} plans are not taken together.`
            : taken.length > LONGEST_BASES
              ? `Plans of more than ${LONGEST_BASES} letters are not taken together.`
              : '';
    if (message || text === undefined) {
      const mistake = mistakeAt(['extends'], message, [plan]);
      const file = mistake.file ?? PLAN_FILE;
      throw new GlueError('plan/invalid', `${file}, line ${mistake.line}: extends: ${message}`, [mistake]);
    }
    const base: Layer = { file: name, root: parse(text, name), lines: linesOf(text) };
    layers.push(base);
    whole = merged(whole, withBases(base, load, layers, [...through, name], taken));
  }
  return whole;
}

/** Objects are joined key by key, lists one behind the other; of anything else the first counts. */
function merged(own: unknown, base: unknown): unknown {
  if (Array.isArray(own) && Array.isArray(base)) return [...(own as unknown[]), ...(base as unknown[])];
  if (!isObject(own) || !isObject(base)) return own;
  const whole = new Map<string, unknown>(Object.entries(own));
  for (const [key, value] of Object.entries(base))
    whole.set(key, whole.has(key) ? merged(whole.get(key), value) : value);
  return Object.fromEntries(whole);
}

function isObject(value: unknown): value is Record<string, unknown> {
  return typeof value === 'object' && value !== null && !Array.isArray(value);
}

function unknownChecks(checks: Plan['checks'], known: readonly string[], layers: readonly Layer[]): Mistake[] {
  if (known.length === 0) return [];
  return Object.keys(checks)
    .filter((id) => !known.includes(id))
    .map((id) => mistakeAt(['checks', id], `is no check. ${didYouMean(id, [...known])}`, layers));
}
