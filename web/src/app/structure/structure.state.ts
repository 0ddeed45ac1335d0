import type { CouplingLinks, CouplingPage } from '@glue-trace/server/api';
import type { CouplingOptions } from '@glue-trace/core';
import { createActionGroup, createFeature, createReducer, emptyProps, on, props } from '@ngrx/store';
import type { Trouble } from '../api';

export interface StructureState {
  page: CouplingPage | null;
  trouble: Trouble | null;
  /** The links of the cell that is open. */
  cell: { links: CouplingLinks | null; trouble: Trouble | null } | null;
}

export const structureActions = createActionGroup({
  source: 'Structure',
  events: {
    load: props<{ project: number; options: CouplingOptions; route: string }>(),
    loaded: props<{ page: CouplingPage }>(),
    failed: props<{ trouble: Trouble }>(),
    open: props<{ project: number; options: CouplingOptions; from: string; to: string }>(),
    opened: props<{ links: CouplingLinks }>(),
    openFailed: props<{ trouble: Trouble }>(),
    close: emptyProps(),
  },
});

const initial: StructureState = { page: null, trouble: null, cell: null };

export const structureFeature = createFeature({
  name: 'structure',
  reducer: createReducer<StructureState>(
    initial,
    on(structureActions.loaded, (state, { page }) => ({ ...state, page, trouble: null })),
    on(structureActions.failed, (state, { trouble }) => ({ ...state, page: null, trouble })),
    on(structureActions.open, (state) => ({ ...state, cell: { links: null, trouble: null } })),
    on(structureActions.opened, (state, { links }) => ({ ...state, cell: { links, trouble: null } })),
    on(structureActions.openFailed, (state, { trouble }) => ({ ...state, cell: { links: null, trouble } })),
    on(structureActions.close, (state) => ({ ...state, cell: null })),
  ),
});
