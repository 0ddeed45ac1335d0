import { inject } from '@angular/core';
import { Actions, createEffect, ofType } from '@ngrx/effects';
import { catchError, EMPTY, map, mergeMap, of, switchMap } from 'rxjs';
import { Api, troubleOf } from '../api';
import { traceActions } from './trace.state';

export const traceEffects = {
  load: createEffect(
    (actions = inject(Actions), api = inject(Api)) =>
      actions.pipe(
        ofType(traceActions.load),
        switchMap(({ project, piece, filter }) =>
          api.trace(project, piece, filter).pipe(
            map((page) => traceActions.loaded({ page })),
            catchError((error: unknown) => of(traceActions.failed({ trouble: troubleOf(error) }))),
          ),
        ),
      ),
    { functional: true },
  ),

  values: createEffect(
    (actions = inject(Actions), api = inject(Api)) =>
      actions.pipe(
        ofType(traceActions.load),
        switchMap(({ project, piece }) =>
          api.values(project, piece).pipe(
            map((values) => traceActions.valuesLoaded({ values })),
            // Without them the page is whole all the same.
            catchError(() => EMPTY),
          ),
        ),
      ),
    { functional: true },
  ),

  walk: createEffect(
    (actions = inject(Actions), api = inject(Api)) =>
      actions.pipe(
        ofType(traceActions.showWalk),
        switchMap(({ project, piece, place }) =>
          api.walk(project, piece, place).pipe(
            map(({ steps }) => traceActions.walkLoaded({ place, steps })),
            catchError(() => EMPTY),
          ),
        ),
      ),
    { functional: true },
  ),

  chains: createEffect(
    (actions = inject(Actions), api = inject(Api)) =>
      actions.pipe(
        ofType(traceActions.findChains),
        switchMap(({ project, from, to }) =>
          api.chains(project, from, to).pipe(
            map((found) => traceActions.chainsLoaded({ found })),
            catchError((error: unknown) => of(traceActions.chainsFailed({ trouble: troubleOf(error) }))),
          ),
        ),
      ),
    { functional: true },
  ),

  draw: createEffect(
    (actions = inject(Actions), api = inject(Api)) =>
      actions.pipe(
        ofType(traceActions.draw),
        switchMap(({ project, piece, most, hops }) =>
          api.neighbourhood(project, piece, most, hops).pipe(
            map((around) => traceActions.drawn({ around })),
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
