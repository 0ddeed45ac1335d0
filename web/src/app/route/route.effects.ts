import { inject } from '@angular/core';
import { Actions, createEffect, ofType } from '@ngrx/effects';
import { tap } from 'rxjs';
import { change, latest } from '../shared/request';
import { rememberRoute, routeActions } from './route.state';

export const routeEffects = {
  load: latest({
    on: routeActions.load,
    ask: (api, { project }) => api.routes(project),
    done: (routes) => routeActions.loaded({ routes }),
    failed: (trouble) => routeActions.failed({ trouble }),
  }),
  save: change({
    on: routeActions.save,
    ask: (api, { project, name, from, note }) => api.saveRoute(project, name, { from, note }),
    done: (routes) => routeActions.loaded({ routes }),
    failed: (trouble) => routeActions.failed({ trouble }),
  }),
  drop: change({
    on: routeActions.drop,
    ask: (api, { project, name }) => api.dropRoute(project, name),
    done: (routes) => routeActions.loaded({ routes }),
    failed: (trouble) => routeActions.failed({ trouble }),
  }),
  remember: createEffect(
    (actions = inject(Actions)) =>
      actions.pipe(
        ofType(routeActions.choose),
        tap(({ project, name }) => rememberRoute(project, name)),
      ),
    { functional: true, dispatch: false },
  ),
};
