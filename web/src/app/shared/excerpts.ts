import type { Range } from '@glue-trace/core';
import type { ExcerptView } from '@glue-trace/server/api';
import { catchError, forkJoin, of, type Observable } from 'rxjs';
import type { Api, Place } from '../api';

/** More places are named, not shown. */
const MOST_EXCERPTS = 6;

/** Lines of files. One that cannot be shown (the file is gone) leaves its place empty; the others are shown all the same. */
export function excerptsOf(
  api: Api,
  project: number,
  places: readonly { file: string; range: Range }[],
): Observable<(ExcerptView | null)[]> {
  if (places.length === 0) return of([]);
  return forkJoin(
    places
      .slice(0, MOST_EXCERPTS)
      .map(({ file, range }) => api.excerpt(project, { file, ...range }).pipe(catchError(() => of(null)))),
  );
}

/** Lines of files by their places. */
export function excerptsAt(api: Api, project: number, places: readonly Place[]): Observable<(ExcerptView | null)[]> {
  return excerptsOf(
    api,
    project,
    places.map(({ file, ...range }) => ({ file, range })),
  );
}
