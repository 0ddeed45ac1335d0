import { excerptsAt } from '../shared/excerpts';
import { latest } from '../shared/request';
import { twinsActions } from './twins.state';

export const twinsEffects = {
  load: latest({
    on: twinsActions.load,
    ask: (api, { project, filter }) => api.twins(project, filter),
    done: (page) => twinsActions.loaded({ page }),
    failed: (trouble) => twinsActions.failed({ trouble }),
  }),
  show: latest({
    on: twinsActions.show,
    ask: (api, { project, places }) => excerptsAt(api, project, places),
    done: (code) => twinsActions.shown({ code }),
    failed: (trouble) => twinsActions.failed({ trouble }),
    until: [twinsActions.hide],
  }),
};
