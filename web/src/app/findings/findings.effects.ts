import { inject } from '@angular/core';
import { Actions, createEffect, ofType } from '@ngrx/effects';
import { Store } from '@ngrx/store';
import { catchError, exhaustMap, map, of, switchMap, take, withLatestFrom } from 'rxjs';
import { Api, troubleOf } from '../api';
import { excerptsOf } from '../shared/excerpts';
import { findingsActions, findingsFeature } from './findings.state';

export const findingsEffects = {
  load: createEffect(
    (actions = inject(Actions), api = inject(Api)) =>
      actions.pipe(
        ofType(findingsActions.load),
        switchMap(({ project, filter }) =>
          api.findings(project, filter, 0).pipe(
            map((page) => findingsActions.loaded({ page })),
            catchError((error: unknown) => of(findingsActions.failed({ trouble: troubleOf(error) }))),
          ),
        ),
      ),
    { functional: true },
  ),

  more: createEffect(
    (actions = inject(Actions), api = inject(Api), store = inject(Store)) =>
      actions.pipe(
        ofType(findingsActions.more),
        withLatestFrom(store.select(findingsFeature.selectFindingsState)),
        exhaustMap(([{ project }, { filter, rows }]) =>
          api.findings(project, filter, rows.length).pipe(
            map((page) => findingsActions.loaded({ page })),
            catchError((error: unknown) => of(findingsActions.failed({ trouble: troubleOf(error) }))),
          ),
        ),
      ),
    { functional: true },
  ),

  checks: createEffect(
    (actions = inject(Actions), api = inject(Api)) =>
      actions.pipe(
        ofType(findingsActions.load),
        take(1),
        switchMap(() => api.checks().pipe(catchError(() => of([])))),
        map((checks) => findingsActions.checksLoaded({ checks })),
      ),
    { functional: true },
  ),

  open: createEffect(
    (actions = inject(Actions), api = inject(Api)) =>
      actions.pipe(
        ofType(findingsActions.open),
        switchMap(({ project, fingerprint }) =>
          api.finding(project, fingerprint).pipe(
            switchMap((finding) =>
              excerptsOf(api, project, finding.evidence).pipe(
                map((excerpts) => findingsActions.opened({ finding, excerpts })),
              ),
            ),
            catchError((error: unknown) => of(findingsActions.openFailed({ trouble: troubleOf(error) }))),
          ),
        ),
      ),
    { functional: true },
  ),
};
