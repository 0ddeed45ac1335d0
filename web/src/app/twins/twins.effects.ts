import { inject } from '@angular/core';
import { Actions, createEffect, ofType } from '@ngrx/effects';
import { catchError, map, of, switchMap } from 'rxjs';
import { Api, troubleOf } from '../api';
import { excerptsOf } from '../shared/excerpts';
import { twinsActions } from './twins.state';

export const twinsEffects = {
  load: createEffect(
    (actions = inject(Actions), api = inject(Api)) =>
      actions.pipe(
        ofType(twinsActions.load),
        switchMap(({ project, filter }) =>
          api.twins(project, filter).pipe(
            map((page) => twinsActions.loaded({ page })),
            catchError((error: unknown) => of(twinsActions.failed({ trouble: troubleOf(error) }))),
          ),
        ),
      ),
    { functional: true },
  ),

  show: createEffect(
    (actions = inject(Actions), api = inject(Api)) =>
      actions.pipe(
        ofType(twinsActions.show),
        switchMap(({ project, places }) =>
          excerptsOf(
            api,
            project,
            places.map(({ file, ...range }) => ({ file, range })),
          ).pipe(map((code) => twinsActions.shown({ code }))),
        ),
      ),
    { functional: true },
  ),
};
