import { latest } from '../shared/request';
import { readinessActions } from './readiness.state';

export const readinessEffects = {
  load: latest({
    on: readinessActions.load,
    ask: (api, { project, route }) => api.readiness(project, route),
    done: (page) => readinessActions.loaded({ page }),
    failed: (trouble) => readinessActions.failed({ trouble }),
  }),
  draw: latest({
    on: readinessActions.draw,
    ask: (api, { project, route }) => api.stops(project, route),
    done: (stops) => readinessActions.drawn({ stops }),
    failed: (trouble) => readinessActions.failed({ trouble }),
  }),
};
