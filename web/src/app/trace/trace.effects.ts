import { inject } from '@angular/core';
import { Actions, createEffect, ofType } from '@ngrx/effects';
import { catchError, map, mergeMap, of, switchMap } from 'rxjs';
import { Api, troubleOf } from '../api';
import { traceActions } from './trace.state';

export const traceEffects = {
  load: createEffect(
    (actions = inject(Actions), api = inject(Api)) =>
      actions.pipe(
        ofType(traceActions.load),
        switchMap(({ project, piece }) =>
          api.trace(project, piece).pipe(
            map((page) => traceActions.loaded({ page })),
            catchError((error: unknown) => of(traceActions.failed({ trouble: troubleOf(error) }))),
          ),
        ),
      ),
    { functional: true },
  ),

  hop: createEffect(
    (actions = inject(Actions), api = inject(Api)) =>
      actions.pipe(
        ofType(traceActions.openHop),
        mergeMap(({ project, piece, path }) =>
          api.trace(project, piece).pipe(
            map((page) => traceActions.hopLoaded({ path, page })),
            catchError((error: unknown) => of(traceActions.hopFailed({ path, trouble: troubleOf(error) }))),
          ),
        ),
      ),
    { functional: true },
  ),

  evidence: createEffect(
    (actions = inject(Actions), api = inject(Api)) =>
      actions.pipe(
        ofType(traceActions.showEvidence),
        switchMap(({ project, place }) =>
          api.excerpt(project, place, 5).pipe(
            map((excerpt) => traceActions.evidenceLoaded({ place, excerpt })),
            catchError((error: unknown) => of(traceActions.evidenceFailed({ place, trouble: troubleOf(error) }))),
          ),
        ),
      ),
    { functional: true },
  ),
};
