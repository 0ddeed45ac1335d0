import { each, latest, single } from '../shared/request';
import { scansActions } from './scans.state';

export const scansEffects = {
  load: latest({
    on: scansActions.load,
    ask: (api, { project }) => api.scans(project),
    done: (scans) => scansActions.loaded({ scans }),
    failed: (trouble) => scansActions.failed({ trouble }),
  }),
  touched: single({
    on: scansActions.touched,
    ask: (api, { project }) => api.askTouched(project),
    done: (scans) => scansActions.loaded({ scans }),
    failed: (trouble) => scansActions.failed({ trouble }),
  }),
  note: each({
    on: scansActions.note,
    ask: (api, { project, scan, note }) => api.noteScan(project, scan, note),
    done: (_, { scan, note }) => scansActions.noted({ scan, note }),
    failed: (trouble) => scansActions.failed({ trouble }),
  }),
  compare: latest({
    on: scansActions.compare,
    ask: (api, { project, from, to }) => api.compare(project, from, to),
    done: (comparison) => scansActions.compared({ comparison }),
    failed: (trouble) => scansActions.compareFailed({ trouble }),
  }),
};
