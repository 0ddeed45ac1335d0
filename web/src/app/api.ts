import { HttpClient, HttpErrorResponse, HttpParams } from '@angular/common/http';
import { inject, Injectable, NgZone } from '@angular/core';
import type {
  Chains,
  CouplingOptions,
  Hit,
  Neighbourhood,
  PlanTrial,
  PointedCodeView,
  PutRule,
  Preview,
  SaidInCode,
  Stops,
  TraceFilter,
  LifeCycle,
  TracePage,
  TwinFilter,
  Wiring,
  WiringFilter,
  WrittenRule,
} from '@glue-trace/core';
import type {
  About,
  CheckView,
  CouplingLinks,
  FamiliesPage,
  FamilyGrid,
  TwinsPage,
  CouplingPage,
  ExcerptView,
  FilePage,
  FindingDetail,
  FindingPage,
  FolderListing,
  LearnedPage,
  PlanPage,
  Problem,
  ProjectChange,
  ProjectView,
  ReadinessPage,
  ReadingPage,
  RepairPreview,
  RepairRequest,
  RepairTrial,
  RepairView,
  ScanEvent,
  Watching,
  ComparisonView,
  RouteView,
  ScanView,
  WaiverRequest,
  WaiverView,
  PlayBesideView,
  PlayDetail,
  PlayEventPage,
  PlayMapView,
  PlayNews,
  PlayPage,
  PlaySessionPage,
  PlayTaken,
  Shown,
  StoryPage,
  SureRepairs,
  TextPage,
  TouchedBy,
  ValuesPage,
  WalkPage,
} from '@glue-trace/server/api';
import { Observable } from 'rxjs';
import { Connection } from './shared/connection';

/** A script beside a plan that is being written, and the texts of the plans that it builds on. */
export interface ScriptDesk {
  plan: string;
  bases: Record<string, string>;
  file: string;
}

/** What the list of findings is narrowed to. Empty means everything. */
export interface FindingFilter {
  severity: string;
  check: string;
  folder: string;
  text: string;
  /** `only` or `with` those that are accepted on purpose; empty without them. */
  waived: string;
  /** Number of a scan: only what that one does not have. */
  since: string;
  /** Name of a route: only what lies on it. */
  route: string;
  /** Only what `failed` in play, what `came` up there, or what `never` did. */
  played: string;
  /** Key of a scene: only what is about it and what comes along with it. */
  scene: string;
  /** Only what this person touched last. */
  owner: string;
  /** Only what rests on what is `written`, or on `learned` rules. */
  rests: string;
  /** `true` for those with a note. */
  noted: string;
  /** The worst first when empty; else by `file`, or by most `places`. */
  order: string;
}

/** What is shown, for requests that mean all of it: without what narrows nothing. */
export function shownBy({ severity, check, since, noted, ...words }: FindingFilter): Shown {
  return {
    ...given(words),
    ...(severity && { severity: [severity] }),
    ...(check && { check: [check] }),
    ...(since && { since: Number(since) }),
    ...(noted && { noted: true }),
  };
}

/** Which events of a play session are asked for. Empty means everything. */
export interface EventQuery {
  /** Numbers of kinds, with commas between. */
  without: string;
  only: string;
  text: string;
  who: string;
  side: string;
  frame: string;
  /** Positions. */
  from: string;
  to: string;
  before: string;
}

/** What the list of files is narrowed to. Empty means everything. */
export interface FileFilter {
  status: string;
  folder: string;
  text: string;
}

/** An error as the views show it: what happened, and what to do. */
export type Trouble = Pick<Problem, 'code' | 'title' | 'detail' | 'mistakes'>;

export interface Place {
  file: string;
  line: number;
  column: number;
  endLine: number;
  endColumn: number;
}

/** Whether two places are one. */
export function isSamePlace(one: Place, other: Place): boolean {
  return (
    one.file === other.file &&
    one.line === other.line &&
    one.column === other.column &&
    one.endLine === other.endLine &&
    one.endColumn === other.endColumn
  );
}

/** What is told while somebody listens. */
export type ToldOfProject =
  { of: 'scan'; told: ScanEvent } | { of: 'watching'; told: Watching } | { of: 'change'; told: ProjectChange };

