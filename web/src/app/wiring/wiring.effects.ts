import { inject } from '@angular/core';
import { Actions, createEffect, ofType } from '@ngrx/effects';
import { catchError, map, of, switchMap } from 'rxjs';
import { Api, troubleOf } from '../api';
import { wiringActions } from './wiring.state';

export const wiringEffects = {
  load: createEffect(
    (actions = inject(Actions), api = inject(Api)) =>
      actions.pipe(
        ofType(wiringActions.load),
        switchMap(({ project, filter }) =>
          api.wiring(project, filter).pipe(
            map((page) => wiringActions.loaded({ page })),
            catchError((error: unknown) => of(wiringActions.failed({ trouble: troubleOf(error) }))),
          ),
        ),
      ),
    { functional: true },
  ),

  life: createEffect(
    (actions = inject(Actions), api = inject(Api)) =>
      actions.pipe(
        ofType(wiringActions.loadLife),
        switchMap(({ project }) =>
          api.lifeCycle(project).pipe(
            map((life) => wiringActions.lifeLoaded({ life })),
            catchError((error: unknown) => of(wiringActions.failed({ trouble: troubleOf(error) }))),
          ),
        ),
      ),
    { functional: true },
  ),

  tell: createEffect(
    (actions = inject(Actions), api = inject(Api)) =>
      actions.pipe(
        ofType(wiringActions.tell),
        switchMap(({ project, event, direction }) =>
          api.story(project, event, direction).pipe(
            map((page) => wiringActions.told({ page })),
            catchError((error: unknown) => of(wiringActions.tellFailed({ trouble: troubleOf(error) }))),
          ),
        ),
      ),
    { functional: true },
  ),
};
