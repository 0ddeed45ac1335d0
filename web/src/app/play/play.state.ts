import type {
  PlayBesideView,
  PlayDetail,
  PlayEventPage,
  PlayEventView,
  PlayMapView,
  PlayNews,
  PlayPage,
  PlaySessionPage,
} from '@glue-trace/server/api';
import { createActionGroup, createFeature, createReducer, emptyProps, on, props } from '@ngrx/store';
import type { EventQuery, Trouble } from '../api';

export interface PlayState {
  /** Null until it is known. */
  page: PlayPage | null;
  session: PlaySessionPage | null;
  /** The latest first. */
  rows: PlayEventView[];
  /** How far back was looked. */
  lookedTo: number;
  /** Events of the session when the rows were read. */
  read: number;
  detail: PlayDetail | null;
  map: PlayMapView | null;
  isComparing: boolean;
  /** The session, and another one beside it. */
  beside: PlayBesideView | null;
  /** A log that is being read. */
  isReading: boolean;
  trouble: Trouble | null;
}

export const playActions = createActionGroup({
  source: 'Play',
  events: {
    load: props<{ project: number }>(),
    loaded: props<{ page: PlayPage }>(),
    open: props<{ project: number; session: number }>(),
    opened: props<{ session: PlaySessionPage }>(),
    events: props<{ project: number; session: number; query: EventQuery }>(),
    eventsCame: props<{ page: PlayEventPage }>(),
    older: props<{ project: number; session: number; query: EventQuery }>(),
    olderCame: props<{ page: PlayEventPage }>(),
    show: props<{ project: number; session: number; at: number }>(),
    shown: props<{ detail: PlayDetail }>(),
    hide: emptyProps(),
    compare: props<{ project: number; sessions: number[]; route: string }>(),
    leaveMap: emptyProps(),
    follow: props<{ project: number; file: string }>(),
    end: props<{ project: number; session: number }>(),
    compared: props<{ map: PlayMapView }>(),
    compareWith: props<{ project: number; session: number; other: number }>(),
    comparedWith: props<{ beside: PlayBesideView }>(),
    readFile: props<{ project: number; file: File }>(),
    fileRead: props<{ project: number; session: number }>(),
    name: props<{ project: number; session: number; name: string; note: string }>(),
    mark: props<{ project: number; session: number; at: number; note: string }>(),
    throwAway: props<{ project: number; session: number }>(),
    changed: props<{ project: number }>(),
    watch: props<{ project: number }>(),
    leave: emptyProps(),
    news: props<{ project: number; news: PlayNews }>(),
    failed: props<{ trouble: Trouble }>(),
  },
});

const initial: PlayState = {
  page: null,
  session: null,
  rows: [],
  lookedTo: 1,
  read: 0,
  detail: null,
  map: null,
  isComparing: false,
  beside: null,
  isReading: false,
  trouble: null,
};

export const playFeature = createFeature({
  name: 'play',
  reducer: createReducer<PlayState>(
    initial,
    // Whoever asks for something else has read what went wrong before.
    on(
      ...[playActions.open, playActions.show, playActions.compare, playActions.compareWith, playActions.leaveMap],
      ...[playActions.follow, playActions.readFile],
      (state): PlayState => ({ ...state, trouble: null }),
    ),
    on(playActions.loaded, (state, { page }) => ({ ...state, page, trouble: null })),
    on(playActions.open, (state, { session }) =>
      state.session?.session.id === session ? state : { ...state, session: null, rows: [], detail: null, beside: null },
    ),
    on(playActions.opened, (state, { session }) => ({ ...state, session })),
    on(playActions.eventsCame, (state, { page: { rows, lookedTo, events } }) => ({
      ...state,
      ...{ rows, lookedTo, read: events },
    })),
    on(playActions.olderCame, (state, { page: { rows, lookedTo } }) => ({
      ...state,
      rows: [...state.rows, ...rows],
      lookedTo,
    })),
    on(playActions.shown, (state, { detail }) => ({ ...state, detail })),
    on(playActions.hide, (state) => ({ ...state, detail: null })),
    on(playActions.compare, (state) => ({ ...state, isComparing: true, map: null })),
    on(playActions.compared, (state, { map }) => ({ ...state, isComparing: false, map })),
    on(playActions.leaveMap, (state) => ({ ...state, isComparing: false, map: null })),
    on(playActions.compareWith, (state) => ({ ...state, isComparing: true, beside: null })),
    on(playActions.comparedWith, (state, { beside }) => ({ ...state, isComparing: false, beside })),
    on(playActions.readFile, (state) => ({ ...state, isReading: true })),
    on(playActions.fileRead, (state) => ({ ...state, isReading: false })),
    on(playActions.mark, (state, { at, note }) => {
      if (!state.session) return state;
      const others = state.session.marks.filter((mark) => mark.at !== at);
      return { ...state, session: { ...state.session, marks: note === '' ? others : [...others, { at, note }] } };
    }),
    // Counts go on while a session comes in; sessions that are new are asked for.
    on(playActions.news, (state, { news }) => {
      const known = new Map(news.map((one) => [one.id, one]));
      const now = <Session extends { id: number }>(session: Session): Session => ({
        ...session,
        ...known.get(session.id),
      });
      return {
        ...state,
        page: state.page && { ...state.page, sessions: state.page.sessions.map(now) },
        session: state.session && { ...state.session, session: now(state.session.session) },
      };
    }),
    on(playActions.failed, (state, { trouble }) => ({
      ...state,
      trouble,
      isComparing: false,
      isReading: false,
    })),
  ),
});
