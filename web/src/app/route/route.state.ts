/** The route that the views speak for: chosen in the bar, and remembered for each project by this browser. */
import type { RouteView } from '@glue-trace/server/api';
import { createActionGroup, createFeature, createReducer, on, props } from '@ngrx/store';
import type { Trouble } from '../api';

export interface RouteState {
  routes: RouteView[];
  /** Name of the route; empty for the whole project. */
  chosen: string;
  isSaving: boolean;
  trouble: Trouble | null;
}

export const routeActions = createActionGroup({
  source: 'Route',
  events: {
    load: props<{ project: number }>(),
    loaded: props<{ routes: RouteView[] }>(),
    choose: props<{ project: number; name: string }>(),
    save: props<{ project: number; name: string; from: string[]; note: string }>(),
    drop: props<{ project: number; name: string }>(),
    failed: props<{ trouble: Trouble }>(),
  },
});

const keyOf = (project: number): string => `glue-route-${project}`;

/** The route that was chosen last for a project. */
function rememberedRoute(project: number): string {
  return localStorage.getItem(keyOf(project)) ?? '';
}

export function rememberRoute(project: number, name: string): void {
  if (name) localStorage.setItem(keyOf(project), name);
  else localStorage.removeItem(keyOf(project));
}

const initial: RouteState = { routes: [], chosen: '', isSaving: false, trouble: null };

export const routeFeature = createFeature({
  name: 'route',
  reducer: createReducer<RouteState>(
    initial,
    on(routeActions.load, (state, { project }) => ({ ...state, chosen: state.chosen || rememberedRoute(project) })),
    on(routeActions.save, routeActions.drop, (state) => ({ ...state, isSaving: true, trouble: null })),
    on(routeActions.loaded, (state, { routes }) => ({
      routes,
      // What was taken out meanwhile is the whole project again.
      chosen: routes.some(({ name }) => name === state.chosen) ? state.chosen : '',
      isSaving: false,
      trouble: null,
    })),
    on(routeActions.choose, (state, { name }) => ({ ...state, chosen: name })),
    on(routeActions.failed, (state, { trouble }) => ({ ...state, isSaving: false, trouble })),
  ),
});