/** What people say of learned rules: taken, refused, or another one put in its place. */
export interface LearnedDecisions {
  take: string[];
  refuse: string[];
  put: PutRule[];
}

/** The server's API, one function per address. Errors come as {@link Trouble} through {@link troubleOf}. */
@Injectable({ providedIn: 'root' })
export class Api {
  private readonly http = inject(HttpClient);
  private readonly zone = inject(NgZone);
  private readonly connection = inject(Connection);

  about(): Observable<About> {
    return this.http.get<About>('/api/about');
  }
  checks(): Observable<CheckView[]> {
    return this.http.get<CheckView[]>('/api/checks');
  }
  projects(): Observable<ProjectView[]> {
    return this.http.get<ProjectView[]>('/api/projects');
  }
  project(id: number): Observable<ProjectView> {
    return this.http.get<ProjectView>(`/api/projects/${id}`);
  }
  open(folder: string): Observable<ProjectView> {
    return this.http.post<ProjectView>('/api/projects', { folder });
  }
  forget(id: number): Observable<void> {
    return this.http.delete<void>(`/api/projects/${id}`);
  }
  folders(path?: string): Observable<FolderListing> {
    return this.http.get<FolderListing>('/api/folders', { params: path ? { path } : {} });
  }
  /** Learns from the files again, beside the plan that stands. */
  learnAgain(id: number): Observable<LearnedPage> {
    return this.http.post<LearnedPage>(`/api/projects/${id}/learned/again`, {});
  }
  learned(id: number): Observable<LearnedPage> {
    return this.http.get<LearnedPage>(`/api/projects/${id}/learned`);
  }
  decideLearned(id: number, decisions: LearnedDecisions & { hash: string }): Observable<LearnedPage> {
    return this.http.post<LearnedPage>(`/api/projects/${id}/learned`, decisions);
  }
  scan(id: number): Observable<{ scanId: number }> {
    return this.http.post<{ scanId: number }>(`/api/projects/${id}/scans`, {});
  }
  stopScan(id: number): Observable<void> {
    return this.http.delete<void>(`/api/projects/${id}/scans/running`);
  }
  readiness(id: number, route = ''): Observable<ReadinessPage> {
    return this.http.get<ReadinessPage>(`/api/projects/${id}/readiness`, { params: paramsOf({ route }) });
  }
  /** Scenes and the ways between them, with what was found on each. */
  stops(id: number, route: string): Observable<Stops> {
    return this.http.get<Stops>(`/api/projects/${id}/stops`, { params: paramsOf({ route }) });
  }
  /** Somebody looks at the last scan: what comes later is measured against it. */
  seeScan(id: number): Observable<void> {
    return this.http.post<void>(`/api/projects/${id}/scans/seen`, {});
  }
  scans(id: number): Observable<ScanView[]> {
    return this.http.get<ScanView[]>(`/api/projects/${id}/scans`);
  }
  /** Asks who last touched the lines of what the last scan found. */
  askTouched(id: number): Observable<ScanView[]> {
    return this.http.post<ScanView[]>(`/api/projects/${id}/scans/touched`, {});
  }
  noteScan(id: number, scan: number, note: string): Observable<void> {
    return this.http.put<void>(`/api/projects/${id}/scans/${scan}`, { note });
  }
  /** @param from `scan:12`, or a revision in the version history */
  compare(id: number, from: string, to?: number): Observable<ComparisonView> {
    return this.http.get<ComparisonView>(`/api/projects/${id}/comparison`, {
      params: paramsOf({ from, to: to === undefined ? '' : String(to) }),
    });
  }
  waivers(id: number): Observable<WaiverView[]> {
    return this.http.get<WaiverView[]>(`/api/projects/${id}/waivers`);
  }
  waive(id: number, request: WaiverRequest): Observable<{ waived: number }> {
    return this.http.post<{ waived: number }>(`/api/projects/${id}/waivers`, request);
  }
  takeBack(id: number, what: { findings?: string[]; at?: number[] }): Observable<{ waived: number }> {
    return this.http.delete<{ waived: number }>(`/api/projects/${id}/waivers`, { body: what });
  }
  routes(id: number): Observable<RouteView[]> {
    return this.http.get<RouteView[]>(`/api/projects/${id}/routes`);
  }
  saveRoute(id: number, name: string, route: { from: string[]; note: string }): Observable<RouteView[]> {
    return this.http.put<RouteView[]>(`/api/projects/${id}/routes/${encodeURIComponent(name)}`, route);
  }
  dropRoute(id: number, name: string): Observable<RouteView[]> {
    return this.http.delete<RouteView[]>(`/api/projects/${id}/routes/${encodeURIComponent(name)}`);
  }
  /** The address of a report of what is chosen, to be downloaded. */
  reportAddress(id: number, format: string, filter: Partial<FindingFilter>): string {
    return `/api/projects/${id}/report?${paramsOf({ format, ...filter }).toString()}`;
  }
  findings(id: number, filter: FindingFilter, offset: number): Observable<FindingPage> {
    return this.http.get<FindingPage>(`/api/projects/${id}/findings`, {
      params: paramsOf({ ...filter, offset: String(offset) }),
    });
  }
  /** Makes the sure repairs of a finding in memory, and says what comes of them. */
  tryRepairs(id: number, fingerprint: string): Observable<{ trials: RepairTrial[] }> {
    return this.http.get<{ trials: RepairTrial[] }>(
      `/api/projects/${id}/findings/${encodeURIComponent(fingerprint)}/trial`,
    );
  }
  /** The sure repairs of all that are shown, tried together in memory. */
  sureRepairs(id: number, filter: FindingFilter): Observable<SureRepairs> {
    return this.http.post<SureRepairs>(`/api/projects/${id}/repairs/sure`, { shown: shownBy(filter) });
  }
  /** @param note empty takes it out */
  noteFinding(id: number, fingerprint: string, note: string): Observable<void> {
    return this.http.put<void>(`/api/projects/${id}/findings/${encodeURIComponent(fingerprint)}/note`, { note });
  }
  /** Who last touched what was found. */
  owners(id: number): Observable<TouchedBy[]> {
    return this.http.get<TouchedBy[]>(`/api/projects/${id}/owners`);
  }
  previewRepair(id: number, request: RepairRequest): Observable<RepairPreview> {
    return this.http.post<RepairPreview>(`/api/projects/${id}/repairs/preview`, request);
  }
  writeRepair(id: number, request: RepairRequest): Observable<RepairView> {
    return this.http.post<RepairView>(`/api/projects/${id}/repairs`, request);
  }
  repairs(id: number): Observable<RepairView[]> {
    return this.http.get<RepairView[]>(`/api/projects/${id}/repairs`);
  }
  undoRepair(id: number, repair: number): Observable<RepairView> {
    return this.http.delete<RepairView>(`/api/projects/${id}/repairs/${repair}`);
  }
  reading(id: number): Observable<ReadingPage> {
    return this.http.get<ReadingPage>(`/api/projects/${id}/reading`);
  }
  files(id: number, filter: FileFilter): Observable<FilePage> {
    return this.http.get<FilePage>(`/api/projects/${id}/files`, { params: paramsOf({ ...filter }) });
  }
  plan(id: number): Observable<PlanPage> {
    return this.http.get<PlanPage>(`/api/projects/${id}/plan`);
  }
  savePlan(id: number, text: string, hash: string): Observable<PlanPage> {
    return this.http.put<PlanPage>(`/api/projects/${id}/plan`, { text, hash });
  }
  /** What a plan that is being written finds in a script. */
  previewCode(id: number, desk: ScriptDesk): Observable<Preview> {
    return this.http.post<Preview>(`/api/projects/${id}/plan/code`, desk);
  }
  /** What stands at a place of a script, the innermost first. */
  pointInCode(id: number, desk: ScriptDesk, offset: number): Observable<PointedCodeView[]> {
    return this.http.post<PointedCodeView[]>(`/api/projects/${id}/plan/point`, { ...desk, offset });
  }
  sayInCode(id: number, desk: ScriptDesk, said: SaidInCode): Observable<WrittenRule> {
    return this.http.post<WrittenRule>(`/api/projects/${id}/plan/say`, { ...desk, said });
  }
  /** What the project would be with another plan, and what a rule of it would find. */
  tryPlan(id: number, plan: string, rule?: string): Observable<PlanTrial> {
    return this.http.post<PlanTrial>(`/api/projects/${id}/plan/trial`, { plan, rule });
  }
  text(id: number, file: string): Observable<TextPage> {
    return this.http.get<TextPage>(`/api/projects/${id}/text`, { params: { file } });
  }
  finding(id: number, fingerprint: string): Observable<FindingDetail> {
    return this.http.get<FindingDetail>(`/api/projects/${id}/findings/${encodeURIComponent(fingerprint)}`);
  }
  excerpt(id: number, place: Place, around = 2): Observable<ExcerptView> {
    return this.http.get<ExcerptView>(`/api/projects/${id}/excerpt`, {
      params: new HttpParams({ fromObject: { ...place, around } }),
    });
  }
  trace(id: number, piece: string, filter: TraceFilter = {}): Observable<TracePage> {
    return this.http.get<TracePage>(`/api/projects/${id}/trace`, { params: { piece, ...filter } });
  }
  values(id: number, piece: string): Observable<ValuesPage> {
    return this.http.get<ValuesPage>(`/api/projects/${id}/values`, { params: { piece } });
  }
  walk(id: number, piece: string, place: Place): Observable<WalkPage> {
    return this.http.get<WalkPage>(`/api/projects/${id}/walk`, { params: { piece, ...place } });
  }
  chains(id: number, from: string, to: string): Observable<Chains> {
    return this.http.get<Chains>(`/api/projects/${id}/chains`, { params: { from, to } });
  }
  neighbourhood(id: number, piece: string, most: number, hops: number): Observable<Neighbourhood> {
    return this.http.get<Neighbourhood>(`/api/projects/${id}/neighbourhood`, { params: { piece, most, hops } });
  }
  wiring(id: number, filter: WiringFilter, route: string): Observable<Wiring> {
    return this.http.get<Wiring>(`/api/projects/${id}/wiring`, { params: paramsOf({ ...filter, route }) });
  }
  story(id: number, piece: string, direction: 'forward' | 'backward'): Observable<StoryPage> {
    return this.http.get<StoryPage>(`/api/projects/${id}/wiring/story`, { params: { piece, direction } });
  }
  lifeCycle(id: number): Observable<LifeCycle> {
    return this.http.get<LifeCycle>(`/api/projects/${id}/life-cycle`);
  }
  families(id: number): Observable<FamiliesPage> {
    return this.http.get<FamiliesPage>(`/api/projects/${id}/families`);
  }
  family(id: number, piece: string): Observable<FamilyGrid> {
    return this.http.get<FamilyGrid>(`/api/projects/${id}/family`, { params: { piece } });
  }
  twins(id: number, filter: TwinFilter): Observable<TwinsPage> {
    return this.http.get<TwinsPage>(`/api/projects/${id}/twins`, { params: { ...filter } });
  }
  coupling(id: number, { by, below, depth }: CouplingOptions, route: string): Observable<CouplingPage> {
    return this.http.get<CouplingPage>(`/api/projects/${id}/coupling`, {
      params: { by, below, depth, ...(route && { route }) },
    });
  }
  couplingLinks(
    id: number,
    { by, below, depth }: CouplingOptions,
    from: string,
    to: string,
  ): Observable<CouplingLinks> {
    return this.http.get<CouplingLinks>(`/api/projects/${id}/coupling/links`, {
      params: { by, below, depth, from, to },
    });
  }
  search(id: number, text: string): Observable<Hit[]> {
    return this.http.get<Hit[]>(`/api/projects/${id}/pieces`, { params: { text } });
  }

