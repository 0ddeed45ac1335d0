/** Plans as files: where they stand, what may be read of them, and the checked plan in force for a folder. */
import { existsSync, lstatSync, realpathSync } from 'node:fs';
import { basename, dirname, isAbsolute, join, relative, resolve } from 'node:path';
import { CHECK_IDS, GlueError, PLAN_FILE, planForStandards, readPlan, type Plan } from '@glue-trace/core';
import { discover } from '../files/discover.js';
import { readRegular } from '../files/regular.js';

/** Where a project's plan stands. */
export function planPath(folder: string, planFile?: string): string {
  return planFile ?? join(folder, PLAN_FILE);
}

/** A plan as text, before it is checked. */
export interface PlanText {
  path: string;
  text: string;
  isBuiltIn: boolean;
}

/**
 * The text of a project's plan. A folder without one gets a built-in plan when its files are of a standard that is read
 * without.
 * @throws GlueError `plan/missing`, `file/unreadable`
 */
export function planTextOf(folder: string, planFile?: string): PlanText {
  const path = planPath(folder, planFile);
  if (existsSync(path)) return { path, text: planFile ? readPlanText(path) : ownPlanText(path), isBuiltIn: false };
  const text = planFile || !existsSync(folder) ? undefined : builtInPlan(folder);
  if (text !== undefined) return { path, text, isBuiltIn: true };
  throw new GlueError(
    'plan/missing',
    `There is no ${planFile ?? PLAN_FILE} in ${folder}. “glue plan init” writes one to start from.`,
  );
}

/**
 * Reads and validates a project's plan.
 * @throws GlueError `plan/missing`, `plan/not-json`, `plan/invalid`, `file/unreadable`
 */
export function loadPlan(folder: string, planFile?: string): Plan {
  const { path, text } = planTextOf(folder, planFile);
  return parsePlan(text, path);
}

/** Validates the text of a plan that stands, or is to stand, at a path. @throws GlueError `plan/not-json`, `plan/invalid` */
export function parsePlan(text: string, path: string): Plan {
  return readPlan(text, CHECK_IDS, (name) => basePlan(path, name));
}

/**
 * The text of a plan that the one at a path builds on; undefined when there is none. Only what stands beside that plan or
 * below counts, through no link: a plan of somebody else is not to read files of this machine.
 */
function basePlan(path: string, name: string): string | undefined {
  const base = resolve(dirname(path), name);
  if (!existsSync(base)) return undefined;
  const way = relative(realpathSync(dirname(path)), realpathSync(base));
  return way.startsWith('..') || isAbsolute(way) ? undefined : readPlanText(base);
}

/** The texts of all plans that a plan builds on, by the path given; of a plan with mistakes those found before them. */
export function basesOf(text: string, path: string): Record<string, string> {
  const bases: Record<string, string> = {};
  try {
    readPlan(text, [], (name) => {
      const base = basePlan(path, name);
      if (base !== undefined) bases[name] = base;
      return base;
    });
  } catch (error) {
    if (!(error instanceof GlueError)) throw error;
  }
  return bases;
}

/** Files looked at to tell whether a folder without a plan is of a standard: it may be somebody's whole home. */
const MOST_LOOKED_AT = 5000;

/**
 * The built-in plan for a folder without one of its own, as text; undefined when its files are of no standard.
 */
function builtInPlan(folder: string): string | undefined {
  const { files } = discover(folder, [], MOST_LOOKED_AT);
  return planForStandards(
    basename(folder),
    files.map((file) => file.path),
  );
}

/** In bytes: a plan is written by people. */
const LARGEST_PLAN = 4 * 1024 * 1024;

/** The text of a plan. @throws GlueError `file/unreadable` */
function readPlanText(path: string): string {
  try {
    return readRegular(path, LARGEST_PLAN)
      .toString('utf8')
      .replace(/^\uFEFF/, '');
  } catch (error) {
    throw new GlueError('file/unreadable', `The plan ${path} cannot be read: ${(error as Error).message}.`);
  }
}

/** A plan that nobody named on the command line is the project's own: a link would lead to files of this machine. */
function ownPlanText(path: string): string {
  if (lstatSync(path).isSymbolicLink())
    throw new GlueError(
      'file/unreadable',
      `The plan ${path} is a link, which is not followed. Put the plan itself there, or name it with --plan.`,
    );
  return readPlanText(path);
}
