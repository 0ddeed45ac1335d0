import { HttpErrorResponse, provideHttpClient } from '@angular/common/http';
import { HttpTestingController, provideHttpClientTesting, type TestRequest } from '@angular/common/http/testing';
import { TestBed } from '@angular/core/testing';
import type { TracePage } from '@glue-trace/core';
import type { FindingPage, ProjectView } from '@glue-trace/server/api';
import { provideRouter } from '@angular/router';
import { Store } from '@ngrx/store';
import { Api, troubleOf } from './api';
import { provideState } from './app.store';
import { findingsActions, findingsFeature, NO_FILTER } from './findings/findings.state';
import { projectsActions, projectsFeature } from './projects/projects.state';
import { traceActions, traceFeature } from './trace/trace.state';
import { repairsActions, repairsFeature } from './repairs/repairs.state';
import { planActions, planFeature } from './plan/plan.state';

const project = { id: 1, name: 'Small', running: null, plan: 'ready' } as unknown as ProjectView;

describe('projects in the store', () => {
  const { reducer } = projectsFeature;
  const loaded = reducer(undefined, projectsActions.loaded({ list: [project], about: { version: '1', starts: [] } }));

  it('follow a scan: progress while it runs, one more scan seen when it is done', () => {
    const progress = { phase: 'reading' as const, done: 3, total: 9 };
    const running = reducer(
      loaded,
      projectsActions.scanEvent({ project: 1, event: { is: 'progress', scanId: 4, progress } }),
    );
    expect(running.list[0].running).toEqual({ scanId: 4, progress });
    expect(running.scansSeen).toBe(0);
    const done = reducer(
      running,
      projectsActions.scanEvent({
        project: 1,
        event: { is: 'done', scanId: 4, change: { since: 3, appeared: 2, gone: 1 } },
      }),
    );
    expect([done.list[0].running, done.scansSeen, done.change]).toEqual([null, 1, { since: 3, appeared: 2, gone: 1 }]);
  });
  it('do not count a scan that was stopped', () => {
    expect(
      reducer(loaded, projectsActions.scanEvent({ project: 1, event: { is: 'stopped', scanId: 4 } })).scansSeen,
    ).toBe(0);
  });
  it('put a newly opened project first and replace one that is there', () => {
    const two = reducer(loaded, projectsActions.opened({ project: { ...project, id: 2 } }));
    expect(two.list.map((one) => one.id)).toEqual([2, 1]);
    expect(
      reducer(two, projectsActions.opened({ project: { ...project, name: 'New' } })).list.map((one) => one.name),
    ).toEqual(['Small', 'New']);
  });
  it('forget trouble when a folder is opened anew', () => {
    const trouble = { code: 'x', title: 'x', detail: '', mistakes: [] };
    const failed = reducer(loaded, projectsActions.failed({ trouble }));
    expect([failed.trouble, reducer(failed, projectsActions.open({ folder: '/' })).trouble]).toEqual([trouble, null]);
  });
});

function findingPage(offset: number, ...names: string[]): FindingPage {
  return {
    scanId: 1,
    offset,
    total: 4,
    waived: 0,
    before: null,
    rows: names.map((fingerprint) => ({ fingerprint })) as FindingPage['rows'],
    byCheck: [],
    byFolder: [],
    bySeverity: [],
  };
}

describe('findings in the store', () => {
  const { reducer } = findingsFeature;
  const rows = (state: ReturnType<typeof reducer>): string[] => state.rows.map((row) => row.fingerprint);

  it('grow page by page and start anew with another filter', () => {
    let state = reducer(undefined, findingsActions.load({ project: 1, filter: NO_FILTER }));
    state = reducer(state, findingsActions.loaded({ page: findingPage(0, 'a', 'b') }));
    state = reducer(state, findingsActions.loaded({ page: findingPage(2, 'c', 'd') }));
    expect(rows(state)).toEqual(['a', 'b', 'c', 'd']);
    expect(rows(reducer(state, findingsActions.loaded({ page: findingPage(0, 'z') })))).toEqual(['z']);
  });
});

