import { inject } from '@angular/core';
import { Actions, createEffect, ofType } from '@ngrx/effects';
import { filter, map, switchMap, take, timer } from 'rxjs';
import { change, latest } from '../shared/request';
import { OF_ALL, repairsActions } from './repairs.state';

/** Milliseconds that a finding is open before its repairs are tried. */
const BEFORE_TRIAL = 400;

export const repairsEffects = {
  preview: latest({
    on: repairsActions.preview,
    ask: (api, { project, request }) => api.previewRepair(project, request),
    done: (preview) => repairsActions.previewed({ preview }),
    failed: (trouble) => repairsActions.failed({ trouble }),
    until: [repairsActions.close, repairsActions.write],
  }),
  gather: latest({
    on: repairsActions.gather,
    ask: (api, { project, filter }) => api.sureRepairs(project, filter),
    done: (sure) => repairsActions.gathered({ sure }),
    failed: (trouble) => repairsActions.failed({ trouble }),
    until: [repairsActions.close],
  }),
  /** What can be repaired surely is shown at once. */
  previewAll: createEffect(
    (actions = inject(Actions)) =>
      actions.pipe(
        ofType(repairsActions.gather),
        switchMap(({ project }) =>
          actions.pipe(
            ofType(repairsActions.gathered),
            take(1),
            filter(({ sure }) => sure.findings.length > 0),
            map(({ sure: { findings } }) => repairsActions.preview({ project, request: { findings }, of: OF_ALL })),
          ),
        ),
      ),
    { functional: true },
  ),
  try: latest({
    on: repairsActions.try,
    ask: (api, { project, of }) => timer(BEFORE_TRIAL).pipe(switchMap(() => api.tryRepairs(project, of))),
    done: ({ trials }, { of }) => repairsActions.tried({ of, list: trials }),
    // What could not be tried is offered as what it is: not tried.
    failed: (_trouble, { of }) => repairsActions.tried({ of, list: [] }),
  }),
  write: change({
    on: repairsActions.write,
    ask: (api, { project, request }) => api.writeRepair(project, request),
    done: (repair) => repairsActions.written({ repair }),
    failed: (trouble) => repairsActions.failed({ trouble }),
  }),
  list: latest({
    on: repairsActions.list,
    ask: (api, { project }) => api.repairs(project),
    done: (all) => repairsActions.listed({ all }),
    failed: (trouble) => repairsActions.undoFailed({ trouble }),
  }),
  undo: change({
    on: repairsActions.undo,
    ask: (api, { project, repair }) => api.undoRepair(project, repair),
    done: (repair) => repairsActions.undone({ repair }),
    failed: (trouble) => repairsActions.undoFailed({ trouble }),
  }),
};
