/** What a plan makes of one file, to be shown beside it while the plan is being written. */
import { GlueError, type Mistake } from '../model/errors.js';
import type { Range } from '../model/piece.js';
import type { FileFacts } from '../reading/facts.js';
import { ruleKey } from '../reading/plan/content.js';
import type { Plan } from '../reading/plan/plan.js';
import { readPlan } from '../reading/plan/read-plan.js';
import { formatBy, readStructured, readsText, ruleFor, type RuleFor } from '../reading/read-structured.js';
import { placesIn } from './places.js';
import { formatOf, type Format } from '../reading/tree/read-tree.js';

/** A place in the file that a rule found something at. */
export interface Mark {
  /** Key of the rule in the plan, e.g. `files.scenes.pieces.objects`. */
  rule: string;
  range: Range;
  /** What was found, in words. */
  words: string;
}

export interface Preview {
  /** Faults of the plan; with any, nothing else is known. */
  mistakes: Mistake[];
  /** Name of the rule that reads the file, empty if none does. */
  rule: string;
  /** Why there is nothing to show, or empty. */
  reason: string;
  format: Format | undefined;
  marks: Mark[];
  /** Rules of the file's rule in the order of the plan, with how much each found. */
  counts: { rule: string; count: number }[];
  problems: FileFacts['problems'];
}

const NOTHING = { rule: '', format: undefined, marks: [], counts: [], problems: [] };

/** Reads a script by its rule; grammars must be ready. */
type ReadCode = (path: string, text: string, found: RuleFor, plan: Plan) => FileFacts;

/**
 * Reads a file by a plan that may still have mistakes.
 * @param bases texts of the plans that it builds on, by the path it gives. One that is not among them, and may have been
 *   typed just now, counts as empty: whether it is there is found out when the plan is saved
 * @param readCode reads scripts, where that can be done here
 */
export function previewFile(
  planText: string,
  path: string,
  text: string,
  bases: Record<string, string> = {},
  readCode?: ReadCode,
): Preview {
  try {
    const plan = draftPlan(planText, bases);
    const found = ruleFor(plan, path);
    const format = formatOf(path);
    if (!found) return { ...NOTHING, format, mistakes: [], reason: 'No rule of the plan reads this file.' };
    const rule = `${found.of}.${found.name}`;
    if (found.of === 'scripts') {
      if (!readCode) return { ...NOTHING, mistakes: [], rule, reason: 'Scripts are read by the server.' };
      const facts = readCode(path, text, found, plan);
      const marks = marksOf(facts, plan);
      return { ...NOTHING, mistakes: [], rule, reason: '', marks, counts: counted(marks), problems: facts.problems };
    }
    if (!readsText(found, path))
      return { ...NOTHING, mistakes: [], rule, format, reason: 'This rule only lists the file.' };
    const facts = readStructured(path, text, found);
    const marks = marksOf(facts, plan);
    const counts = rulesOf(found.rule, rule).map((one) => ({
      rule: one,
      count: marks.filter((mark) => mark.rule === one).length,
    }));
    return {
      mistakes: [],
      rule,
      reason: '',
      format: formatBy(path, found.rule) ?? format,
      marks,
      counts,
      problems: facts.problems,
    };
  } catch (error) {
    if (!(error instanceof GlueError)) throw error;
    const mistakes = error.mistakes.length > 0 ? error.mistakes : [{ key: '', message: error.detail }];
    return { ...NOTHING, mistakes, format: formatOf(path), reason: 'The plan has mistakes.' };
  }
}

/** A plan that is being written. @throws GlueError `plan/not-json`, `plan/invalid` */
export function draftPlan(planText: string, bases: Readonly<Record<string, string>> = {}): Plan {
  return readPlan(planText, [], (name) => bases[name] ?? (/[./]/.test(name) ? '{}' : undefined));
}

/** What found something, with how much, in the order of the file. */
function counted(marks: readonly Mark[]): Preview['counts'] {
  const counts = new Map<string, number>();
  for (const { rule } of marks) counts.set(rule, (counts.get(rule) ?? 0) + 1);
  return [...counts].map(([rule, count]) => ({ rule, count }));
}

const GROUPS = ['pieces', 'references', 'events', 'connections', 'attachments'] as const;

function rulesOf(rule: Record<(typeof GROUPS)[number], object>, key: string): string[] {
  return GROUPS.flatMap((group) => Object.keys(rule[group]).map((name) => `${key}.${group}.${name}`));
}

/** In the order of the text. */
function marksOf(facts: FileFacts, plan: Plan): Mark[] {
  const parts = facts.pieces.flatMap((piece) =>
    piece.parts.map(({ range, type, script }): Mark => {
      return { rule: ruleKey(facts, 'pieces', piece.rule), range, words: `part ${type || script?.text || ''}` };
    }),
  );
  const found = placesIn(facts, plan).map(({ rule, range, words }): Mark => ({ rule, range, words }));
  return [...found, ...parts].sort((a, b) => a.range.line - b.range.line || a.range.column - b.range.column);
}
