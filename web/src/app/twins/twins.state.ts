import type { TwinFilter } from '@glue-trace/core';
import type { ExcerptView, TwinsPage } from '@glue-trace/server/api';
import { createActionGroup, createFeature, createReducer, emptyProps, on, props } from '@ngrx/store';
import type { Place, Trouble } from '../api';

export interface TwinsState {
  page: TwinsPage | null;
  trouble: Trouble | null;
  /** Code of the copies of the group that is open. */
  code: (ExcerptView | null)[] | null;
}

export const twinsActions = createActionGroup({
  source: 'Twins',
  events: {
    load: props<{ project: number; filter: TwinFilter }>(),
    loaded: props<{ page: TwinsPage }>(),
    failed: props<{ trouble: Trouble }>(),
    show: props<{ project: number; places: Place[] }>(),
    shown: props<{ code: (ExcerptView | null)[] }>(),
    hide: emptyProps(),
  },
});

const initial: TwinsState = { page: null, trouble: null, code: null };

export const twinsFeature = createFeature({
  name: 'twins',
  reducer: createReducer<TwinsState>(
    initial,
    on(twinsActions.loaded, (state, { page }) => ({ ...state, page, trouble: null })),
    on(twinsActions.failed, (state, { trouble }) => ({ ...state, page: null, trouble })),
    on(twinsActions.show, twinsActions.hide, (state) => ({ ...state, code: null })),
    on(twinsActions.shown, (state, { code }) => ({ ...state, code })),
  ),
});
