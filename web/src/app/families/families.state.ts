import type { ExcerptView, FamiliesPage, FamilyGrid } from '@glue-trace/server/api';
import { createActionGroup, createFeature, createReducer, emptyProps, on, props } from '@ngrx/store';
import type { Place, Trouble } from '../api';

export interface FamiliesState {
  page: FamiliesPage | null;
  trouble: Trouble | null;
  /** The family that is open. */
  family: FamilyGrid | null;
  familyTrouble: Trouble | null;
  /** Code of the cells that are laid side by side. */
  code: (ExcerptView | null)[] | null;
}

export const familiesActions = createActionGroup({
  source: 'Families',
  events: {
    load: props<{ project: number }>(),
    loaded: props<{ page: FamiliesPage }>(),
    failed: props<{ trouble: Trouble }>(),
    open: props<{ project: number; piece: string }>(),
    opened: props<{ family: FamilyGrid }>(),
    openFailed: props<{ trouble: Trouble }>(),
    show: props<{ project: number; places: Place[] }>(),
    shown: props<{ code: (ExcerptView | null)[] }>(),
    hide: emptyProps(),
  },
});

const initial: FamiliesState = { page: null, trouble: null, family: null, familyTrouble: null, code: null };

export const familiesFeature = createFeature({
  name: 'families',
  reducer: createReducer<FamiliesState>(
    initial,
    on(familiesActions.loaded, (state, { page }) => ({ ...state, page, trouble: null })),
    on(familiesActions.failed, (state, { trouble }) => ({ ...state, page: null, trouble })),
    on(familiesActions.open, (state) => ({ ...state, family: null, familyTrouble: null, code: null })),
    on(familiesActions.opened, (state, { family }) => ({ ...state, family })),
    on(familiesActions.openFailed, (state, { trouble }) => ({ ...state, familyTrouble: trouble })),
    on(familiesActions.shown, (state, { code }) => ({ ...state, code })),
    on(familiesActions.hide, (state) => ({ ...state, code: null })),
  ),
});
