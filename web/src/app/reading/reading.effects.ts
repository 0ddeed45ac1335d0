import { inject } from '@angular/core';
import { Actions, createEffect, ofType } from '@ngrx/effects';
import { catchError, map, of, switchMap } from 'rxjs';
import { Api, troubleOf } from '../api';
import { readingActions } from './reading.state';

export const readingEffects = {
  load: createEffect(
    (actions = inject(Actions), api = inject(Api)) =>
      actions.pipe(
        ofType(readingActions.load),
        switchMap(({ project }) =>
          api.reading(project).pipe(
            map((page) => readingActions.loaded({ page })),
            catchError((error: unknown) => of(readingActions.failed({ trouble: troubleOf(error) }))),
          ),
        ),
      ),
    { functional: true },
  ),

  files: createEffect(
    (actions = inject(Actions), api = inject(Api)) =>
      actions.pipe(
        ofType(readingActions.loadFiles),
        switchMap(({ project, filter }) =>
          api.files(project, filter).pipe(
            map((files) => readingActions.filesLoaded({ files })),
            catchError((error: unknown) => of(readingActions.failed({ trouble: troubleOf(error) }))),
          ),
        ),
      ),
    { functional: true },
  ),
};
