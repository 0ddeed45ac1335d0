import type { FilePage, ReadingPage } from '@glue-trace/server/api';
import { createActionGroup, createFeature, createReducer, on, props } from '@ngrx/store';
import type { FileFilter, Trouble } from '../api';

export interface ReadingState {
  page: ReadingPage | null;
  files: FilePage | null;
  trouble: Trouble | null;
}

export const readingActions = createActionGroup({
  source: 'Reading',
  events: {
    load: props<{ project: number }>(),
    loaded: props<{ page: ReadingPage }>(),
    loadFiles: props<{ project: number; filter: FileFilter }>(),
    filesLoaded: props<{ files: FilePage }>(),
    failed: props<{ trouble: Trouble }>(),
  },
});

const initial: ReadingState = { page: null, files: null, trouble: null };

export const readingFeature = createFeature({
  name: 'reading',
  reducer: createReducer<ReadingState>(
    initial,
    on(readingActions.loaded, (state, { page }) => ({ ...state, page, trouble: null })),
    on(readingActions.filesLoaded, (state, { files }) => ({ ...state, files })),
    on(readingActions.failed, (_state, { trouble }) => ({ page: null, files: null, trouble })),
  ),
});
