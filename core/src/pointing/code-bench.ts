/**
 * What the plan editor asks about a script: what a plan that is being written finds in it, what stands at a place, and the
 * plan once somebody has said what that is. Grammars must be ready.
 */
import { GlueError } from '../model/errors.js';
import { readFile } from '../reading/read-file.js';
import type { Language } from '../reading/plan/plan.js';
import { ruleFor } from '../reading/read-structured.js';
import { codeSayings, matching, sayOfCode, type CodeSaying } from './code-sayings.js';
import type { WrittenRule } from './edit.js';
import { pointAtCode, type CodeForm, type PointedCode } from './point-code.js';
import { draftPlan, previewFile, type Preview } from './preview.js';

/** A script beside a plan that is being written. */
export interface CodeDesk {
  plan: string;
  /** Texts of the plans that it builds on. */
  bases: Record<string, string>;
  path: string;
  text: string;
  language: Language;
}

/** What stands at a place of a script, as it is shown. */
export interface PointedCodeView {
  is: PointedCode['is'];
  /** As written, cut when long. */
  words: string;
  /** Offsets, 0-based UTF-16 units, the end exclusive. */
  start: number;
  end: number;
  forms: CodeForm[];
  sayings: CodeSaying[];
  /** The row of the call table that already says something of it. */
  known?: { call: string; means: string };
}

export function previewCode({ plan, bases, path, text }: Omit<CodeDesk, 'language'>): Preview {
  return previewFile(plan, path, text, bases, readFile);
}

/** What stands at an offset, the innermost first. */
export function pointedIn({ plan, bases, text, language }: CodeDesk, offset: number): PointedCodeView[] {
  const checked = checkedPlan(plan, bases);
  return pointAtCode(text, language, offset).map((pointed): PointedCodeView => {
    const { is, words, start, end } = pointed;
    const isCall = pointed.is !== 'function' && pointed.is !== 'field';
    const [at] = checked && isCall ? matching(checked, pointed) : [];
    const row = at === undefined ? undefined : checked?.calls[at];
    return {
      is,
      words,
      start,
      end,
      forms: isCall ? pointed.forms : [],
      sayings: codeSayings(pointed),
      ...(row && { known: { call: row.call, means: row.means } }),
    };
  });
}

/** What is said of something in a script. */
export interface SaidInCode {
  /** Where it stands, 0-based in UTF-16 units. */
  offset: number;
  /** How far out of the innermost thing there, 0 for that itself. */
  around: number;
  /** Which of its forms. */
  form: number;
  /** Id of a saying. */
  saying: string;
}

/**
 * @param paths all files of the project
 * @throws GlueError `plan/not-json`, `plan/invalid` where the plan has mistakes
 */
export function sayInCode(
  desk: CodeDesk,
  { offset, around, form, saying }: SaidInCode,
  paths: readonly string[],
): WrittenRule {
  const plan = draftPlan(desk.plan, desk.bases);
  const pointed = pointAtCode(desk.text, desk.language, offset)[around];
  if (!pointed) return { text: desk.plan, rule: '' };
  const found = ruleFor(plan, desk.path);
  const rule = found?.of === 'scripts' ? found.name : undefined;
  const { path, language } = desk;
  return sayOfCode(desk.plan, plan, pointed, saying, { path, language, rule, form }, paths);
}

function checkedPlan(text: string, bases: CodeDesk['bases']): ReturnType<typeof draftPlan> | undefined {
  try {
    return draftPlan(text, bases);
  } catch (error) {
    if (!(error instanceof GlueError)) throw error;
    return undefined;
  }
}
