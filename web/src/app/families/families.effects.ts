import { inject } from '@angular/core';
import { Actions, createEffect, ofType } from '@ngrx/effects';
import { catchError, map, of, switchMap } from 'rxjs';
import { Api, troubleOf } from '../api';
import { excerptsOf } from '../shared/excerpts';
import { familiesActions } from './families.state';

export const familiesEffects = {
  load: createEffect(
    (actions = inject(Actions), api = inject(Api)) =>
      actions.pipe(
        ofType(familiesActions.load),
        switchMap(({ project }) =>
          api.families(project).pipe(
            map((page) => familiesActions.loaded({ page })),
            catchError((error: unknown) => of(familiesActions.failed({ trouble: troubleOf(error) }))),
          ),
        ),
      ),
    { functional: true },
  ),

  open: createEffect(
    (actions = inject(Actions), api = inject(Api)) =>
      actions.pipe(
        ofType(familiesActions.open),
        switchMap(({ project, piece }) =>
          api.family(project, piece).pipe(
            map((family) => familiesActions.opened({ family })),
            catchError((error: unknown) => of(familiesActions.openFailed({ trouble: troubleOf(error) }))),
          ),
        ),
      ),
    { functional: true },
  ),

  show: createEffect(
    (actions = inject(Actions), api = inject(Api)) =>
      actions.pipe(
        ofType(familiesActions.show),
        switchMap(({ project, places }) =>
          excerptsOf(
            api,
            project,
            places.map(({ file, ...range }) => ({ file, range })),
          ).pipe(map((code) => familiesActions.shown({ code }))),
        ),
      ),
    { functional: true },
  ),
};
