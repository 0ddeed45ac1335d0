/** Asking the server on behalf of a view. */
import { inject } from '@angular/core';
import { Actions, createEffect, ofType } from '@ngrx/effects';
import { Store, type Action, type ActionCreator, type Creator } from '@ngrx/store';
import {
  catchError,
  exhaustMap,
  filter,
  map,
  mergeMap,
  of,
  switchMap,
  takeUntil,
  withLatestFrom,
  type Observable,
  type OperatorFunction,
} from 'rxjs';
import { Api, troubleOf, type Trouble } from '../api';
import { projectOf, SHOWN } from './one-project';

/** What a request is made for: it belongs to a project. */
interface ForProject {
  project: number;
}
type Asking<Asked extends object> = ActionCreator<string, Creator<[Asked], Asked & Action>>;
type Ending = ActionCreator;

interface Request<Asked extends ForProject, Answer> {
  /** The action that asks. */
  on: Asking<Asked>;
  ask: (api: Api, asked: Asked) => Observable<Answer>;
  done: (answer: Answer, asked: Asked) => Action;
  failed: (trouble: Trouble, asked: Asked) => Action;
  /** Actions after which nobody waits for the answer any more. */
  until?: readonly Ending[];
}

/** Asks anew each time; an answer that comes when something else was asked since, or of another project, is let go. */
export function latest<Asked extends ForProject, Answer>(request: Request<Asked, Answer>) {
  return effectOf(request, (run) => switchMap(run));
}

/** Does not ask again while it waits, as for the next page of a list. */
export function single<Asked extends ForProject, Answer>(request: Request<Asked, Answer>) {
  return effectOf(request, (run) => exhaustMap(run));
}

/** Several may be asked at once, each for a place of its own. */
export function each<Asked extends ForProject, Answer>(request: Request<Asked, Answer>) {
  return effectOf(request, (run) => mergeMap(run));
}

type Flattening = <Asked>(run: (asked: Asked) => Observable<Action>) => OperatorFunction<Asked, Action>;

function effectOf<Asked extends ForProject, Answer>(
  { on, ask, done, failed, until = [] }: Request<Asked, Answer>,
  flattening: Flattening,
) {
  return createEffect(
    (actions = inject(Actions), api = inject(Api)) => {
      const isOver =
        (asked: Asked) =>
        (action: Action): boolean =>
          until.some(({ type }) => type === action.type) || (projectOf(action) ?? asked.project) !== asked.project;
      return actions.pipe(
        ofType(on),
        flattening((asked: Asked) =>
          ask(api, asked).pipe(
            map((answer) => done(answer, asked)),
            catchError((error: unknown) => of(failed(troubleOf(error), asked))),
            takeUntil(actions.pipe(filter(isOver(asked)))),
          ),
        ),
      );
    },
    { functional: true },
  );
}

/** Changes something: it is never broken off, but of another project nobody hears any more how it ended. */
export function change<Asked extends ForProject, Answer>({ on, ask, done, failed }: Request<Asked, Answer>) {
  return createEffect(
    (actions = inject(Actions), api = inject(Api), store = inject<Store<{ [SHOWN]: number }>>(Store)) =>
      actions.pipe(
        ofType(on),
        exhaustMap((asked: Asked) =>
          ask(api, asked).pipe(
            map((answer) => done(answer, asked)),
            catchError((error: unknown) => of(failed(troubleOf(error), asked))),
            withLatestFrom(store.select(SHOWN)),
            filter(([, shown]) => shown === asked.project),
            map(([action]) => action),
          ),
        ),
      ),
    { functional: true },
  );
}
