import { latest } from '../shared/request';
import { readinessActions } from './readiness.state';

export const readinessEffects = {
  load: latest({
    on: readinessActions.load,
    ask: (api, { project }) => api.readiness(project),
    done: (page) => readinessActions.loaded({ page }),
    failed: (trouble) => readinessActions.failed({ trouble }),
  }),
};
