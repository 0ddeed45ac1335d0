import { CdkFixedSizeVirtualScroll, CdkVirtualForOf, CdkVirtualScrollViewport } from '@angular/cdk/scrolling';
import {
  afterRenderEffect,
  ChangeDetectionStrategy,
  Component,
  computed,
  DestroyRef,
  effect,
  inject,
  input,
  numberAttribute,
  untracked,
  viewChild,
} from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatDialog } from '@angular/material/dialog';
import { MatMenuModule } from '@angular/material/menu';
import { ActivatedRoute, RouterLink } from '@angular/router';
import type { FindingView } from '@glue-trace/core';
import type { FindingRow } from '@glue-trace/server/api';
import { Store } from '@ngrx/store';
import { Api } from '../api';
import { projectsFeature } from '../projects/projects.state';
import { routeFeature } from '../route/route.state';
import { injectAddress } from '../shared/address';
import { Choice, type Option } from '../shared/choice';
import { EmptyBox } from '../shared/empty-box';
import { FilterBar } from '../shared/filter-bar';
import { KeyHints } from '../shared/key-hints';
import { neighbour } from '../shared/neighbour';
import { Keys } from '../shared/keys';
import { PageTitle } from '../shared/page-title';
import { SentenceText } from '../shared/sentence';
import { SettingsStore } from '../shared/settings';
import { rememberedFilter, rememberFilter, Saved } from './saved';
import { TroubleBox } from '../shared/trouble';
import { Waiting } from '../shared/waiting';
import { WordsBox } from '../shared/words-box';
import { RepairAll, type RepairAllData } from '../repairs/repair-all';
import { RepairsWritten } from '../repairs/repairs-written';
import { repairsFeature } from '../repairs/repairs.state';
import { WrittenNote } from '../repairs/written-note';
import { WaiveDialog, type WaiveData } from '../waivers/waive-dialog';
import { WaiversDialog } from '../waivers/waivers-dialog';
import { waiversActions, waiversFeature } from '../waivers/waivers.state';
import { FindingPane } from './finding-pane';
import { findingsActions, findingsFeature, NO_FILTER } from './findings.state';
import { NarrowBy } from './narrow-by';

/** Heights of a row; must match the style sheet. */
const ROW_HEIGHTS = { roomy: 46, close: 28 };
/** Forms of reports, as people call them. */
const REPORT_FORMATS = [
  { format: 'html', words: 'page (HTML)' },
  { format: 'markdown', words: 'Markdown' },
  { format: 'csv', words: 'table (CSV)' },
  { format: 'sarif', words: 'SARIF' },
  { format: 'junit', words: 'JUnit' },
  { format: 'json', words: 'JSON' },
];
const SEVERITY_OPTIONS: Option[] = [
  { value: '', words: 'all severities' },
  { value: 'error', words: 'errors' },
  { value: 'warning', words: 'warnings' },
  { value: 'note', words: 'notes' },
];
const ORDERS: Option[] = [
  { value: '', words: 'worst first' },
  { value: 'file', words: 'by file' },
  { value: 'places', words: 'most places first' },
];
const PLAYED_OR_NOT: Option[] = [
  { value: '', words: 'played or not' },
  { value: 'failed', words: 'failed in play' },
  { value: 'came', words: 'came up in play' },
  { value: 'never', words: 'never came up' },
];
/** All that the list can be narrowed by, taken away. */
const NOTHING_NARROWED = Object.fromEntries(
  Object.keys(NO_FILTER).flatMap((key) => (key === 'route' ? [] : [[key, null]])),
);
/** Rows left below before the next page is asked for. */
const AHEAD = 30;

/** The list of findings, filtered on the server, with a reading pane beside it. */
@Component({
  selector: 'glue-findings',
  imports: [
    CdkFixedSizeVirtualScroll,
    CdkVirtualForOf,
    CdkVirtualScrollViewport,
    Choice,
    EmptyBox,
    FilterBar,
    FindingPane,
    KeyHints,
    MatButtonModule,
    MatMenuModule,
    NarrowBy,
    RouterLink,
    Saved,
    SentenceText,
    TroubleBox,
    Waiting,
    WordsBox,
    WrittenNote,
  ],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './findings.html',
  styleUrl: './findings.scss',
})
export class Findings {
  readonly project = input.required({ transform: numberAttribute });
  readonly severity = input<string>();
  readonly check = input<string>();
  readonly folder = input<string>();
  readonly text = input<string>();
  /** `only` or `with` those that are accepted. */
  readonly waived = input<string>();
  /** Number of the scan since which they must be new. */
  readonly since = input<string>();
  /** `failed` in play, `came` up there, or `never` did. */
  readonly played = input<string>();
  /** Key of a scene. */
  readonly scene = input<string>();
  /** Who touched it last. */
  readonly owner = input<string>();
  /** `written` or `learned`. */
  readonly rests = input<string>();
  /** `true` for those with a note. */
  readonly noted = input<string>();
  /** `file` or `places`; the worst first otherwise. */
  readonly order = input<string>();
  /** Fingerprint of the finding in the reading pane. */
  readonly open = input<string>();

