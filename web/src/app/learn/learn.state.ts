import type { LearnedPage } from '@glue-trace/server/api';
import { createActionGroup, createFeature, createReducer, on, props } from '@ngrx/store';
import type { LearnedDecisions, Trouble } from '../api';

/** What was decided last, so that it can be taken back. */
export interface Decided {
  words: string;
  /** The plan before. */
  text: string;
}

export interface LearnState {
  page: LearnedPage | null;
  decided: Decided | null;
  isSaving: boolean;
  /** What keeps the view from being shown. */
  trouble: Trouble | null;
  /** What keeps a decision from being written. */
  saveTrouble: Trouble | null;
}

export const learnActions = createActionGroup({
  source: 'Learn',
  events: {
    load: props<{ project: number }>(),
    loaded: props<{ page: LearnedPage }>(),
    failed: props<{ trouble: Trouble }>(),
    decide: props<{ project: number; decisions: LearnedDecisions; hash: string; words: string; text: string }>(),
    decided: props<{ page: LearnedPage; decided: Decided | null }>(),
    saveFailed: props<{ trouble: Trouble }>(),
    /** Puts the plan back to what it was before the last decision. */
    takeBack: props<{ project: number; text: string; hash: string }>(),
    takenBack: props<{ project: number }>(),
  },
});

const initial: LearnState = { page: null, decided: null, isSaving: false, trouble: null, saveTrouble: null };

export const learnFeature = createFeature({
  name: 'learn',
  reducer: createReducer<LearnState>(
    initial,
    on(learnActions.loaded, (state, { page }) => ({ ...state, page, trouble: null, isSaving: false })),
    on(learnActions.failed, (state, { trouble }) => ({ ...state, page: null, trouble })),
    on(learnActions.decide, learnActions.takeBack, (state) => ({ ...state, isSaving: true, saveTrouble: null })),
    on(learnActions.decided, (state, { page, decided }) => ({ ...state, page, decided, isSaving: false })),
    on(learnActions.takenBack, (state) => ({ ...state, decided: null })),
    on(learnActions.saveFailed, (state, { trouble }) => ({ ...state, isSaving: false, saveTrouble: trouble })),
  ),
});
