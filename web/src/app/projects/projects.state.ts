import type { About, ProjectView, ScanChange, ScanEvent, Watching } from '@glue-trace/server/api';
import { createActionGroup, createFeature, createReducer, createSelector, emptyProps, on, props } from '@ngrx/store';
import type { Trouble } from '../api';

export interface ProjectsState {
  list: ProjectView[];
  isLoaded: boolean;
  /** The project the address names. */
  current: number | null;
  about: About | null;
  trouble: Trouble | null;
  /** What the last finished scan changed, while the page is open. */
  change: ScanChange | null;
  /** How changes of the project in view are seen; null until that is known. */
  watching: Watching | null;
  /** Counts finished scans, and what was changed in other windows, so that views know when to load anew. */
  scansSeen: number;
}

const initial: ProjectsState = {
  list: [],
  isLoaded: false,
  current: null,
  about: null,
  trouble: null,
  scansSeen: 0,
  change: null,
  watching: null,
};

export const projectsActions = createActionGroup({
  source: 'Projects',
  events: {
    load: emptyProps(),
    loaded: props<{ list: ProjectView[]; about: About }>(),
    open: props<{ folder: string }>(),
    opened: props<{ project: ProjectView }>(),
    choose: props<{ project: number }>(),
    /** Somebody decided or noted something in another window. */
    changedElsewhere: props<{ project: number }>(),
    refresh: props<{ project: number }>(),
    refreshed: props<{ project: ProjectView }>(),
    forget: props<{ project: number }>(),
    forgotten: props<{ project: number }>(),
    scan: props<{ project: number }>(),
    stop: props<{ project: number }>(),
    watching: props<{ project: number; watching: Watching }>(),
    scanEvent: props<{ project: number; event: ScanEvent }>(),
    failed: props<{ trouble: Trouble }>(),
    dismiss: emptyProps(),
  },
});

const withProject = (list: ProjectView[], project: ProjectView): ProjectView[] =>
  list.some((one) => one.id === project.id)
    ? list.map((one) => (one.id === project.id ? project : one))
    : [project, ...list];

export const projectsFeature = createFeature({
  name: 'projects',
  reducer: createReducer(
    initial,
    on(projectsActions.loaded, (state, { list, about }) => ({ ...state, list, about, isLoaded: true, trouble: null })),
    on(projectsActions.open, (state) => ({ ...state, trouble: null })),
    on(projectsActions.opened, projectsActions.refreshed, (state, { project }) => ({
      ...state,
      list: withProject(state.list, project),
    })),
    on(projectsActions.choose, (state, { project }) => ({
      ...state,
      current: project,
      change: state.current === project ? state.change : null,
      watching: state.current === project ? state.watching : null,
    })),
    on(projectsActions.watching, (state, { project, watching }) =>
      state.current === project ? { ...state, watching } : state,
    ),
    on(projectsActions.changedElsewhere, (state, { project }) => ({
      ...state,
      scansSeen: state.current === project ? state.scansSeen + 1 : state.scansSeen,
    })),
    on(projectsActions.forgotten, (state, { project }) => ({
      ...state,
      list: state.list.filter((one) => one.id !== project),
    })),
    on(projectsActions.scanEvent, (state, { project, event }) => ({
      ...state,
      scansSeen: event.is === 'done' ? state.scansSeen + 1 : state.scansSeen,
      change: event.is === 'done' ? event.change : state.change,
      list: state.list.map((one) =>
        one.id === project
          ? { ...one, running: event.is === 'progress' ? { scanId: event.scanId, progress: event.progress } : null }
          : one,
      ),
    })),
    on(projectsActions.failed, (state, { trouble }) => ({ ...state, trouble, isLoaded: true })),
    on(projectsActions.dismiss, (state) => ({ ...state, trouble: null })),
  ),
  extraSelectors: ({ selectList, selectCurrent }) => ({
    selectProject: createSelector(
      selectList,
      selectCurrent,
      (list, current) => list.find((one) => one.id === current) ?? null,
    ),
  }),
});
