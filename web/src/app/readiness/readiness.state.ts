import type { Stops } from '@glue-trace/core';
import type { ReadinessPage } from '@glue-trace/server/api';
import { createActionGroup, createFeature, createReducer, on, props } from '@ngrx/store';
import type { Trouble } from '../api';

export interface ReadinessState {
  page: ReadinessPage | null;
  /** The scenes, once somebody wants to see them. */
  stops: Stops | null;
  trouble: Trouble | null;
}

export const readinessActions = createActionGroup({
  source: 'Readiness',
  events: {
    load: props<{ project: number; route: string }>(),
    loaded: props<{ page: ReadinessPage }>(),
    draw: props<{ project: number; route: string }>(),
    drawn: props<{ stops: Stops }>(),
    failed: props<{ trouble: Trouble }>(),
  },
});

const initial: ReadinessState = { page: null, stops: null, trouble: null };

export const readinessFeature = createFeature({
  name: 'readiness',
  reducer: createReducer<ReadinessState>(
    initial,
    on(readinessActions.loaded, (state, { page }) => ({ ...state, page, trouble: null })),
    on(readinessActions.draw, (state) => ({ ...state, stops: null })),
    on(readinessActions.drawn, (state, { stops }) => ({ ...state, stops })),
    on(readinessActions.failed, (state, { trouble }) => ({ ...state, page: null, trouble })),
  ),
});
