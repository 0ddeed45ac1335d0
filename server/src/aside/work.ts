/**
 * Work for one request that a project could make long: plans, looking through a folder, repairs. Done aside, on threads
 * with a time and a memory of their own, so that no project holds up the others.
 */
import { createHash } from 'node:crypto';
import { existsSync } from 'node:fs';
import { basename, dirname } from 'node:path';
import {
  decide,
  GlueError,
  itemAt,
  pointedIn,
  previewCode,
  rulesOf,
  sayInCode,
  type CodeDesk,
  type Decisions,
  type PointedCodeView,
  type Preview,
  type SaidInCode,
  type WrittenRule,
} from '@glue-trace/core';
import type { LearnedPage, LearnedRow, PlanPage, ProjectView } from '../api.js';
import { basesOf, loadPlan, parsePlan, planPath, planTextOf } from '../plans/plan-files.js';
import type { LearnedAgain } from '../plans/learn-again.js';
import { learnFolder, type LearnedFolder } from '../plans/learn-plan.js';
import { planRepair, type PlannedRepair, type Wanted } from '../repairs/plan-repair.js';
import { undoRepair, writeRepair } from '../repairs/repairs.js';
import { prepareLanguages } from '../scan/read-one.js';
import type { ProjectRow, Store } from '../store/store.js';
import { writeInside, writeWhole } from '../writing/write.js';

export type PlanState = Pick<ProjectView, 'plan' | 'planError'>;

type Project = Pick<ProjectRow, 'id' | 'folder' | 'planFile'>;

/** What can be done aside. Whatever is asked and answered is copied from thread to thread. */
export const WORK = {
  'plan state': (_: Store, project: Project): PlanState => planState(project),
  /** @throws GlueError `plan/missing`, `file/unreadable` */
  'plan page': (_: Store, { project, shown }: { project: Project; shown?: LearnedPage }): PlanPage =>
    planPage(project, shown),
  /** Saves a plan over the one with a hash. @throws GlueError `plan/changed`, `plan/invalid`, `file/unwritable` */
  'save plan': (
    _: Store,
    { project, shown, text, hash }: { project: Project; shown?: LearnedPage; text: string; hash: string },
  ): PlanPage => {
    savePlan(project, text, hash, planPage(project, shown).hash);
    return planPage(project);
  },
  /** What a plan that is being written finds in a script. @throws GlueError `file/missing`, `file/unreadable` */
  'preview code': async (_: Store, desk: CodeDesk): Promise<Preview> => {
    await prepareLanguages([desk.language]);
    return previewCode(desk);
  },
  'point in code': async (_: Store, { offset, ...desk }: CodeDesk & { offset: number }): Promise<PointedCodeView[]> => {
    await prepareLanguages([desk.language]);
    return pointedIn(desk, offset);
  },
  /** @throws GlueError `plan/not-json`, `plan/invalid` */
  'say in code': async (
    _: Store,
    { said, paths, ...desk }: CodeDesk & { said: SaidInCode; paths: string[] },
  ): Promise<WrittenRule> => {
    await prepareLanguages([desk.language]);
    return sayInCode(desk, said, paths);
  },
  'learned page': (
    _: Store,
    { project, again, learned }: { project: Project; again?: LearnedAgain; learned?: LearnedFolder },
  ): Promise<LearnedPage> => learnedPage(project, undefined, again, learned),
  /**
   * @param shown the page that was decided on, if it is kept
   * @param again what was learned again
   * @throws GlueError `plan/changed`, `plan/invalid`, `file/unwritable`
   */
  'decide learned': async (
    _: Store,
    {
      project,
      shown,
      again,
      hash,
      ...decisions
    }: { project: Project; shown?: LearnedPage; again?: LearnedAgain; hash: string } & Decisions,
  ): Promise<LearnedPage> => {
    const { text, hash: now } = await planNow(project, shown);
    savePlan(project, decide(text, decisions), hash, now);
    return learnedPage(project, shown, again);
  },

  /** @param hashes of the files that are touched, as they were scanned */
  'plan repair': (
    _: Store,
    { project, wanted, hashes }: { project: Project; wanted: Wanted[]; hashes: Map<string, string | undefined> },
  ): Promise<PlannedRepair> => {
    const { folder, planFile } = project;
    return planRepair(folder, loadPlan(folder, planFile ?? undefined), wanted, (file) => hashes.get(file));
  },
  'write repair': (
    store: Store,
    { project, title, planned }: { project: Project; title: string; planned: PlannedRepair },
  ): number => writeRepair(store, project.id, project.folder, title, withBuffers(planned)),
  'undo repair': (store: Store, { project, repair }: { project: Project; repair: number }): void =>
    undoRepair(store, project.id, project.folder, repair),
};

export type WorkName = keyof typeof WORK;
export type Asked<Name extends WorkName> = Parameters<(typeof WORK)[Name]>[1];
export type Answered<Name extends WorkName> = Awaited<ReturnType<(typeof WORK)[Name]>>;

/** Writes the plan of a project over the one with a hash. @param now the hash of the one that stands there */
function savePlan({ folder, planFile }: Project, text: string, hash: string, now: string): void {
  const path = planPath(folder, planFile ?? undefined);
  if (now !== hash)
    throw new GlueError(
      'plan/changed',
      `${path} is no longer as it was when you opened it. Load it again; your text stays here until you do.`,
    );
  parsePlan(text, path);
  if (planFile) writeWhole(path, text);
  else writeInside(dirname(path), basename(path), text);
}

