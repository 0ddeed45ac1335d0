/** All slices but the list of projects tell of one project: when another is looked at, they begin anew. */
import type { Action, ActionReducer } from '@ngrx/store';
import { projectsActions, projectsFeature, type ProjectsState } from '../projects/projects.state';

/** The project that an action of a view is about; undefined when it is about none, or only keeps the list up to date. */
export function projectOf(action: Action): number | undefined {
  const isOfList = action.type.startsWith('[Projects]') && action.type !== projectsActions.choose.type;
  if (isOfList || !('project' in action)) return undefined;
  return typeof action.project === 'number' ? action.project : undefined;
}

/** Which project the slices tell of; 0 for none yet. */
export const SHOWN = 'shown';

/** The slice that keeps which project is shown. */
export function shownReducer(state = 0, action: Action): number {
  return projectOf(action) ?? state;
}

export function beginAnew<State extends { [SHOWN]: number; projects: ProjectsState }>(
  reducer: ActionReducer<State>,
): ActionReducer<State> {
  return (state, action) => {
    const project = projectOf(action);
    const isOther = state !== undefined && project !== undefined && state[SHOWN] !== project;
    // Slices that are left out begin with what they begin with.
    return reducer(isOther ? ({ [projectsFeature.name]: state.projects } as State) : state, action);
  };
}
