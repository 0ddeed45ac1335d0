import { inject } from '@angular/core';
import { Actions, createEffect, ofType } from '@ngrx/effects';
import { map } from 'rxjs';
import { change, latest } from '../shared/request';
import { waiversActions } from './waivers.state';

export const waiversEffects = {
  list: latest({
    on: waiversActions.list,
    ask: (api, { project }) => api.waivers(project),
    done: (all) => waiversActions.listed({ all }),
    failed: (trouble) => waiversActions.failed({ trouble }),
  }),
  waive: change({
    on: waiversActions.waive,
    ask: (api, { project, request }) => api.waive(project, request),
    done: (_, { request, words }) => waiversActions.waived({ findings: request.findings, words }),
    failed: (trouble) => waiversActions.failed({ trouble }),
  }),
  takeBack: change({
    on: waiversActions.takeBack,
    ask: (api, { project, findings, at }) =>
      api.takeBack(project, { ...(findings && { findings }), ...(at && { at }) }),
    done: (_, { project }) => waiversActions.takenBack({ project }),
    failed: (trouble) => waiversActions.failed({ trouble }),
  }),
  /** Positions in the file are others then. */
  listAgain: createEffect(
    (actions = inject(Actions)) =>
      actions.pipe(
        ofType(waiversActions.takenBack),
        map(({ project }) => waiversActions.list({ project })),
      ),
    { functional: true },
  ),
};