  play(id: number): Observable<PlayPage> {
    return this.http.get<PlayPage>(`/api/projects/${id}/play`);
  }
  playSession(id: number, session: number): Observable<PlaySessionPage> {
    return this.http.get<PlaySessionPage>(`/api/projects/${id}/play/sessions/${session}`);
  }
  playEvents(id: number, session: number, query: EventQuery): Observable<PlayEventPage> {
    return this.http.get<PlayEventPage>(`/api/projects/${id}/play/sessions/${session}/events`, {
      params: paramsOf({ ...query }),
    });
  }
  playEvent(id: number, session: number, at: number): Observable<PlayDetail> {
    return this.http.get<PlayDetail>(`/api/projects/${id}/play/sessions/${session}/events/${at}`);
  }
  playMap(id: number, sessions: readonly number[], route: string): Observable<PlayMapView> {
    return this.http.get<PlayMapView>(`/api/projects/${id}/play/map`, {
      params: paramsOf({ sessions: sessions.join(','), route }),
    });
  }
  /** Reads a log on this machine, and goes on as it grows. */
  followPlay(id: number, file: string): Observable<{ session: number }> {
    return this.http.post<{ session: number }>(`/api/projects/${id}/play/follow`, { file });
  }
  endPlay(id: number, session: number): Observable<void> {
    return this.http.post<void>(`/api/projects/${id}/play/sessions/${session}/end`, {});
  }
  playBeside(id: number, session: number, other: number): Observable<PlayBesideView> {
    return this.http.get<PlayBesideView>(`/api/projects/${id}/play/sessions/${session}/beside/${other}`);
  }
  readPlayFile(id: number, file: File): Observable<PlayTaken> {
    return this.http.post<PlayTaken>(`/api/projects/${id}/play/sessions`, file, {
      params: { name: file.name.replace(/(?:\.play)?\.ndjson$/, '').slice(0, 100) || 'a log' },
      headers: { 'content-type': 'application/x-ndjson' },
    });
  }
  namePlay(id: number, session: number, name: string, note: string): Observable<void> {
    return this.http.put<void>(`/api/projects/${id}/play/sessions/${session}`, { name, note });
  }
  markPlay(id: number, session: number, at: number, note: string): Observable<void> {
    return this.http.put<void>(`/api/projects/${id}/play/sessions/${session}/events/${at}`, { note });
  }
  throwPlayAway(id: number, session: number): Observable<void> {
    return this.http.delete<void>(`/api/projects/${id}/play/sessions/${session}`);
  }
  /** Where what is shown of a play session can be fetched as a file. */
  playExport(id: number, session: number, format: 'ndjson' | 'csv', query: EventQuery): string {
    return `/api/projects/${id}/play/sessions/${session}/export?${paramsOf({ ...query, before: '', format }).toString()}`;
  }
  /** What comes into play sessions, for as long as somebody listens. */
  playNews(id: number): Observable<PlayNews> {
    return this.told<PlayNews>(`/api/projects/${id}/play/live`, 'play');
  }
  /** A stream of the server; the browser connects again by itself. */
  private listened(address: string): EventSource {
    const source = new EventSource(address);
    source.addEventListener('error', () => this.connection.suspect());
    return source;
  }
  private told<Told>(address: string, event: string): Observable<Told> {
    return new Observable((subscriber) => {
      const source = this.listened(address);
      source.addEventListener(event, (one) => {
        const told = JSON.parse((one as MessageEvent<string>).data) as Told;
        this.zone.run(() => subscriber.next(told));
      });
      return () => source.close();
    });
  }

