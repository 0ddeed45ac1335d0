import { inject } from '@angular/core';
import { Actions, createEffect, ofType } from '@ngrx/effects';
import { Store } from '@ngrx/store';
import { forkJoin, tap, withLatestFrom } from 'rxjs';
import { remember } from '../shared/draft';
import { SHOWN } from '../shared/one-project';
import { change, latest } from '../shared/request';
import { draftKey, planActions, planFeature, type KeptDraft } from './plan.state';

const EVERYTHING = { status: '', folder: '', text: '' };

export const planEffects = {
  load: latest({
    on: planActions.load,
    ask: (api, { project }) => forkJoin({ page: api.plan(project), files: api.files(project, EVERYTHING) }),
    done: ({ page, files }, { project }) =>
      planActions.loaded({ project, page, paths: files.rows.map((row) => row.path) }),
    failed: (trouble) => planActions.failed({ trouble }),
  }),
  file: latest({
    on: planActions.loadFile,
    ask: (api, { project, file }) => api.text(project, file),
    done: (file) => planActions.fileLoaded({ file }),
    failed: (trouble) => planActions.failed({ trouble }),
  }),
  files: latest({
    on: planActions.findFiles,
    ask: (api, { project, text }) => api.files(project, { ...EVERYTHING, text }),
    done: ({ rows }) => planActions.filesFound({ paths: rows.map((row) => row.path) }),
    failed: (trouble) => planActions.failed({ trouble }),
  }),
  try: latest({
    on: planActions.try,
    ask: (api, { project, text, rule }) => api.tryPlan(project, text, rule),
    done: (result) => planActions.tried({ result }),
    failed: (trouble) => planActions.tryFailed({ trouble }),
    // A draft that was changed meanwhile is another one.
    until: [planActions.type, planActions.change, planActions.undo, planActions.save],
  }),
  save: change({
    on: planActions.save,
    ask: (api, { project, text, hash }) => api.savePlan(project, text, hash),
    done: (page) => planActions.saved({ page }),
    failed: (trouble) => planActions.saveFailed({ trouble }),
  }),
  /** What is typed is kept from the moment on that it is typed. */
  keep: createEffect(
    (actions = inject(Actions), store = inject<Store<{ [SHOWN]: number }>>(Store)) =>
      actions.pipe(
        ofType(planActions.type, planActions.change, planActions.undo, planActions.saved),
        withLatestFrom(store.select(planFeature.selectPlanState), store.select(SHOWN)),
        tap(([, { page, draft }, project]) => {
          const kept: KeptDraft | null = page && page.text !== draft ? { text: draft, hash: page.hash } : null;
          remember(draftKey(project), kept);
        }),
      ),
    { functional: true, dispatch: false },
  ),
};