/** The plan that a project is scanned by, and what was learned with it. */
interface PlanNow {
  text: string;
  hash: string;
  learned?: LearnedFolder;
}

/** The plan of a project: its own, or where it has none the one that was shown last, or is learned. */
async function planNow(project: Project, shown?: LearnedPage, known?: LearnedFolder): Promise<PlanNow> {
  try {
    return planPage(project);
  } catch (error) {
    if (!(error instanceof GlueError) || error.code !== 'plan/missing' || project.planFile) throw error;
    if (shown && !shown.isWritten) return shown;
    const learned = known ?? (await learnFolder(project.folder));
    return { text: learned.text, hash: hashOf(learned.text), learned };
  }
}

const written = (rule: unknown): string => JSON.stringify(rule, null, 2);

/**
 * @param shown the page before: what it says of rules still counts
 * @param again what was learned again: what of it is not decided yet comes behind
 * @param now what a project without a plan was read by
 */
async function learnedPage(
  project: Project,
  shown?: LearnedPage,
  again?: LearnedAgain,
  now?: LearnedFolder,
): Promise<LearnedPage> {
  const { text, hash, learned } = await planNow(project, undefined, now);
  const plan = parsePlan(text, planPath(project.folder, project.planFile ?? undefined));
  const open = Object.entries(plan.learned.rules);
  // The sentences are not kept in the plan: they are what the files say today.
  const { rules, textFiles, readFiles } =
    learned ?? shown ?? (open.length > 0 ? await learnFolder(project.folder, 0) : NOTHING_LEARNED);
  const known = new Map([...(again?.inner ?? []), ...rules].map((rule) => [rule.key, rule]));
  const ruleAt = rulesOf(text);
  const rows = open.map(([key, { sure, of, leads }]): LearnedRow => {
    const { says = key, examples = [], misses = [], asks = 0, others = [] } = known.get(key) ?? {};
    return {
      key,
      sure,
      of,
      leads,
      says,
      examples,
      misses,
      rule: written(ruleAt(key)),
      asks,
      others: others.map((one) => ({ ...one, rule: typeof one.rule === 'string' ? one.rule : written(one.rule) })),
    };
  });
  rows.sort((a, b) => b.of - a.of);
  if (again) rows.push(...rowsAgain(again, ruleAt, plan.learned.refused));
  return { isWritten: !learned, text, hash, textFiles, readFiles, rules: rows, isAgain: again !== undefined };
}

/** What was learned again and is not decided: the plan does not have it yet, or still has it as it was. */
function rowsAgain(
  { fresh, failing }: LearnedAgain,
  ruleAt: (key: string) => unknown,
  refused: readonly string[],
): LearnedRow[] {
  const isOpen = (key: string): boolean => !refused.includes(key);
  return [
    ...fresh
      .filter(({ key }) => isOpen(key) && ruleAt(key) === undefined)
      .map(({ rule, chance: _, ...one }): LearnedRow => ({
        ...one,
        rule: written(rule),
        asks: 0,
        others: [],
        is: 'new',
      })),
    ...failing
      .filter(({ key, rule }) => isOpen(key) && written(ruleAt(key)) === rule)
      .map(({ key, of, leads, misses, rule, instead }): LearnedRow => ({
        key,
        sure: of === 0 ? 0 : leads / of,
        of,
        leads,
        says: `${key.replace(/^calls: /, '')} does not hold: ${leads} of ${of} lead somewhere`,
        examples: [],
        misses,
        rule,
        asks: 0,
        others: instead ? [{ ...instead, rule: written(instead.rule) }] : [],
        is: 'failing',
      })),
  ];
}

const NOTHING_LEARNED: Pick<LearnedFolder, 'rules' | 'textFiles' | 'readFiles'> = {
  rules: [],
  textFiles: 0,
  readFiles: 0,
};

const hashOf = (text: string): string => createHash('sha256').update(text).digest('hex');

function planState({ folder, planFile }: Project): PlanState {
  try {
    loadPlan(folder, planFile ?? undefined);
    return { plan: 'ready', planError: null };
  } catch (error) {
    if (!(error instanceof GlueError)) throw error;
    const planError = { title: itemAt(error.message.split(': '), 0), detail: error.detail, mistakes: error.mistakes };
    if (error.code !== 'plan/missing') return { plan: 'broken', planError };
    if (existsSync(folder) && !planFile) return { plan: 'learned', planError: null };
    if (existsSync(folder)) return { plan: 'broken', planError };
    return {
      plan: 'folder gone',
      planError: {
        title: 'The folder is gone',
        detail: `${folder} is not there any more. Put it back, or forget the project.`,
        mistakes: [],
      },
    };
  }
}

/** @param shown what was learned, for a project that has no plan yet */
function planPage({ folder, planFile }: Project, shown?: LearnedPage): PlanPage {
  if (shown && !shown.isWritten && !existsSync(planPath(folder, planFile ?? undefined))) {
    const { text, hash } = shown;
    return { path: planPath(folder), text, hash, origin: 'learned', bases: {} };
  }
  const { path, text, isBuiltIn } = planTextOf(folder, planFile ?? undefined);
  return { path, text, hash: hashOf(text), origin: isBuiltIn ? 'built in' : 'own', bases: basesOf(text, path) };
}

/** Bytes arrive from another thread without what makes them a buffer. */
function withBuffers(planned: PlannedRepair): PlannedRepair {
  return {
    ...planned,
    files: planned.files.map((file) => ({
      ...file,
      bytesBefore: Buffer.from(file.bytesBefore),
      bytesAfter: Buffer.from(file.bytesAfter),
    })),
  };
}
