import { latest } from '../shared/request';
import { wiringActions } from './wiring.state';

export const wiringEffects = {
  load: latest({
    on: wiringActions.load,
    ask: (api, { project, filter, route }) => api.wiring(project, filter, route),
    done: (page) => wiringActions.loaded({ page }),
    failed: (trouble) => wiringActions.failed({ trouble }),
  }),
  life: latest({
    on: wiringActions.loadLife,
    ask: (api, { project }) => api.lifeCycle(project),
    done: (life) => wiringActions.lifeLoaded({ life }),
    failed: (trouble) => wiringActions.failed({ trouble }),
  }),
  tell: latest({
    on: wiringActions.tell,
    ask: (api, { project, event, direction }) => api.story(project, event, direction),
    done: (page) => wiringActions.told({ page }),
    failed: (trouble) => wiringActions.tellFailed({ trouble }),
    until: [wiringActions.close],
  }),
};
