import type { Chains, Neighbourhood, TraceFilter, TracePage } from '@glue-trace/core';
import type { ExcerptView, ValuesPage, WalkPage } from '@glue-trace/server/api';
import { createActionGroup, createFeature, createReducer, emptyProps, on, props } from '@ngrx/store';
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
  /** Values in force on the piece. */
  values: ValuesPage | null;
  valuesTrouble: Trouble | null;
  /** The way that the look-up written at a place takes. */
  walk: { place: Place; steps: WalkPage['steps']; trouble: Trouble | null } | null;
  chains: { found: Chains | null; trouble: Trouble | null } | null;
  around: Neighbourhood | null;
}

export const traceActions = createActionGroup({
  source: 'Trace',
  events: {
    load: props<{ project: number; piece: string; filter: TraceFilter }>(),
    loaded: props<{ page: TracePage }>(),
    failed: props<{ trouble: Trouble }>(),
    openHop: props<{ project: number; piece: string; path: string }>(),
    hopLoaded: props<{ path: string; page: TracePage }>(),
    hopFailed: props<{ path: string; trouble: Trouble }>(),
    closeHop: props<{ path: string }>(),
    showEvidence: props<{ project: number; place: Place }>(),
    evidenceLoaded: props<{ place: Place; excerpt: ExcerptView }>(),
    evidenceFailed: props<{ place: Place; trouble: Trouble }>(),
    valuesLoaded: props<{ values: ValuesPage }>(),
    valuesFailed: props<{ trouble: Trouble }>(),
    showWalk: props<{ project: number; piece: string; place: Place }>(),
    walkLoaded: props<{ place: Place; steps: WalkPage['steps'] }>(),
    walkFailed: props<{ place: Place; trouble: Trouble }>(),
    findChains: props<{ project: number; from: string; to: string }>(),
    chainsLoaded: props<{ found: Chains }>(),
    chainsFailed: props<{ trouble: Trouble }>(),
    leaveChains: emptyProps(),
    draw: props<{ project: number; piece: string; hops: number; most: number }>(),
    drawn: props<{ around: Neighbourhood }>(),
    leaveDrawing: emptyProps(),
  },
});

const initial: TraceState = {
  page: null,
  isLoading: false,
  trouble: null,
  hops: {},
  evidence: null,
  values: null,
  valuesTrouble: null,
  walk: null,
  chains: null,
  around: null,
};

export const traceFeature = createFeature({
  name: 'trace',
  reducer: createReducer<TraceState>(
    initial,
    on(traceActions.load, (state, { piece }) => ({
      ...state,
      isLoading: true,
      // The same piece loaded again (after a scan) keeps what is open.
      ...(state.page?.piece.key === piece
        ? {}
        : { page: null, hops: {}, evidence: null, values: null, valuesTrouble: null, walk: null }),
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
    on(traceActions.valuesLoaded, (state, { values }) => ({ ...state, values, valuesTrouble: null })),
    on(traceActions.valuesFailed, (state, { trouble }) => ({ ...state, values: null, valuesTrouble: trouble })),
    on(traceActions.walkLoaded, (state, { place, steps }) => ({ ...state, walk: { place, steps, trouble: null } })),
    on(traceActions.walkFailed, (state, { place, trouble }) => ({ ...state, walk: { place, steps: [], trouble } })),
    on(traceActions.findChains, (state) => ({ ...state, chains: { found: null, trouble: null } })),
    on(traceActions.chainsLoaded, (state, { found }) => ({ ...state, chains: { found, trouble: null } })),
    on(traceActions.chainsFailed, (state, { trouble }) => ({ ...state, chains: { found: null, trouble } })),
    on(traceActions.leaveChains, (state) => ({ ...state, chains: null })),
    on(traceActions.draw, (state) => ({ ...state, around: null })),
    on(traceActions.drawn, (state, { around }) => ({ ...state, around })),
    on(traceActions.leaveDrawing, (state) => ({ ...state, around: null })),
    on(traceActions.evidenceFailed, (state, { place, trouble }) => ({
      ...state,
      evidence: { place, excerpt: null, trouble },
    })),
  ),
});
