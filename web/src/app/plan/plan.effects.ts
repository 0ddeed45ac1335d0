import { forkJoin } from 'rxjs';
import { change, latest } from '../shared/request';
import { planActions } from './plan.state';

const EVERYTHING = { status: '', folder: '', text: '' };

export const planEffects = {
  load: latest({
    on: planActions.load,
    ask: (api, { project }) => forkJoin({ page: api.plan(project), files: api.files(project, EVERYTHING) }),
    done: ({ page, files }) => planActions.loaded({ page, paths: files.rows.map((row) => row.path) }),
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
};
