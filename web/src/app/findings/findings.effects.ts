import { inject } from '@angular/core';
import { Actions, createEffect, ofType } from '@ngrx/effects';
import { catchError, map, of, switchMap, take, tap } from 'rxjs';
import { Api } from '../api';
import { remember, remembered } from '../shared/draft';
import { excerptsOf } from '../shared/excerpts';
import { each, latest, single } from '../shared/request';
import { findingsActions, noteKey } from './findings.state';

export const findingsEffects = {
  load: latest({
    on: findingsActions.load,
    ask: (api, { project, filter }) => api.findings(project, filter, 0),
    done: (page) => findingsActions.loaded({ page }),
    failed: (trouble) => findingsActions.failed({ trouble }),
  }),
  more: single({
    on: findingsActions.more,
    ask: (api, { project, filter, offset }) => api.findings(project, filter, offset),
    done: (page) => findingsActions.loaded({ page }),
    failed: (trouble) => findingsActions.failed({ trouble }),
    // Rows of a former filter have no place behind those of a newer one.
    until: [findingsActions.load],
  }),

  /** What the checks are called is the same for all projects. */
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

  open: latest({
    on: findingsActions.open,
    ask: (api, { project, fingerprint }) =>
      api
        .finding(project, fingerprint)
        .pipe(
          switchMap((finding) =>
            excerptsOf(api, project, finding.evidence).pipe(map((excerpts) => ({ finding, excerpts }))),
          ),
        ),
    done: (opened) => findingsActions.opened(opened),
    failed: (trouble) => findingsActions.openFailed({ trouble }),
    until: [findingsActions.close],
  }),

  note: each({
    on: findingsActions.note,
    ask: (api, { project, fingerprint, note }) => api.noteFinding(project, fingerprint, note),
    done: (_nothing, { project, fingerprint, note }) => findingsActions.noted({ project, fingerprint, note }),
    failed: (trouble, { fingerprint }) => findingsActions.noteFailed({ fingerprint, trouble }),
  }),

  /** What is saved is no draft any more, also where another finding is looked at by then. */
  noted: createEffect(
    (actions = inject(Actions)) =>
      actions.pipe(
        ofType(findingsActions.noted),
        tap(({ project, fingerprint, note }) => {
          const key = noteKey(project, fingerprint);
          if (remembered(key, '') === note) remember(key, null);
        }),
      ),
    { functional: true, dispatch: false },
  ),

  scenes: latest({
    on: findingsActions.loadScenes,
    ask: (api, { project }) => api.stops(project, ''),
    done: (scenes) => findingsActions.scenesLoaded({ scenes }),
    failed: (trouble) => findingsActions.narrowFailed({ trouble }),
  }),
  owners: latest({
    on: findingsActions.loadOwners,
    ask: (api, { project }) => api.owners(project),
    done: (owners) => findingsActions.ownersLoaded({ owners }),
    failed: (trouble) => findingsActions.narrowFailed({ trouble }),
  }),
};
