import { inject } from '@angular/core';
import { Actions, createEffect, ofType } from '@ngrx/effects';
import { catchError, map, of, switchMap } from 'rxjs';
import { Api, troubleOf } from '../api';
import { readinessActions } from './readiness.state';

export const readinessEffects = {
  load: createEffect(
    (actions = inject(Actions), api = inject(Api)) =>
      actions.pipe(
        ofType(readinessActions.load),
        switchMap(({ project }) =>
          api.readiness(project).pipe(
            map((page) => readinessActions.loaded({ page })),
            catchError((error: unknown) => of(readinessActions.failed({ trouble: troubleOf(error) }))),
          ),
        ),
      ),
    { functional: true },
  ),
};
