import { each, latest } from '../shared/request';
import { traceActions } from './trace.state';

export const traceEffects = {
  load: latest({
    on: traceActions.load,
    ask: (api, { project, piece, filter }) => api.trace(project, piece, filter),
    done: (page) => traceActions.loaded({ page }),
    failed: (trouble) => traceActions.failed({ trouble }),
  }),
  values: latest({
    on: traceActions.load,
    ask: (api, { project, piece }) => api.values(project, piece),
    done: (values) => traceActions.valuesLoaded({ values }),
    failed: (trouble) => traceActions.valuesFailed({ trouble }),
  }),
  walk: latest({
    on: traceActions.showWalk,
    ask: (api, { project, piece, place }) => api.walk(project, piece, place),
    done: ({ steps }, { place }) => traceActions.walkLoaded({ place, steps }),
    failed: (trouble, { place }) => traceActions.walkFailed({ place, trouble }),
    until: [traceActions.load],
  }),
  chains: latest({
    on: traceActions.findChains,
    ask: (api, { project, from, to }) => api.chains(project, from, to),
    done: (found) => traceActions.chainsLoaded({ found }),
    failed: (trouble) => traceActions.chainsFailed({ trouble }),
    until: [traceActions.leaveChains],
  }),
  draw: latest({
    on: traceActions.draw,
    ask: (api, { project, piece, most, hops }) => api.neighbourhood(project, piece, most, hops),
    done: (around) => traceActions.drawn({ around }),
    failed: (trouble) => traceActions.failed({ trouble }),
    until: [traceActions.leaveDrawing],
  }),
  hop: each({
    on: traceActions.openHop,
    ask: (api, { project, piece }) => api.trace(project, piece),
    done: (page, { path }) => traceActions.hopLoaded({ path, page }),
    failed: (trouble, { path }) => traceActions.hopFailed({ path, trouble }),
    until: [traceActions.load],
  }),
  evidence: latest({
    on: traceActions.showEvidence,
    ask: (api, { project, place }) => api.excerpt(project, place, 5),
    done: (excerpt, { place }) => traceActions.evidenceLoaded({ place, excerpt }),
    failed: (trouble, { place }) => traceActions.evidenceFailed({ place, trouble }),
  }),
};
