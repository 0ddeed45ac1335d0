import type { WaiverRequest, WaiverView } from '@glue-trace/server/api';
import { createActionGroup, createFeature, createReducer, emptyProps, on, props } from '@ngrx/store';
import type { Trouble } from '../api';

export interface WaiversState {
  /** All that stand in the project's file; null until they are asked for. */
  all: WaiverView[] | null;
  isSaving: boolean;
  /** Counts what was decided, so that views know when to load anew. */
  decided: number;
  /** What was waived last, to be told with a way back. */
  last: { findings: string[]; words: string } | null;
  trouble: Trouble | null;
}

export const waiversActions = createActionGroup({
  source: 'Waivers',
  events: {
    list: props<{ project: number }>(),
    listed: props<{ all: WaiverView[] }>(),
    waive: props<{ project: number; request: WaiverRequest; words: string }>(),
    takeBack: props<{ project: number; findings?: string[]; at?: number[] }>(),
    waived: props<{ findings: string[]; words: string }>(),
    takenBack: props<{ project: number }>(),
    failed: props<{ trouble: Trouble }>(),
    begin: emptyProps(),
  },
});

const initial: WaiversState = { all: null, isSaving: false, decided: 0, last: null, trouble: null };

export const waiversFeature = createFeature({
  name: 'waivers',
  reducer: createReducer<WaiversState>(
    initial,
    on(waiversActions.begin, (state) => ({ ...state, trouble: null })),
    on(waiversActions.listed, (state, { all }) => ({ ...state, all, trouble: null })),
    on(waiversActions.waive, waiversActions.takeBack, (state) => ({ ...state, isSaving: true, trouble: null })),
    on(waiversActions.waived, (state, last) => ({ ...state, isSaving: false, decided: state.decided + 1, last })),
    on(waiversActions.takenBack, (state) => ({ ...state, isSaving: false, decided: state.decided + 1, last: null })),
    on(waiversActions.failed, (state, { trouble }) => ({ ...state, isSaving: false, trouble })),
  ),
});
