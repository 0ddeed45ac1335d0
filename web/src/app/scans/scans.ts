import { ChangeDetectionStrategy, Component, computed, effect, inject, input, numberAttribute } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { RouterLink } from '@angular/router';
import type { ScanView } from '@glue-trace/server/api';
import { Store } from '@ngrx/store';
import type { ChartConfiguration } from 'chart.js';
import { Api } from '../api';
import { projectsFeature } from '../projects/projects.state';
import { injectAddress } from '../shared/address';
import { ChartView, colour } from '../shared/chart';
import { Keys } from '../shared/keys';
import { TroubleBox } from '../shared/trouble';
import { scansActions, scansFeature } from './scans.state';

/** Files to hand over, of all that was found and of the map. */
const REPORTS = [
  { format: 'html', words: 'page (HTML)' },
  { format: 'markdown', words: 'Markdown' },
  { format: 'csv', words: 'table (CSV)' },
  { format: 'json', words: 'JSON' },
  { format: 'sarif', words: 'SARIF' },
  { format: 'junit', words: 'JUnit' },
  { format: 'baseline', words: 'baseline' },
];
const FAMILIES = [
  { family: 'broken', token: '--brick', style: 'rect' },
  { family: 'fragile', token: '--ochre', style: 'circle' },
  { family: 'twin', token: '--moss', style: 'triangle' },
] as const;
/** Findings of a comparison that are shown at first. */
const MOST_SHOWN = 200;

/** The scans that are kept: how findings went, what came and went between two of them, and reports to hand over. */
@Component({
  selector: 'glue-scans',
  imports: [ChartView, MatButtonModule, RouterLink, TroubleBox],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './scans.html',
  styleUrl: './scans.scss',
})
export class ScansView {
  readonly project = input.required({ transform: numberAttribute });
  /** What is compared: `scan:12` or a revision, and the number of a scan; the last one when left out. */
  readonly from = input<string>();
  readonly to = input<string>();

  private readonly store = inject(Store);
  private readonly api = inject(Api);
  private readonly address = injectAddress();
  protected readonly state = this.store.selectSignal(scansFeature.selectScansState);
  private readonly scansSeen = this.store.selectSignal(projectsFeature.selectScansSeen);
  protected readonly reports = REPORTS;
  protected readonly mostShown = MOST_SHOWN;
  protected readonly fromScan = computed(() => Number(/^scan:(\d+)$/.exec(this.from() ?? '')?.[1] ?? 0));
  protected readonly revision = computed(() => (this.fromScan() > 0 ? '' : (this.from() ?? '')));

  /** Where each finding stands that came or went, most first. */
  protected readonly byFolder = computed(() => {
    const { appeared = [], gone = [] } = this.state().comparison ?? {};
    const folders = new Map<string, { folder: string; appeared: number; gone: number }>();
    const count = (file: string, what: 'appeared' | 'gone'): void => {
      const folder = file.split('/').slice(0, -1).slice(0, 2).join('/') || '(top)';
      const known = folders.get(folder) ?? { folder, appeared: 0, gone: 0 };
      folders.set(folder, { ...known, [what]: known[what] + 1 });
    };
    for (const { file } of appeared) count(file, 'appeared');
    for (const { file } of gone) count(file, 'gone');
    return [...folders.values()].sort((a, b) => b.appeared + b.gone - a.appeared - a.gone).slice(0, 8);
  });

  protected readonly chart = computed((): ChartConfiguration => {
    const scans = [...(this.state().scans ?? [])].reverse();
    return {
      type: 'line',
      data: {
        labels: scans.map(({ id, note }) => (note ? `${id} · ${note.slice(0, 24)}` : String(id))),
        datasets: FAMILIES.map(({ family, token, style }) => ({
          label: family,
          data: scans.map((scan) => countOf(scan, family)),
          borderColor: colour(token),
          backgroundColor: colour(token),
          pointStyle: style,
          tension: 0,
        })),
      },
      options: {
        scales: {
          x: { ticks: { color: colour('--ink2'), maxTicksLimit: 10 }, grid: { display: false } },
          y: {
            beginAtZero: true,
            ticks: { color: colour('--ink2'), precision: 0, maxTicksLimit: 5 },
            grid: { color: colour('--line') },
          },
        },
      },
    };
  });
  protected readonly chartWords = computed(
    () =>
      `Findings by family from scan to scan: ${[...(this.state().scans ?? [])]
        .reverse()
        .map((scan) => FAMILIES.map(({ family }) => `${countOf(scan, family)} ${family}`).join(', '))
        .join('; ')}`,
  );

  constructor() {
    effect(() => {
      this.scansSeen();
      this.store.dispatch(scansActions.load({ project: this.project() }));
    });
    effect(() => {
      const from = this.from();
      const to = Number(this.to() ?? 0);
      this.scansSeen();
      if (from) this.store.dispatch(scansActions.compare({ project: this.project(), from, ...(to > 0 && { to }) }));
    });
    inject(Keys).bind([{ key: 'c', does: 'compare the last scan with the one before', run: () => this.compareLast() }]);
  }

  protected choose(from: string): void {
    if (from.trim()) this.address.go({ from: from.trim() });
  }

  protected chooseTo(scan: number): void {
    this.address.go({ to: scan });
  }

  protected compareLast(): void {
    const [, before] = this.state().scans ?? [];
    if (before) this.address.go({ from: `scan:${before.id}`, to: null });
  }

  protected write(scan: ScanView, note: string): void {
    if (note.trim() !== scan.note)
      this.store.dispatch(scansActions.note({ project: this.project(), scan: scan.id, note: note.trim() }));
  }

  protected report(format: string): string {
    return this.api.reportAddress(this.project(), format, {});
  }

  protected when(at: string): string {
    return new Date(at).toLocaleString([], { month: 'short', day: 'numeric', hour: '2-digit', minute: '2-digit' });
  }
}

function countOf({ byFamily }: ScanView, family: string): number {
  const counts = byFamily.find((one) => one.family === family)?.counts;
  return counts ? counts.error + counts.warning + counts.note : 0;
}
