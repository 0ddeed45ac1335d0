import { latest } from '../shared/request';
import { structureActions } from './structure.state';

export const structureEffects = {
  load: latest({
    on: structureActions.load,
    ask: (api, { project, options, route }) => api.coupling(project, options, route),
    done: (page) => structureActions.loaded({ page }),
    failed: (trouble) => structureActions.failed({ trouble }),
  }),
  open: latest({
    on: structureActions.open,
    ask: (api, { project, options, from, to }) => api.couplingLinks(project, options, from, to),
    done: (links) => structureActions.opened({ links }),
    failed: (trouble) => structureActions.openFailed({ trouble }),
    until: [structureActions.close],
  }),
};
