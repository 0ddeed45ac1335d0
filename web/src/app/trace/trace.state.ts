import type { TracePage } from '@glue-trace/core';
import type { ExcerptView } from '@glue-trace/server/api';
import { createActionGroup, createFeature, createReducer, on, props } from '@ngrx/store';
import type { Place, Trouble } from '../api';

/** Which way a line is followed. */
export type Direction = 'reliedOnBy' | 'reliesOn';

/** The next hop of a line, opened in place. */
export interface Hop {
  page: TracePage | null;
  trouble: Trouble | null;
}

export interface TraceState {
  page: TracePage | null;
  isLoading: boolean;
  trouble: Trouble | null;
  /** Opened lines, by the path of lines that led there. */
  hops: Record<string, Hop>;
  evidence: { place: Place; excerpt: ExcerptView | null; trouble: Trouble | null } | null;
}

export const traceActions = createActionGroup({
  source: 'Trace',
  events: {
    load: props<{ project: number; piece: string }>(),
    loaded: props<{ page: TracePage }>(),
    failed: props<{ trouble: Trouble }>(),
    openHop: props<{ project: number; piece: string; path: string }>(),
    hopLoaded: props<{ path: string; page: TracePage }>(),
    hopFailed: props<{ path: string; trouble: Trouble }>(),
    closeHop: props<{ path: string }>(),
    showEvidence: props<{ project: number; place: Place }>(),
    evidenceLoaded: props<{ place: Place; excerpt: ExcerptView }>(),
    evidenceFailed: props<{ place: Place; trouble: Trouble }>(),
  },
});

const initial: TraceState = { page: null, isLoading: false, trouble: null, hops: {}, evidence: null };

export const traceFeature = createFeature({
  name: 'trace',
  reducer: createReducer<TraceState>(
    initial,
    on(traceActions.load, (state, { piece }) => ({
      ...state,
      isLoading: true,
      // The same piece loaded again (after a scan) keeps what is open.
      ...(state.page?.piece.key === piece ? {} : { page: null, hops: {}, evidence: null }),
    })),
    on(traceActions.loaded, (state, { page }) => ({ ...state, page, isLoading: false, trouble: null })),
    on(traceActions.failed, (state, { trouble }) => ({
      ...state,
      page: null,
      hops: {},
      evidence: null,
      isLoading: false,
      trouble,
    })),
    on(traceActions.openHop, (state, { path }) => ({
      ...state,
      hops: { ...state.hops, [path]: { page: null, trouble: null } },
    })),
    on(traceActions.hopLoaded, (state, { path, page }) =>
      path in state.hops ? { ...state, hops: { ...state.hops, [path]: { page, trouble: null } } } : state,
    ),
    on(traceActions.hopFailed, (state, { path, trouble }) =>
      path in state.hops ? { ...state, hops: { ...state.hops, [path]: { page: null, trouble } } } : state,
    ),
    on(traceActions.closeHop, (state, { path }) => ({
      ...state,
      hops: Object.fromEntries(
        Object.entries(state.hops).filter(([open]) => open !== path && !open.startsWith(`${path}>`)),
      ),
    })),
    on(traceActions.showEvidence, (state, { place }) => ({
      ...state,
      evidence: { place, excerpt: null, trouble: null },
    })),
    on(traceActions.evidenceLoaded, (state, { place, excerpt }) => ({
      ...state,
      evidence: { place, excerpt, trouble: null },
    })),
    on(traceActions.evidenceFailed, (state, { place, trouble }) => ({
      ...state,
      evidence: { place, excerpt: null, trouble },
    })),
  ),
});
