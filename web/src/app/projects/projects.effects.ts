import { inject } from '@angular/core';
import { Router } from '@angular/router';
import { Actions, createEffect, ofType } from '@ngrx/effects';
import type { Action } from '@ngrx/store';
import {
  catchError,
  distinctUntilChanged,
  EMPTY,
  exhaustMap,
  filter,
  forkJoin,
  map,
  mergeMap,
  of,
  switchMap,
  tap,
  type Observable,
} from 'rxjs';
import { Api, troubleOf } from '../api';
import { WINDOW } from '../token';
import { projectsActions } from './projects.state';

const failed = (error: unknown): Observable<Action> => of(projectsActions.failed({ trouble: troubleOf(error) }));

export const projectsEffects = {
  load: createEffect(
    (actions = inject(Actions), api = inject(Api)) =>
      actions.pipe(
        ofType(projectsActions.load),
        switchMap(() =>
          forkJoin({ list: api.projects(), about: api.about() }).pipe(
            map((found) => projectsActions.loaded(found)),
            catchError(failed),
          ),
        ),
      ),
    { functional: true },
  ),

  open: createEffect(
    (actions = inject(Actions), api = inject(Api)) =>
      actions.pipe(
        ofType(projectsActions.open),
        exhaustMap(({ folder }) =>
          api.open(folder).pipe(
            map((project) => projectsActions.opened({ project })),
            catchError(failed),
          ),
        ),
      ),
    { functional: true },
  ),

  /** A project that can be read is shown at once; another stays on Projects, where it says what it needs. */
  show: createEffect(
    (actions = inject(Actions), router = inject(Router)) =>
      actions.pipe(
        ofType(projectsActions.opened),
        filter(({ project }) => project.plan === 'ready' || project.plan === 'learned'),
        tap(({ project }) => void router.navigate(['/p', project.id, 'readiness'])),
      ),
    { functional: true, dispatch: false },
  ),

  refresh: createEffect(
    (actions = inject(Actions), api = inject(Api)) =>
      actions.pipe(
        ofType(projectsActions.refresh, projectsActions.choose),
        mergeMap(({ project }) =>
          api.project(project).pipe(
            map((view) => projectsActions.refreshed({ project: view })),
            catchError(failed),
          ),
        ),
      ),
    { functional: true },
  ),

  forget: createEffect(
    (actions = inject(Actions), api = inject(Api)) =>
      actions.pipe(
        ofType(projectsActions.forget),
        mergeMap(({ project }) =>
          api.forget(project).pipe(
            map(() => projectsActions.forgotten({ project })),
            catchError(failed),
          ),
        ),
      ),
    { functional: true },
  ),

  scan: createEffect(
    (actions = inject(Actions), api = inject(Api)) =>
      actions.pipe(
        ofType(projectsActions.scan),
        exhaustMap(({ project }) =>
          api.scan(project).pipe(
            map(() => projectsActions.refresh({ project })),
            catchError(failed),
          ),
        ),
      ),
    { functional: true },
  ),

  stop: createEffect(
    (actions = inject(Actions), api = inject(Api)) =>
      actions.pipe(
        ofType(projectsActions.stop),
        exhaustMap(({ project }) =>
          api.stopScan(project).pipe(
            map(() => projectsActions.refresh({ project })),
            catchError(failed),
          ),
        ),
      ),
    { functional: true },
  ),

  listen: createEffect(
    (actions = inject(Actions), api = inject(Api)) =>
      actions.pipe(
        ofType(projectsActions.choose),
        map(({ project }) => project),
        distinctUntilChanged(),
        switchMap((project) =>
          api.progress(project).pipe(
            // What was done in this window is known here.
            filter((event) => event.of !== 'change' || event.told.by !== WINDOW),
            map((event) => {
              if (event.of === 'scan') return projectsActions.scanEvent({ project, event: event.told });
              if (event.of === 'watching') return projectsActions.watching({ project, watching: event.told });
              return projectsActions.changedElsewhere({ project });
            }),
          ),
        ),
      ),
    { functional: true },
  ),

  /** Whoever comes to a project looks at its last scan: what comes later is measured against that. */
  see: createEffect(
    (actions = inject(Actions), api = inject(Api)) =>
      actions.pipe(
        ofType(projectsActions.refreshed),
        filter(({ project }) => project.lastScan?.state === 'done'),
        map(({ project }) => project.id),
        distinctUntilChanged(),
        mergeMap((project) => api.seeScan(project).pipe(catchError(() => EMPTY))),
      ),
    { functional: true, dispatch: false },
  ),

  /** When a scan has ended, the project says how. */
  ended: createEffect(
    (actions = inject(Actions)) =>
      actions.pipe(
        ofType(projectsActions.scanEvent),
        filter(({ event }) => event.is !== 'progress'),
        map(({ project }) => projectsActions.refresh({ project })),
      ),
    { functional: true },
  ),
  changed: createEffect(
    (actions = inject(Actions)) =>
      actions.pipe(
        ofType(projectsActions.changedElsewhere),
        map(({ project }) => projectsActions.refresh({ project })),
      ),
    { functional: true },
  ),
};
