import { inject } from '@angular/core';
import { Actions, createEffect, ofType } from '@ngrx/effects';
import { Store } from '@ngrx/store';
import { filter, map, switchMap, takeUntil, withLatestFrom } from 'rxjs';
import { Api } from '../api';
import { each, latest, single } from '../shared/request';
import { playActions, playFeature } from './play.state';

const failed = (trouble: Parameters<typeof playActions.failed>[0]['trouble']) => playActions.failed({ trouble });

export const playEffects = {
  load: latest({
    on: playActions.load,
    ask: (api, { project }) => api.play(project),
    done: (page) => playActions.loaded({ page }),
    failed,
  }),
  open: latest({
    on: playActions.open,
    ask: (api, { project, session }) => api.playSession(project, session),
    done: (session) => playActions.opened({ session }),
    failed,
  }),
  events: latest({
    on: playActions.events,
    ask: (api, { project, session, query }) => api.playEvents(project, session, query),
    done: (page) => playActions.eventsCame({ page }),
    failed,
  }),
  older: single({
    on: playActions.older,
    ask: (api, { project, session, query }) => api.playEvents(project, session, query),
    done: (page) => playActions.olderCame({ page }),
    failed,
    until: [playActions.events],
  }),
  show: latest({
    on: playActions.show,
    ask: (api, { project, session, at }) => api.playEvent(project, session, at),
    done: (detail) => playActions.shown({ detail }),
    failed,
    until: [playActions.hide],
  }),
  compare: latest({
    on: playActions.compare,
    ask: (api, { project, sessions, route }) => api.playMap(project, sessions, route),
    done: (found) => playActions.compared({ map: found }),
    failed,
    until: [playActions.leaveMap],
  }),
  follow: single({
    on: playActions.follow,
    ask: (api, { project, file }) => api.followPlay(project, file),
    done: ({ session }, { project }) => playActions.fileRead({ project, session }),
    failed,
  }),
  end: single({
    on: playActions.end,
    ask: (api, { project, session }) => api.endPlay(project, session),
    done: (_, { project }) => playActions.changed({ project }),
    failed,
  }),
  compareWith: latest({
    on: playActions.compareWith,
    ask: (api, { project, session, other }) => api.playBeside(project, session, other),
    done: (beside) => playActions.comparedWith({ beside }),
    failed,
  }),
  readFile: single({
    on: playActions.readFile,
    ask: (api, { project, file }) => api.readPlayFile(project, file),
    done: ({ session }, { project }) => playActions.fileRead({ project, session }),
    failed,
  }),
  name: each({
    on: playActions.name,
    ask: (api, { project, session, name, note }) => api.namePlay(project, session, name, note),
    done: (_, { project }) => playActions.changed({ project }),
    failed,
  }),
  mark: each({
    on: playActions.mark,
    ask: (api, { project, session, at, note }) => api.markPlay(project, session, at, note),
    done: (_, { project }) => playActions.changed({ project }),
    failed,
  }),
  throwAway: single({
    on: playActions.throwAway,
    ask: (api, { project, session }) => api.throwPlayAway(project, session),
    done: (_, { project }) => playActions.changed({ project }),
    failed,
  }),
  again: createEffect(
    (actions = inject(Actions)) =>
      actions.pipe(
        ofType(playActions.changed, playActions.fileRead),
        map(({ project }) => playActions.load({ project })),
      ),
    { functional: true },
  ),
  /** What comes is told as long as the view is open. */
  watch: createEffect(
    (actions = inject(Actions), api = inject(Api)) =>
      actions.pipe(
        ofType(playActions.watch),
        switchMap(({ project }) =>
          api.playNews(project).pipe(
            map((news) => playActions.news({ project, news })),
            takeUntil(actions.pipe(ofType(playActions.leave))),
          ),
        ),
      ),
    { functional: true },
  ),
  /** A session that is new to the page is asked for. */
  fresh: createEffect(
    (actions = inject(Actions), store = inject(Store)) =>
      actions.pipe(
        ofType(playActions.news),
        withLatestFrom(store.select(playFeature.selectPage)),
        filter(
          ([{ news }, page]) => page !== null && news.some(({ id }) => !page.sessions.some((one) => one.id === id)),
        ),
        map(([{ project }]) => playActions.load({ project })),
      ),
    { functional: true },
  ),
};
