import type { PlanTrial } from '@glue-trace/core';
import type { PlanPage, TextPage } from '@glue-trace/server/api';
import { createActionGroup, createFeature, createReducer, emptyProps, on, props } from '@ngrx/store';
import type { Trouble } from '../api';
import { remembered } from '../shared/draft';

export interface PlanState {
  /** As it stands on disk. */
  page: PlanPage | null;
  /** As it is being written. */
  draft: string;
  /** What was typed in an earlier visit is there again: as the plan still stands, or although it was changed meanwhile. */
  found: 'as it was' | 'changed' | null;
  /** Drafts before the last changes, the newest last. */
  before: string[];
  file: TextPage | null;
  /** Files that can be looked at: those that were searched for, or the first ones. */
  paths: string[];
  /** What the project would be with the draft. */
  trial: Trial | null;
  /** What keeps the view from being shown. */
  trouble: Trouble | null;
  /** What keeps the draft from being saved. */
  saveTrouble: Trouble | null;
  isSaving: boolean;
}

/** A draft that is tried on the whole project. */
export interface Trial {
  /** The rule that is looked at, if one is. */
  rule?: string;
  /** Undefined as long as it runs. */
  result?: PlanTrial;
  trouble?: Trouble;
}

/** Steps that can be taken back. */
const MOST_STEPS = 100;

export const planActions = createActionGroup({
  source: 'Plan',
  events: {
    load: props<{ project: number }>(),
    loaded: props<{ project: number; page: PlanPage; paths: string[] }>(),
    loadFile: props<{ project: number; file: string }>(),
    fileLoaded: props<{ file: TextPage }>(),
    failed: props<{ trouble: Trouble }>(),
    /** Typing counts as one step with the typing before. */
    type: props<{ text: string }>(),
    change: props<{ text: string }>(),
    undo: emptyProps(),
    save: props<{ project: number; text: string; hash: string }>(),
    saved: props<{ page: PlanPage }>(),
    saveFailed: props<{ trouble: Trouble }>(),
    findFiles: props<{ project: number; text: string }>(),
    filesFound: props<{ paths: string[] }>(),
    try: props<{ project: number; text: string; rule?: string }>(),
    tried: props<{ result: PlanTrial }>(),
    tryFailed: props<{ trouble: Trouble }>(),
  },
});

/** A draft that this tab of the browser keeps, with the plan that it was begun on. */
export interface KeptDraft {
  text: string;
  hash: string;
}
export const draftKey = (project: number): string => `glue-plan-${project}`;

const initial: PlanState = {
  page: null,
  draft: '',
  found: null,
  before: [],
  file: null,
  paths: [],
  trial: null,
  trouble: null,
  saveTrouble: null,
  isSaving: false,
};

export const planFeature = createFeature({
  name: 'plan',
  reducer: createReducer<PlanState>(
    initial,
    on(planActions.load, () => initial),
    on(planActions.loaded, (state, { project, page, paths }) => {
      const kept = remembered<KeptDraft | null>(draftKey(project), null);
      const isKept = kept !== null && kept.text !== page.text;
      return {
        ...state,
        ...{ page, paths, trouble: null, draft: isKept ? kept.text : page.text, before: isKept ? [page.text] : [] },
        found: !isKept ? null : kept.hash === page.hash ? 'as it was' : 'changed',
      };
    }),
    on(planActions.fileLoaded, (state, { file }) => ({ ...state, file })),
    on(planActions.failed, (state, { trouble }) => ({ ...state, trouble })),
    // What was tried no longer is what stands there.
    on(planActions.type, (state, { text }) => ({ ...state, draft: text, trial: null })),
    on(planActions.filesFound, (state, { paths }) => ({ ...state, paths })),
    on(planActions.try, (state, { rule }) => ({ ...state, trial: { ...(rule && { rule }) } })),
    on(planActions.tried, (state, { result }) => ({ ...state, trial: state.trial && { ...state.trial, result } })),
    on(planActions.tryFailed, (state, { trouble }) => ({
      ...state,
      trial: state.trial && { ...state.trial, trouble },
    })),
    on(planActions.change, (state, { text }) => ({
      ...state,
      draft: text,
      trial: null,
      before: [...state.before, state.draft].slice(-MOST_STEPS),
    })),
    on(planActions.undo, (state) => ({
      ...state,
      found: null,
      draft: state.before.at(-1) ?? state.draft,
      before: state.before.slice(0, -1),
      trial: null,
    })),
    on(planActions.save, (state) => ({ ...state, isSaving: true, saveTrouble: null })),
    on(planActions.saved, (state, { page }) => ({
      ...state,
      page,
      draft: page.text,
      found: null,
      before: [],
      trial: null,
      isSaving: false,
    })),
    on(planActions.saveFailed, (state, { trouble }) => ({ ...state, isSaving: false, saveTrouble: trouble })),
  ),
});
