import { inject } from '@angular/core';
import { Actions, createEffect, ofType } from '@ngrx/effects';
import { map } from 'rxjs';
import { change, latest, single } from '../shared/request';
import { learnActions } from './learn.state';

export const learnEffects = {
  load: latest({
    on: learnActions.load,
    ask: (api, { project }) => api.learned(project),
    done: (page) => learnActions.loaded({ page }),
    failed: (trouble) => learnActions.failed({ trouble }),
  }),
  count: latest({
    on: learnActions.count,
    ask: (api, { project }) => api.readiness(project),
    done: ({ readiness }) => learnActions.counted({ readiness }),
    // Where there is no map, there is nothing to count.
    failed: () => learnActions.countFailed(),
  }),
  learnAgain: single({
    on: learnActions.again,
    ask: (api, { project }) => api.learnAgain(project),
    done: (page) => learnActions.learnedAgain({ page }),
    failed: (trouble) => learnActions.saveFailed({ trouble }),
  }),
  decide: change({
    on: learnActions.decide,
    ask: (api, { project, decisions, hash }) => api.decideLearned(project, { ...decisions, hash }),
    done: (page, { words, text }) => learnActions.decided({ page, decided: { words, text } }),
    failed: (trouble) => learnActions.saveFailed({ trouble }),
  }),
  takeBack: change({
    on: learnActions.takeBack,
    ask: (api, { project, text, hash }) => api.savePlan(project, text, hash),
    done: (_, { project }) => learnActions.takenBack({ project }),
    failed: (trouble) => learnActions.saveFailed({ trouble }),
  }),
  /** What is open again is asked for anew. */
  again: createEffect(
    (actions = inject(Actions)) =>
      actions.pipe(
        ofType(learnActions.takenBack),
        map(({ project }) => learnActions.load({ project })),
      ),
    { functional: true },
  ),
};
