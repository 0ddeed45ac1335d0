import type { Stops } from '@glue-trace/core';
import type { CheckView, ExcerptView, FindingDetail, FindingPage, FindingRow, TouchedBy } from '@glue-trace/server/api';
import { createActionGroup, createFeature, createReducer, emptyProps, on, props } from '@ngrx/store';
import type { FindingFilter, Trouble } from '../api';

export interface FindingsState {
  filter: FindingFilter;
  rows: FindingRow[];
  total: number;
  counts: Pick<FindingPage, 'byCheck' | 'bySeverity' | 'byFolder' | 'waived' | 'before'>;
  checks: CheckView[];
  isLoading: boolean;
  isLoaded: boolean;
  trouble: Trouble | null;
  /** The finding in the reading pane. */
  open: { finding: FindingDetail; excerpts: (ExcerptView | null)[] } | null;
  openTrouble: Trouble | null;
  /** Why a note was not saved, and of which finding. */
  noteTrouble: { of: string; trouble: Trouble } | null;
  /** What the list can be narrowed by; null until it is asked for. */
  scenes: Stops | null;
  owners: TouchedBy[] | null;
  narrowTrouble: Trouble | null;
}

/** Where the draft of a note is kept. */
export const noteKey = (project: number, fingerprint: string): string => `glue-note-${project}-${fingerprint}`;

export const NO_FILTER: FindingFilter = {
  severity: '',
  check: '',
  folder: '',
  text: '',
  waived: '',
  since: '',
  route: '',
  played: '',
  scene: '',
  owner: '',
  rests: '',
  noted: '',
  order: '',
};

export const findingsActions = createActionGroup({
  source: 'Findings',
  events: {
    load: props<{ project: number; filter: FindingFilter }>(),
    more: props<{ project: number; filter: FindingFilter; offset: number }>(),
    loaded: props<{ page: FindingPage }>(),
    failed: props<{ trouble: Trouble }>(),
    checksLoaded: props<{ checks: CheckView[] }>(),
    open: props<{ project: number; fingerprint: string }>(),
    opened: props<{ finding: FindingDetail; excerpts: (ExcerptView | null)[] }>(),
    openFailed: props<{ trouble: Trouble }>(),
    close: emptyProps(),
    note: props<{ project: number; fingerprint: string; note: string }>(),
    noted: props<{ project: number; fingerprint: string; note: string }>(),
    noteFailed: props<{ fingerprint: string; trouble: Trouble }>(),
    loadScenes: props<{ project: number }>(),
    scenesLoaded: props<{ scenes: Stops }>(),
    loadOwners: props<{ project: number }>(),
    ownersLoaded: props<{ owners: TouchedBy[] }>(),
    narrowFailed: props<{ trouble: Trouble }>(),
  },
});

const initial: FindingsState = {
  filter: NO_FILTER,
  rows: [],
  total: 0,
  counts: { byCheck: [], bySeverity: [], byFolder: [], waived: 0, before: null },
  checks: [],
  isLoading: false,
  isLoaded: false,
  trouble: null,
  open: null,
  openTrouble: null,
  noteTrouble: null,
  scenes: null,
  owners: null,
  narrowTrouble: null,
};

export const findingsFeature = createFeature({
  name: 'findings',
  reducer: createReducer(
    initial,
    on(findingsActions.load, (state, { filter }) => ({ ...state, filter, isLoading: true })),
    on(findingsActions.more, (state) => ({ ...state, isLoading: true })),
    on(findingsActions.loaded, (state, { page }) => ({
      ...state,
      rows: page.offset === 0 ? page.rows : [...state.rows.slice(0, page.offset), ...page.rows],
      total: page.total,
      counts: {
        byCheck: page.byCheck,
        bySeverity: page.bySeverity,
        byFolder: page.byFolder,
        waived: page.waived,
        before: page.before,
      },
      isLoading: false,
      isLoaded: true,
      trouble: null,
    })),
    on(findingsActions.failed, (state, { trouble }) => ({
      ...state,
      rows: [],
      total: 0,
      isLoading: false,
      isLoaded: true,
      trouble,
    })),
    on(findingsActions.checksLoaded, (state, { checks }) => ({ ...state, checks })),
    on(findingsActions.opened, (state, { finding, excerpts }) => ({
      ...state,
      open: { finding, excerpts },
      openTrouble: null,
    })),
    on(findingsActions.openFailed, (state, { trouble }) => ({ ...state, open: null, openTrouble: trouble })),
    on(findingsActions.close, (state) => ({ ...state, open: null, openTrouble: null })),
    on(findingsActions.note, (state) => ({ ...state, noteTrouble: null })),
    on(findingsActions.noted, (state, { fingerprint, note }) => ({
      ...state,
      rows: state.rows.map((row) => (row.fingerprint === fingerprint ? { ...row, note: note || null } : row)),
      open:
        state.open?.finding.fingerprint === fingerprint
          ? { ...state.open, finding: { ...state.open.finding, note } }
          : state.open,
    })),
    on(findingsActions.noteFailed, (state, { fingerprint, trouble }) => ({
      ...state,
      noteTrouble: { of: fingerprint, trouble },
    })),
    on(findingsActions.scenesLoaded, (state, { scenes }) => ({ ...state, scenes })),
    on(findingsActions.loadOwners, findingsActions.loadScenes, (state) => ({ ...state, narrowTrouble: null })),
    on(findingsActions.ownersLoaded, (state, { owners }) => ({ ...state, owners })),
    on(findingsActions.narrowFailed, (state, { trouble }) => ({ ...state, narrowTrouble: trouble })),
  ),
});
