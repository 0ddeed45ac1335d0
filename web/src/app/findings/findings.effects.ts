import { inject } from '@angular/core';
import type { FindingView } from '@glue-trace/core';
import type { ExcerptView } from '@glue-trace/server/api';
import { Actions, createEffect, ofType } from '@ngrx/effects';
import { Store } from '@ngrx/store';
import { catchError, exhaustMap, forkJoin, map, of, switchMap, take, withLatestFrom, type Observable } from 'rxjs';
import { Api, troubleOf } from '../api';
import { findingsActions, findingsFeature } from './findings.state';

/** Evidence beyond this many places is named, not shown. */
const MOST_EXCERPTS = 6;

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
            switchMap((finding) => withExcerpts(api, project, finding)),
            catchError((error: unknown) => of(findingsActions.openFailed({ trouble: troubleOf(error) }))),
          ),
        ),
      ),
    { functional: true },
  ),
};

/** An excerpt that cannot be shown (the file is gone) leaves its place empty; the finding is shown all the same. */
function withExcerpts(
  api: Api,
  project: number,
  finding: FindingView,
): Observable<ReturnType<typeof findingsActions.opened>> {
  const shown = finding.evidence.slice(0, MOST_EXCERPTS);
  const excerpts: Observable<ExcerptView | null>[] = shown.map(({ file, range }) =>
    api.excerpt(project, { file, ...range }).pipe(catchError(() => of(null))),
  );
  return forkJoin(excerpts).pipe(map((found) => findingsActions.opened({ finding, excerpts: found })));
}
