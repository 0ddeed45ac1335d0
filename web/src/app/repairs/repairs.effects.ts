import { inject } from '@angular/core';
import { Actions, createEffect, ofType } from '@ngrx/effects';
import { catchError, exhaustMap, map, of, switchMap } from 'rxjs';
import { Api, troubleOf } from '../api';
import { repairsActions } from './repairs.state';

export const repairsEffects = {
  preview: createEffect(
    (actions = inject(Actions), api = inject(Api)) =>
      actions.pipe(
        ofType(repairsActions.preview),
        switchMap(({ project, request }) =>
          api.previewRepair(project, request).pipe(
            map((preview) => repairsActions.previewed({ preview })),
            catchError((error: unknown) => of(repairsActions.failed({ trouble: troubleOf(error) }))),
          ),
        ),
      ),
    { functional: true },
  ),

  write: createEffect(
    (actions = inject(Actions), api = inject(Api)) =>
      actions.pipe(
        ofType(repairsActions.write),
        exhaustMap(({ project, request }) =>
          api.writeRepair(project, request).pipe(
            map((repair) => repairsActions.written({ repair })),
            catchError((error: unknown) => of(repairsActions.failed({ trouble: troubleOf(error) }))),
          ),
        ),
      ),
    { functional: true },
  ),

  list: createEffect(
    (actions = inject(Actions), api = inject(Api)) =>
      actions.pipe(
        ofType(repairsActions.list),
        switchMap(({ project }) =>
          api.repairs(project).pipe(
            map((all) => repairsActions.listed({ all })),
            catchError((error: unknown) => of(repairsActions.undoFailed({ trouble: troubleOf(error) }))),
          ),
        ),
      ),
    { functional: true },
  ),

  undo: createEffect(
    (actions = inject(Actions), api = inject(Api)) =>
      actions.pipe(
        ofType(repairsActions.undo),
        exhaustMap(({ project, repair }) =>
          api.undoRepair(project, repair).pipe(
            map((undone) => repairsActions.undone({ repair: undone })),
            catchError((error: unknown) => of(repairsActions.undoFailed({ trouble: troubleOf(error) }))),
          ),
        ),
      ),
    { functional: true },
  ),
};
