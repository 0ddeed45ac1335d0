import { CdkFixedSizeVirtualScroll, CdkVirtualForOf, CdkVirtualScrollViewport } from '@angular/cdk/scrolling';
import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  input,
  numberAttribute,
  untracked,
  viewChild,
} from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatDialog } from '@angular/material/dialog';
import { RouterLink } from '@angular/router';
import type { FindingRow } from '@glue-trace/server/api';
import { Store } from '@ngrx/store';
import { projectsFeature } from '../projects/projects.state';
import { injectAddress } from '../shared/address';
import { neighbour } from '../shared/neighbour';
import { Keys } from '../shared/keys';
import { SentenceText } from '../shared/sentence';
import { TroubleBox } from '../shared/trouble';
import { RepairsWritten } from '../repairs/repairs-written';
import { repairsFeature } from '../repairs/repairs.state';
import { WrittenNote } from '../repairs/written-note';
import { FindingPane } from './finding-pane';
import { findingsActions, findingsFeature } from './findings.state';

/** Height of a row; must match the style sheet. */
const ROW_HEIGHT = 46;
/** Rows left below before the next page is asked for. */
const AHEAD = 30;

/** The list of findings, filtered on the server, with a reading pane beside it. */
@Component({
  selector: 'glue-findings',
  imports: [
    CdkFixedSizeVirtualScroll,
    CdkVirtualForOf,
    CdkVirtualScrollViewport,
    FindingPane,
    MatButtonModule,
    RouterLink,
    SentenceText,
    TroubleBox,
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
  /** Fingerprint of the finding in the reading pane. */
  readonly open = input<string>();

  private readonly store = inject(Store);
  private readonly address = injectAddress();
  private readonly dialog = inject(MatDialog);
  private readonly viewport = viewChild(CdkVirtualScrollViewport);
  protected readonly state = this.store.selectSignal(findingsFeature.selectFindingsState);
  private readonly scansSeen = this.store.selectSignal(projectsFeature.selectScansSeen);
  private readonly written = this.store.selectSignal(repairsFeature.selectWritten);
  protected readonly rowHeight = ROW_HEIGHT;

  private readonly filter = computed(() => ({
    severity: this.severity() ?? '',
    check: this.check() ?? '',
    folder: this.folder() ?? '',
    text: this.text() ?? '',
  }));
  protected readonly isFiltered = computed(() => Object.values(this.filter()).some(Boolean));
  protected readonly at = computed(() => this.state().rows.findIndex((row) => row.fingerprint === this.open()));
  protected readonly checkTitles = computed((): Partial<Record<string, string>> =>
    Object.fromEntries(this.state().checks.map((check) => [check.id, check.title])),
  );
  protected readonly inAll = computed(() => this.state().counts.bySeverity.reduce((sum, { count }) => sum + count, 0));

  constructor() {
    effect(() => {
      this.scansSeen();
      this.store.dispatch(findingsActions.load({ project: this.project(), filter: this.filter() }));
    });
    effect(() => {
      this.scansSeen();
      const fingerprint = this.open();
      if (fingerprint) this.store.dispatch(findingsActions.open({ project: this.project(), fingerprint }));
      else this.store.dispatch(findingsActions.close());
    });
    const before = this.written()?.id;
    effect(() => {
      // What was repaired just now is gone: nothing is left to read of it.
      const written = this.written();
      if (written && !written.isUndone && written.id !== before) untracked(() => this.address.go({ open: null }));
    });
    effect(() => {
      const at = this.at();
      untracked(() => this.reveal(at));
    });
    inject(Keys).bind([
      { key: 'j', does: 'next finding', run: () => this.move(1) },
      { key: 'k', does: 'previous finding', run: () => this.move(-1) },
      { key: 'Enter', does: 'open the finding', run: () => this.move(0) },
      { key: 't', does: 'trace what the finding is about', run: () => this.trace() },
      {
        key: 'e',
        does: 'go to the evidence',
        run: () => document.querySelector<HTMLElement>('glue-finding-pane pre')?.focus(),
      },
    ]);
  }

  protected choose(row: FindingRow): void {
    this.address.go({ open: row.fingerprint });
  }

  protected showWritten(): void {
    this.dialog.open(RepairsWritten, { width: '720px', data: { project: this.project() } });
  }

  protected narrow(params: Record<string, string | null>): void {
    this.address.go({ ...params, open: null });
  }

  protected clear(): void {
    this.address.go({ severity: null, check: null, folder: null, text: null });
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
    if (at * ROW_HEIGHT < top) viewport.scrollToOffset(at * ROW_HEIGHT);
    else if ((at + 1) * ROW_HEIGHT > top + height) viewport.scrollToOffset((at + 1) * ROW_HEIGHT - height);
  }
}