describe('trace in the store', () => {
  const { reducer } = traceFeature;
  const page = (key: string): TracePage => ({ piece: { key } }) as TracePage;
  const open = (state: ReturnType<typeof reducer>, path: string): ReturnType<typeof reducer> =>
    reducer(state, traceActions.openHop({ project: 1, piece: 'x', path }));

  it('closes a hop with all that was opened inside it, and no other', () => {
    let state = ['a', 'a>uses0', 'ab'].reduce(open, reducer(undefined, traceActions.loaded({ page: page('p') })));
    state = reducer(state, traceActions.closeHop({ path: 'a' }));
    expect(Object.keys(state.hops)).toEqual(['ab']);
  });
  it('keeps open hops when the same piece is loaded after a scan, and drops them for another', () => {
    const state = open(reducer(undefined, traceActions.loaded({ page: page('p') })), 'a');
    expect(Object.keys(reducer(state, traceActions.load({ project: 1, piece: 'p', filter: {} })).hops)).toEqual(['a']);
    expect(Object.keys(reducer(state, traceActions.load({ project: 1, piece: 'q', filter: {} })).hops)).toEqual([]);
  });
  it('ignores a hop that was closed before it came', () => {
    const state = reducer(undefined, traceActions.loaded({ page: page('p') }));
    expect(reducer(state, traceActions.hopLoaded({ path: 'a', page: page('q') })).hops).toEqual({});
  });
});

describe('the API', () => {
  beforeEach(() => TestBed.configureTestingModule({ providers: [provideHttpClient(), provideHttpClientTesting()] }));

  it('leaves empty filters out of the address', () => {
    TestBed.inject(Api)
      .findings(3, { ...NO_FILTER, check: 'fragile/climb' }, 100)
      .subscribe();
    const { request } = TestBed.inject(HttpTestingController).expectOne(
      (one) => one.url === '/api/projects/3/findings',
    );
    expect(request.params.toString()).toBe('check=fragile/climb&offset=100');
  });
  it('tells the server’s own words of what went wrong', () => {
    const error = new HttpErrorResponse({
      status: 404,
      error: { code: 'folder/missing', title: 'The folder does not exist', detail: '“/x” is not there.' },
    });
    expect(troubleOf(error)).toEqual({
      code: 'folder/missing',
      title: 'The folder does not exist',
      detail: '“/x” is not there.',
      mistakes: [],
    });
  });
  it('says what to do when the server is gone, and of anything else', () => {
    expect(troubleOf(new HttpErrorResponse({ status: 0 })).detail).toContain('npm run demo');
    expect(troubleOf(new Error('inner words')).detail).not.toContain('inner words');
  });
});

describe('the plan as it is being written', () => {
  const { reducer } = planFeature;
  const page = { path: 'glue-trace.json', text: 'one', hash: 'h', origin: 'own' as const, bases: {} };
  const loaded = reducer(undefined, planActions.loaded({ project: 1, page, paths: ['a.json'] }));
  const change = (text: string): ReturnType<typeof planActions.change> => planActions.change({ text });

  it('takes rules back one by one, typing with the rule after it', () => {
    let state = reducer(loaded, change('two'));
    state = reducer(state, planActions.type({ text: 'two and more' }));
    state = reducer(state, change('three'));
    expect(state.before).toEqual(['one', 'two and more']);
    state = reducer(state, planActions.undo());
    expect(state.draft).toBe('two and more');
    state = reducer(reducer(state, planActions.undo()), planActions.undo());
    expect([state.draft, state.before]).toEqual(['one', []]);
  });

  it('keeps the draft when saving fails, and begins anew when it succeeds', () => {
    const trouble = { code: 'plan/changed', title: 't', detail: 'd', mistakes: [] };
    let state = reducer(reducer(loaded, change('two')), planActions.save({ project: 1, text: 'two', hash: 'h' }));
    expect(state.isSaving).toBeTrue();
    const failed = reducer(state, planActions.saveFailed({ trouble }));
    expect([failed.draft, failed.isSaving, failed.saveTrouble]).toEqual(['two', false, trouble]);
    state = reducer(failed, planActions.saved({ page: { ...page, text: 'two' } }));
    expect([state.draft, state.before, state.isSaving]).toEqual(['two', [], false]);
  });
});

