import { change, latest } from '../shared/request';
import { repairsActions } from './repairs.state';

export const repairsEffects = {
  preview: latest({
    on: repairsActions.preview,
    ask: (api, { project, request }) => api.previewRepair(project, request),
    done: (preview) => repairsActions.previewed({ preview }),
    failed: (trouble) => repairsActions.failed({ trouble }),
    until: [repairsActions.close, repairsActions.write],
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
