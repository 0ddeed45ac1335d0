import type { RepairPreview, RepairRequest, RepairTrial, RepairView, SureRepairs } from '@glue-trace/server/api';
import { createActionGroup, createFeature, createReducer, emptyProps, on, props } from '@ngrx/store';
import type { FindingFilter, Trouble } from '../api';

export interface RepairsState {
  /** What is being looked at, and for which finding. */
  asked: { request: RepairRequest; of: string } | null;
  preview: RepairPreview | null;
  /** The sure repairs of all that are shown; null until they are tried. */
  sure: SureRepairs | null;
  /** What came of the sure repairs of a finding when they were tried; null until that is known. */
  trials: { of: string; list: RepairTrial[] | null };
  isWriting: boolean;
  trouble: Trouble | null;
  /** The repair written last, so that it can be taken back. */
  written: RepairView | null;
  undoTrouble: Trouble | null;
  /** All repairs that are kept, newest first; null until they are asked for. */
  all: RepairView[] | null;
}

/** What is previewed for all that are shown, and not for one finding. */
export const OF_ALL = 'all that are shown';

export const repairsActions = createActionGroup({
  source: 'Repairs',
  events: {
    /** Shows what repairs come to. `of` is the finding they are shown with. */
    preview: props<{ project: number; request: RepairRequest; of: string }>(),
    /** Tries the sure repairs of all that are shown. */
    gather: props<{ project: number; filter: FindingFilter }>(),
    gathered: props<{ sure: SureRepairs }>(),
    previewed: props<{ preview: RepairPreview }>(),
    failed: props<{ trouble: Trouble }>(),
    close: emptyProps(),
    /** Tries the sure repairs of a finding, after a moment: who leafs through findings waits for none. */
    try: props<{ project: number; of: string }>(),
    tried: props<{ of: string; list: RepairTrial[] }>(),
    write: props<{ project: number; request: RepairRequest }>(),
    written: props<{ repair: RepairView }>(),
    undo: props<{ project: number; repair: number }>(),
    undone: props<{ repair: RepairView }>(),
    undoFailed: props<{ trouble: Trouble }>(),
    dismiss: emptyProps(),
    list: props<{ project: number }>(),
    listed: props<{ all: RepairView[] }>(),
  },
});

const initial: RepairsState = {
  asked: null,
  preview: null,
  sure: null,
  trials: { of: '', list: null },
  isWriting: false,
  trouble: null,
  written: null,
  undoTrouble: null,
  all: null,
};

export const repairsFeature = createFeature({
  name: 'repairs',
  reducer: createReducer(
    initial,
    on(repairsActions.preview, (state, { request, of }) => ({
      ...state,
      asked: { request, of },
      preview: null,
      trouble: null,
    })),
    on(repairsActions.gather, (state) => ({ ...state, asked: null, preview: null, sure: null, trouble: null })),
    on(repairsActions.gathered, (state, { sure }) => ({ ...state, sure })),
    on(repairsActions.previewed, (state, { preview }) => (state.asked ? { ...state, preview } : state)),
    on(repairsActions.try, (state, { of }) => ({ ...state, trials: { of, list: null } })),
    on(repairsActions.tried, (state, trials) => ({
      ...state,
      trials: trials.of === state.trials.of ? { of: trials.of, list: trials.list } : state.trials,
    })),
    on(repairsActions.failed, (state, { trouble }) => ({ ...state, isWriting: false, trouble })),
    on(repairsActions.close, (state) => ({ ...state, asked: null, preview: null, sure: null, trouble: null })),
    on(repairsActions.write, (state) => ({ ...state, isWriting: true, trouble: null })),
    on(repairsActions.written, (_state, { repair }) => ({ ...initial, written: repair })),
    on(repairsActions.undone, (state, { repair }) => ({
      ...state,
      written: repair,
      undoTrouble: null,
      all: state.all && state.all.map((one) => (one.id === repair.id ? repair : one)),
    })),
    on(repairsActions.list, (state) => ({ ...state, all: null, undoTrouble: null })),
    on(repairsActions.listed, (state, { all }) => ({ ...state, all })),
    on(repairsActions.undoFailed, (state, { trouble }) => ({ ...state, undoTrouble: trouble })),
    on(repairsActions.dismiss, (state) => ({ ...state, written: null, undoTrouble: null })),
  ),
});
