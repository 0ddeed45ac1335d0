import { excerptsAt } from '../shared/excerpts';
import { latest } from '../shared/request';
import { familiesActions } from './families.state';

export const familiesEffects = {
  load: latest({
    on: familiesActions.load,
    ask: (api, { project }) => api.families(project),
    done: (page) => familiesActions.loaded({ page }),
    failed: (trouble) => familiesActions.failed({ trouble }),
  }),
  open: latest({
    on: familiesActions.open,
    ask: (api, { project, piece }) => api.family(project, piece),
    done: (family) => familiesActions.opened({ family }),
    failed: (trouble) => familiesActions.openFailed({ trouble }),
  }),
  show: latest({
    on: familiesActions.show,
    ask: (api, { project, places }) => excerptsAt(api, project, places),
    done: (code) => familiesActions.shown({ code }),
    failed: (trouble) => familiesActions.openFailed({ trouble }),
    until: [familiesActions.hide, familiesActions.open],
  }),
};
