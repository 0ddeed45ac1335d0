/**
 * Work for one request that a project could make long: plans, looking through a folder, repairs. Done aside, on threads
 * with a time and a memory of their own, so that no project holds up the others.
 */
import { createHash } from 'node:crypto';
import { existsSync } from 'node:fs';
import { basename, dirname } from 'node:path';
import { GlueError, itemAt } from '@glue-trace/core';
import type { PlanPage, ProjectView } from '../api.js';
import { basesOf, loadPlan, parsePlan, planTextOf } from '../plans/plan-files.js';
import { learnFolder, writePlan } from '../plans/learn-plan.js';
import { planRepair, type PlannedRepair, type Wanted } from '../repairs/plan-repair.js';
import { undoRepair, writeRepair } from '../repairs/repairs.js';
import type { ProjectRow, Store } from '../store/store.js';
import { writeInside, writeWhole } from '../writing/write.js';

export type PlanState = Pick<ProjectView, 'plan' | 'planError'>;

type Project = Pick<ProjectRow, 'id' | 'folder' | 'planFile'>;

/** What can be done aside. Whatever is asked and answered is copied from thread to thread. */
export const WORK = {
  'plan state': (_: Store, project: Project): PlanState => planState(project),
  /** @throws GlueError `plan/missing`, `file/unreadable` */
  'plan page': (_: Store, project: Project): PlanPage => planPage(project),
  /** Saves a plan over the one with a hash. @throws GlueError `plan/changed`, `plan/invalid`, `file/unwritable` */
  'save plan': (_: Store, { project, text, hash }: { project: Project; text: string; hash: string }): PlanPage => {
    const { path, hash: now } = planPage(project);
    if (now !== hash)
      throw new GlueError(
        'plan/changed',
        `${path} is no longer as it was when you opened it. Load it again; your text stays here until you do.`,
      );
    parsePlan(text, path);
    if (project.planFile) writeWhole(path, text);
    else writeInside(dirname(path), basename(path), text);
    return planPage(project);
  },
  'learn plan': async (_: Store, folder: string): Promise<string> => (await learnFolder(folder)).text,
  'write learned plan': (_: Store, { folder, text }: { folder: string; text: string }): string =>
    writePlan(folder, text),
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

function planState({ folder, planFile }: Project): PlanState {
  try {
    loadPlan(folder, planFile ?? undefined);
    return { plan: 'ready', planError: null };
  } catch (error) {
    if (!(error instanceof GlueError)) throw error;
    const planError = { title: itemAt(error.message.split(': '), 0), detail: error.detail, mistakes: error.mistakes };
    if (error.code !== 'plan/missing') return { plan: 'broken', planError };
    if (existsSync(folder)) return { plan: 'missing', planError };
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

function planPage({ folder, planFile }: Project): PlanPage {
  const { path, text, isBuiltIn } = planTextOf(folder, planFile ?? undefined);
  return { path, text, hash: createHash('sha256').update(text).digest('hex'), isBuiltIn, bases: basesOf(text, path) };
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
