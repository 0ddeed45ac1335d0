import { inject } from '@angular/core';
import { Actions, createEffect, ofType } from '@ngrx/effects';
import { catchError, exhaustMap, forkJoin, map, of, switchMap } from 'rxjs';
import { Api, troubleOf } from '../api';
import { planActions } from './plan.state';

const EVERYTHING = { status: '', folder: '', text: '' };

export const planEffects = {
  load: createEffect(
    (actions = inject(Actions), api = inject(Api)) =>
      actions.pipe(
        ofType(planActions.load),
        switchMap(({ project }) =>
          forkJoin({ page: api.plan(project), files: api.files(project, EVERYTHING) }).pipe(
            map(({ page, files }) => planActions.loaded({ page, paths: files.rows.map((row) => row.path) })),
            catchError((error: unknown) => of(planActions.failed({ trouble: troubleOf(error) }))),
          ),
        ),
      ),
    { functional: true },
  ),

  file: createEffect(
    (actions = inject(Actions), api = inject(Api)) =>
      actions.pipe(
        ofType(planActions.loadFile),
        switchMap(({ project, file }) =>
          api.text(project, file).pipe(
            map((text) => planActions.fileLoaded({ file: text })),
            catchError((error: unknown) => of(planActions.failed({ trouble: troubleOf(error) }))),
          ),
        ),
      ),
    { functional: true },
  ),

  save: createEffect(
    (actions = inject(Actions), api = inject(Api)) =>
      actions.pipe(
        ofType(planActions.save),
        exhaustMap(({ project, text, hash }) =>
          api.savePlan(project, text, hash).pipe(
            map((page) => planActions.saved({ page })),
            catchError((error: unknown) => of(planActions.saveFailed({ trouble: troubleOf(error) }))),
          ),
        ),
      ),
    { functional: true },
  ),
};