  private readonly store = inject(Store);
  private readonly here = inject(ActivatedRoute);
  private readonly address = injectAddress();
  private readonly dialog = inject(MatDialog);
  private readonly viewport = viewChild(CdkVirtualScrollViewport);
  protected readonly state = this.store.selectSignal(findingsFeature.selectFindingsState);
  private readonly scansSeen = this.store.selectSignal(projectsFeature.selectScansSeen);
  private readonly written = this.store.selectSignal(repairsFeature.selectWritten);
  protected readonly route = this.store.selectSignal(routeFeature.selectChosen);
  private readonly decided = this.store.selectSignal(waiversFeature.selectDecided);
  protected readonly lastWaived = this.store.selectSignal(waiversFeature.selectLast);
  private readonly api = inject(Api);
  private readonly settings = inject(SettingsStore);
  protected readonly rowHeight = computed(() => ROW_HEIGHTS[this.settings.now().rows]);

  protected readonly filter = computed(() => ({
    severity: this.severity() ?? '',
    check: this.check() ?? '',
    folder: this.folder() ?? '',
    text: this.text() ?? '',
    waived: this.waived() ?? '',
    since: this.since() ?? '',
    route: this.route(),
    played: this.played() ?? '',
    scene: this.scene() ?? '',
    owner: this.owner() ?? '',
    rests: this.rests() ?? '',
    noted: this.noted() ?? '',
    order: this.order() ?? '',
  }));
  /** The route narrows what all views speak of; it is no filter of this list. */
  protected readonly ownFilter = computed(() => {
    const { route: _route, ...own } = this.filter();
    return own;
  });
  protected readonly isFiltered = computed(() => {
    const { order: _order, ...narrowed } = this.ownFilter();
    return Object.values(narrowed).some(Boolean);
  });
  protected readonly reportFormats = REPORT_FORMATS;
  protected readonly severities = SEVERITY_OPTIONS;
  protected readonly orders = ORDERS;
  protected readonly playedOrNot = PLAYED_OR_NOT;
  protected readonly checks = computed((): Option[] => [
    { value: '', words: 'all checks' },
    ...this.state().counts.byCheck.map(({ check, count }) => ({ value: check, words: `${check} · ${count}` })),
  ]);
  protected readonly whiches = computed((): Option[] => [
    { value: '', words: 'all that count' },
    ...(this.since() || this.seen() ? [{ value: 'new', words: `new since scan ${this.since() || this.seen()}` }] : []),
    { value: 'only', words: `waived · ${this.state().counts.waived}` },
    { value: 'with', words: 'waived ones, too' },
    { value: 'noted', words: 'with a note' },
  ]);
  protected readonly which = computed(() => (this.since() ? 'new' : this.noted() ? 'noted' : this.waived()));
  /** The last scan that somebody looked at before this one. */
  protected readonly seen = computed(() => this.state().counts.before);
  protected readonly at = computed(() => this.state().rows.findIndex((row) => row.fingerprint === this.open()));
  protected readonly checkTitles = computed((): Partial<Record<string, string>> =>
    Object.fromEntries(this.state().checks.map((check) => [check.id, check.title])),
  );
  /** Sessions of play are kept that say something of findings. */
  protected readonly knowsPlay = computed(() => !!this.played() || this.state().rows.some(({ play }) => play));

  constructor() {
    const title = inject(PageTitle);
    effect(() => title.about(this.state().open?.finding.text ?? ''));
    effect(() => {
      this.scansSeen();
      this.decided();
      this.store.dispatch(findingsActions.load({ project: this.project(), filter: this.filter() }));
    });
    effect(() => {
      this.scansSeen();
      this.decided();
      const fingerprint = this.open();
      if (fingerprint) this.store.dispatch(findingsActions.open({ project: this.project(), fingerprint }));
      else this.store.dispatch(findingsActions.close());
    });
    const before = this.written()?.id;
    effect(() => {
      // What was repaired just now is gone: the one that stands in its place in the next list is opened.
      const written = this.written();
      if (!written || written.isUndone || written.id === before) return;
      untracked(() => {
        if (this.at() >= 0) this.goesOn = { at: this.at(), rows: this.state().rows };
        this.address.go({ open: null });
      });
    });
    effect(() => {
      const { rows } = this.state();
      const goesOn = this.goesOn;
      if (!goesOn || goesOn.rows === rows) return;
      this.goesOn = null;
      const next = rows[Math.min(goesOn.at, rows.length - 1)];
      if (next) untracked(() => this.choose(next));
    });
    afterRenderEffect(() => {
      // In a narrow window the pane stands below the list.
      if (this.state().open && matchMedia('(max-width: 900px)').matches)
        document.querySelector('aside')?.scrollIntoView({ block: 'start' });
    });
    // A line above the list, or another window, leaves the list another height: what is open stays in sight.
    const sized = new ResizeObserver(() => {
      this.viewport()?.checkViewportSize();
      this.reveal(this.at());
    });
    effect(() => {
      const viewport = this.viewport();
      sized.disconnect();
      if (viewport) sized.observe(viewport.elementRef.nativeElement);
    });
    inject(DestroyRef).onDestroy(() => sized.disconnect());
    this.restore();
    effect(() => {
      rememberFilter(untracked(this.project), this.ownFilter());
    });
    effect(() => {
      const at = this.at();
      untracked(() => this.reveal(at));
    });
    const keys = inject(Keys);
    keys.bindList('findings', (by) => this.move(by));
    keys.bindFor('findings', {
      Enter: () => this.move(0),
      w: () => this.decide(),
      t: () => this.trace(),
      n: () => document.querySelector<HTMLElement>('glue-finding-note textarea')?.focus(),
      e: () => document.querySelector<HTMLElement>('glue-finding-pane pre')?.focus(),
    });
  }