  /**
   * Progress of a project's scans, and how its files are watched, for as long as somebody listens; the browser reconnects
   * by itself.
   */
  progress(id: number): Observable<ToldOfProject> {
    return new Observable((subscriber) => {
      const source = this.listened(`/api/projects/${id}/progress`);
      for (const of of ['scan', 'watching', 'change'] as const)
        source.addEventListener(of, (event) => {
          const told: unknown = JSON.parse((event as MessageEvent<string>).data);
          this.zone.run(() => subscriber.next({ of, told } as ToldOfProject));
        });
      return () => source.close();
    });
  }
}

/** Parameters of an address, empty ones left out. */
function paramsOf(values: Record<string, string>): HttpParams {
  return new HttpParams({ fromObject: given(values) });
}

function given(values: Record<string, string>): Record<string, string> {
  return Object.fromEntries(Object.entries(values).filter(([, value]) => value !== ''));
}

/** What to tell the user of a failed request. */
export function troubleOf(error: unknown): Trouble {
  if (error instanceof HttpErrorResponse) {
    const problem = error.error as Partial<Problem> | null;
    if (problem?.code && problem.title)
      return {
        code: problem.code,
        title: problem.title,
        detail: problem.detail ?? '',
        mistakes: problem.mistakes ?? [],
      };
    if (error.status === 0) {
      return {
        code: 'server/gone',
        title: 'The server does not answer',
        detail: 'Start “glue serve” (or “npm run demo”) again, then try once more.',
        mistakes: [],
      };
    }
  }
  return {
    code: 'fault/ours',
    title: 'Something went wrong',
    detail: 'Reload the page. If it happens again, the server’s log says more.',
    mistakes: [],
  };
}
