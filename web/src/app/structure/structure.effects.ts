import { inject } from '@angular/core';
import { Actions, createEffect, ofType } from '@ngrx/effects';
import { catchError, map, of, switchMap } from 'rxjs';
import { Api, troubleOf } from '../api';
import { structureActions } from './structure.state';

export const structureEffects = {
  load: createEffect(
    (actions = inject(Actions), api = inject(Api)) =>
      actions.pipe(
        ofType(structureActions.load),
        switchMap(({ project, options }) =>
          api.coupling(project, options).pipe(
            map((page) => structureActions.loaded({ page })),
            catchError((error: unknown) => of(structureActions.failed({ trouble: troubleOf(error) }))),
          ),
        ),
      ),
    { functional: true },
  ),

  open: createEffect(
    (actions = inject(Actions), api = inject(Api)) =>
      actions.pipe(
        ofType(structureActions.open),
        switchMap(({ project, options, from, to }) =>
          api.couplingLinks(project, options, from, to).pipe(
            map((links) => structureActions.opened({ links })),
            catchError((error: unknown) => of(structureActions.openFailed({ trouble: troubleOf(error) }))),
          ),
        ),
      ),
    { functional: true },
  ),
};
