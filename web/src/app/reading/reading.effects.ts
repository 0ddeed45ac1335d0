import { latest } from '../shared/request';
import { readingActions } from './reading.state';

export const readingEffects = {
  load: latest({
    on: readingActions.load,
    ask: (api, { project }) => api.reading(project),
    done: (page) => readingActions.loaded({ page }),
    failed: (trouble) => readingActions.failed({ trouble }),
  }),
  files: latest({
    on: readingActions.loadFiles,
    ask: (api, { project, filter }) => api.files(project, filter),
    done: (files) => readingActions.filesLoaded({ files }),
    failed: (trouble) => readingActions.failed({ trouble }),
  }),
};