  /** Where the list goes on when it is there anew. */
  private goesOn: { at: number; rows: readonly FindingRow[] } | null = null;

  /** Whoever comes back without saying what to look at sees what was looked at last. */
  private restore(): void {
    const { queryParamMap, paramMap } = this.here.snapshot;
    if (queryParamMap.keys.length > 0) return;
    const kept = Object.entries(rememberedFilter(Number(paramMap.get('project')))).filter(([, value]) => value !== '');
    if (kept.length > 0) this.address.go(Object.fromEntries(kept), true);
  }

  protected apply(filter: Record<string, string>): void {
    this.address.go({
      ...NOTHING_NARROWED,
      open: null,
      ...Object.fromEntries(Object.entries(filter).filter(([, value]) => value !== '')),
    });
  }

  protected choose(row: FindingRow): void {
    this.address.go({ open: row.fingerprint });
  }

  protected openOther(fingerprint: string): void {
    this.address.go({ open: fingerprint });
  }

  protected showWritten(): void {
    this.dialog.open(RepairsWritten, { width: '720px', data: { project: this.project() } });
  }

  protected repairAll(): void {
    const data: RepairAllData = { project: this.project(), filter: this.filter(), shown: this.state().total };
    this.dialog.open(RepairAll, { width: '820px', maxWidth: '95vw', data });
  }

  protected narrow(params: Record<string, string | null>): void {
    this.address.go({ ...params, open: null });
  }

  protected narrowWhich(which: string): void {
    const since = which === 'new' ? String(this.seen() ?? '') : null;
    const noted = which === 'noted' ? 'true' : null;
    this.narrow({ since, noted, waived: which === 'only' || which === 'with' ? which : null });
  }

  protected clear(): void {
    this.address.go({ ...NOTHING_NARROWED, order: this.order() ?? null });
  }

  protected report(format: string): string {
    return this.api.reportAddress(this.project(), format, this.filter());
  }

  protected showWaivers(): void {
    this.dialog.open(WaiversDialog, { width: '720px', data: { project: this.project() } });
  }

  /** Accepts the finding that is open, or takes that back. */
  protected decide(): void {
    const finding = this.state().open?.finding;
    if (!finding) return;
    if (finding.waived) return this.takeBack([finding.fingerprint]);
    this.askWaiver(finding);
  }

  protected takeBack(findings: string[]): void {
    this.store.dispatch(waiversActions.takeBack({ project: this.project(), findings }));
  }

  /** @param finding the one that is meant; null for all that are shown */
  protected askWaiver(finding: FindingView | null): void {
    // The one after it is opened then, so that one can go on.
    const next = neighbour(this.state().rows, this.at(), 1) ?? neighbour(this.state().rows, this.at(), -1);
    const data: WaiveData = { project: this.project(), finding, filter: this.filter(), shown: this.state().total };
    this.dialog
      .open<WaiveDialog, WaiveData, boolean>(WaiveDialog, { width: '560px', data })
      .afterClosed()
      .subscribe((isWaived) => {
        if (isWaived)
          this.address.go({
            open: finding && next && next.fingerprint !== finding.fingerprint ? next.fingerprint : null,
          });
      });
  }

  protected scrolled(lastSeen: number): void {
    const { rows, total, isLoading } = this.state();
    if (!isLoading && rows.length < total && lastSeen > rows.length - AHEAD)
      this.store.dispatch(
        findingsActions.more({ project: this.project(), filter: this.state().filter, offset: rows.length }),
      );
  }

  private move(by: number): void {
    const { rows } = this.state();
    const row = neighbour(rows, this.at(), by);
    if (!row) return;
    this.choose(row);
    this.scrolled(rows.indexOf(row));
  }

  private trace(): void {
    this.address.trace(this.project(), this.state().open?.finding.pieces[0]?.key);
  }

  private reveal(at: number): void {
    const viewport = this.viewport();
    if (at < 0 || !viewport) return;
    const top = viewport.measureScrollOffset('top');
    const height = viewport.getViewportSize();
    const row = this.rowHeight();
    if (at * row < top) viewport.scrollToOffset(at * row);
    else if ((at + 1) * row > top + height) viewport.scrollToOffset((at + 1) * row - height);
  }
}
