import type { LearnedPage } from '@glue-trace/server/api';
import { createActionGroup, createFeature, createReducer, emptyProps, on, props } from '@ngrx/store';
import type { Readiness } from '@glue-trace/core';
import type { LearnedDecisions, Trouble } from '../api';
import type { MapCounts } from '../shared/map-counts';

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
  /** The files are being learned from again. */
  isLearning: boolean;
  /** The map of the last scan, beside that of the one before while this page is open. */
  counts: MapCounts | null;
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
    /** The map was made anew. */
    count: props<{ project: number }>(),
    counted: props<{ readiness: Readiness }>(),
    countFailed: emptyProps(),
    again: props<{ project: number }>(),
    learnedAgain: props<{ page: LearnedPage }>(),
    /** Puts the plan back to what it was before the last decision. */
    takeBack: props<{ project: number; text: string; hash: string }>(),
    takenBack: props<{ project: number }>(),
  },
});

const initial: LearnState = {
  page: null,
  decided: null,
  isSaving: false,
  isLearning: false,
  counts: null,
  trouble: null,
  saveTrouble: null,
};

export const learnFeature = createFeature({
  name: 'learn',
  reducer: createReducer<LearnState>(
    initial,
    on(learnActions.loaded, (state, { page }) => ({ ...state, page, trouble: null, isSaving: false })),
    on(learnActions.failed, (state, { trouble }) => ({ ...state, page: null, trouble })),
    on(learnActions.decide, learnActions.takeBack, (state) => ({ ...state, isSaving: true, saveTrouble: null })),
    on(learnActions.decided, (state, { page, decided }) => ({ ...state, page, decided, isSaving: false })),
    on(learnActions.takenBack, (state) => ({ ...state, decided: null })),
    on(learnActions.counted, (state, { readiness }) => ({ ...state, counts: countsOf(readiness, state.counts) })),
    on(learnActions.again, (state) => ({ ...state, isLearning: true, saveTrouble: null })),
    on(learnActions.learnedAgain, (state, { page }) => ({ ...state, page, isLearning: false })),
    on(learnActions.saveFailed, (state, { trouble }) => ({
      ...state,
      isSaving: false,
      isLearning: false,
      saveTrouble: trouble,
    })),
  ),
});

function countsOf({ pieces, links, byGrip }: Readiness, known: MapCounts | null): MapCounts {
  const count = (after: number, before?: number): MapCounts['pieces'] => ({ before, after });
  return {
    pieces: count(pieces, known?.pieces.after),
    links: count(links, known?.links.after),
    lost: count(byGrip.lost, known?.lost.after),
  };
}
