import type { LifeCycle, Wiring, WiringFilter } from '@glue-trace/core';
import type { StoryPage } from '@glue-trace/server/api';
import { createActionGroup, createFeature, createReducer, emptyProps, on, props } from '@ngrx/store';
import type { Trouble } from '../api';

export type Direction = 'forward' | 'backward';

export interface WiringState {
  page: Wiring | null;
  trouble: Trouble | null;
  /** What comes, goes and is switched in play. */
  life: LifeCycle | null;
  /** The story of the event that is open. */
  story: { of: string; direction: Direction; page: StoryPage | null; trouble: Trouble | null } | null;
}

export const wiringActions = createActionGroup({
  source: 'Wiring',
  events: {
    load: props<{ project: number; filter: WiringFilter; route: string }>(),
    loaded: props<{ page: Wiring }>(),
    failed: props<{ trouble: Trouble }>(),
    loadLife: props<{ project: number }>(),
    lifeLoaded: props<{ life: LifeCycle }>(),
    tell: props<{ project: number; event: string; direction: Direction }>(),
    told: props<{ page: StoryPage }>(),
    tellFailed: props<{ trouble: Trouble }>(),
    close: emptyProps(),
  },
});

const initial: WiringState = { page: null, trouble: null, life: null, story: null };

export const wiringFeature = createFeature({
  name: 'wiring',
  reducer: createReducer<WiringState>(
    initial,
    on(wiringActions.loaded, (state, { page }) => ({ ...state, page, trouble: null })),
    on(wiringActions.failed, (state, { trouble }) => ({ ...state, page: null, trouble })),
    on(wiringActions.lifeLoaded, (state, { life }) => ({ ...state, life, trouble: null })),
    on(wiringActions.tell, (state, { event, direction }) => ({
      ...state,
      story: { of: event, direction, page: null, trouble: null },
    })),
    on(wiringActions.told, (state, { page }) => (state.story ? { ...state, story: { ...state.story, page } } : state)),
    on(wiringActions.tellFailed, (state, { trouble }) =>
      state.story ? { ...state, story: { ...state.story, trouble } } : state,
    ),
    on(wiringActions.close, (state) => ({ ...state, story: null })),
  ),
});
