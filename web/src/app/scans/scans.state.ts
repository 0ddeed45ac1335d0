import type { ComparisonView, ScanView } from '@glue-trace/server/api';
import { createActionGroup, createFeature, createReducer, on, props } from '@ngrx/store';
import type { Trouble } from '../api';

export interface ScansState {
  /** Newest first; null until they are known. */
  scans: ScanView[] | null;
  trouble: Trouble | null;
  comparison: ComparisonView | null;
  isComparing: boolean;
  compareTrouble: Trouble | null;
}

export const scansActions = createActionGroup({
  source: 'Scans',
  events: {
    load: props<{ project: number }>(),
    loaded: props<{ scans: ScanView[] }>(),
    touched: props<{ project: number }>(),
    failed: props<{ trouble: Trouble }>(),
    note: props<{ project: number; scan: number; note: string }>(),
    noted: props<{ scan: number; note: string }>(),
    compare: props<{ project: number; from: string; to?: number }>(),
    compared: props<{ comparison: ComparisonView }>(),
    compareFailed: props<{ trouble: Trouble }>(),
  },
});

const initial: ScansState = {
  scans: null,
  trouble: null,
  comparison: null,
  isComparing: false,
  compareTrouble: null,
};

export const scansFeature = createFeature({
  name: 'scans',
  reducer: createReducer<ScansState>(
    initial,
    on(scansActions.loaded, (state, { scans }) => ({ ...state, scans, trouble: null })),
    on(scansActions.failed, (state, { trouble }) => ({ ...state, trouble })),
    on(scansActions.noted, (state, { scan, note }) => ({
      ...state,
      scans: state.scans?.map((one) => (one.id === scan ? { ...one, note } : one)) ?? null,
    })),
    on(scansActions.compare, (state) => ({ ...state, isComparing: true, compareTrouble: null })),
    on(scansActions.compared, (state, { comparison }) => ({ ...state, comparison, isComparing: false })),
    on(scansActions.compareFailed, (state, { trouble }) => ({
      ...state,
      comparison: null,
      isComparing: false,
      compareTrouble: trouble,
    })),
  ),
});