describe('answers that come late', () => {
  const begin = (): { store: Store<object>; http: HttpTestingController; rows: () => string[] } => {
    TestBed.configureTestingModule({
      providers: [provideHttpClient(), provideHttpClientTesting(), provideRouter([]), ...provideState()],
    });
    const store = TestBed.inject<Store<object>>(Store);
    const rows = store.selectSignal(findingsFeature.selectRows);
    return { store, http: TestBed.inject(HttpTestingController), rows: () => rows().map((row) => row.fingerprint) };
  };
  const open = (http: HttpTestingController, url: string): TestRequest[] =>
    http.match((one) => one.url === url).filter((request) => !request.cancelled);
  const load = (filter = NO_FILTER, of = 1): ReturnType<typeof findingsActions.load> =>
    findingsActions.load({ project: of, filter });

  it('of a former filter do not land behind rows of a newer one', () => {
    const { store, http, rows } = begin();
    store.dispatch(load());
    open(http, '/api/projects/1/findings')[0].flush(findingPage(0, 'a', 'b'));
    store.dispatch(findingsActions.more({ project: 1, filter: NO_FILTER, offset: 2 }));
    const [late] = open(http, '/api/projects/1/findings');
    store.dispatch(load({ ...NO_FILTER, text: 'x' }));
    expect(late.cancelled).toBeTrue();
    open(http, '/api/projects/1/findings')[0].flush(findingPage(0, 'x'));
    expect(rows()).toEqual(['x']);
    // The next page can be asked for again.
    store.dispatch(findingsActions.more({ project: 1, filter: { ...NO_FILTER, text: 'x' }, offset: 1 }));
    open(http, '/api/projects/1/findings')[0].flush(findingPage(1, 'y'));
    expect(rows()).toEqual(['x', 'y']);
  });

  it('of another project do not land at all, and nothing of it stays', () => {
    const { store, http, rows } = begin();
    store.dispatch(projectsActions.choose({ project: 1 }));
    store.dispatch(load());
    open(http, '/api/projects/1/findings')[0].flush(findingPage(0, 'a'));
    store.dispatch(findingsActions.open({ project: 1, fingerprint: 'a' }));
    const [late] = open(http, '/api/projects/1/findings/a');
    store.dispatch(projectsActions.choose({ project: 2 }));
    expect([late.cancelled, rows()]).toEqual([true, []]);
    store.dispatch(load(NO_FILTER, 2));
    open(http, '/api/projects/2/findings')[0].flush(findingPage(0, 'z'));
    expect(rows()).toEqual(['z']);
  });

  it('of something that is written are not broken off, yet only its own project hears of them', () => {
    const { store, http } = begin();
    const written = store.selectSignal(repairsFeature.selectWritten);
    const request = { findings: [{ fingerprint: 'f', repair: 0 }] };
    store.dispatch(repairsActions.write({ project: 1, request }));
    const [writing] = open(http, '/api/projects/1/repairs');
    store.dispatch(load(NO_FILTER, 2));
    expect(writing.cancelled).toBeFalse();
    writing.flush({ id: 4 });
    expect(written()).toBeNull();
  });

  it('of a list of projects leave what is shown alone', () => {
    const { store, http, rows } = begin();
    store.dispatch(load());
    open(http, '/api/projects/1/findings')[0].flush(findingPage(0, 'a'));
    store.dispatch(projectsActions.scanEvent({ project: 2, event: { is: 'stopped', scanId: 1 } }));
    store.dispatch(projectsActions.refresh({ project: 2 }));
    expect(rows()).toEqual(['a']);
  });
});
