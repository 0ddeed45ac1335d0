import type { ReadinessPage } from '@glue-trace/server/api';
import { createActionGroup, createFeature, createReducer, on, props } from '@ngrx/store';
import type { Trouble } from '../api';

export interface ReadinessState {
  page: ReadinessPage | null;
  trouble: Trouble | null;
}

export const readinessActions = createActionGroup({
  source: 'Readiness',
  events: {
    load: props<{ project: number; route: string }>(),
    loaded: props<{ page: ReadinessPage }>(),
    failed: props<{ trouble: Trouble }>(),
  },
});

const initial: ReadinessState = { page: null, trouble: null };

export const readinessFeature = createFeature({
  name: 'readiness',
  reducer: createReducer<ReadinessState>(
    initial,
    on(readinessActions.loaded, (_state, { page }) => ({ page, trouble: null })),
    on(readinessActions.failed, (_state, { trouble }) => ({ page: null, trouble })),
  ),
});
