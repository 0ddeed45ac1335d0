import { itemAt } from '@glue-trace/core/browser';
import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  input,
  numberAttribute,
  signal,
} from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { RouterLink } from '@angular/router';
import type { ScanView } from '@glue-trace/server/api';
import { Store } from '@ngrx/store';
import type { ChartConfiguration } from 'chart.js';
import { Api } from '../api';
import { projectsFeature } from '../projects/projects.state';
import { injectAddress } from '../shared/address';
import { ChartView, colour } from '../shared/chart';
import { EmptyBox } from '../shared/empty-box';
import { KeyHints } from '../shared/key-hints';
import { Keys } from '../shared/keys';
import { LeftOut } from '../shared/left-out';
import { TroubleBox } from '../shared/trouble';
import { Waiting } from '../shared/waiting';
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
/** How a line of the chart looks: colour, sign in the words below it, and the same sign in the chart. */
const LINES = [
  { token: '--brick', sign: '■', style: 'rect' },
  { token: '--ochre', sign: '●', style: 'circle' },
  { token: '--moss', sign: '▲', style: 'triangle' },
  { token: '--amber', sign: '◆', style: 'rectRot' },
  { token: '--ink2', sign: '✕', style: 'crossRot' },
] as const;
const FAMILIES = ['broken', 'fragile', 'twin'];
/** By what findings are counted over time. */
const OVERS = ['family', 'folder', 'who'] as const;
type Over = (typeof OVERS)[number];
/** Findings of a comparison that are shown at first. */
const MOST_SHOWN = 200;

/** The scans that are kept: how findings went, what came and went between two of them, and reports to hand over. */
@Component({
  selector: 'glue-scans',
  imports: [ChartView, EmptyBox, KeyHints, LeftOut, MatButtonModule, RouterLink, TroubleBox, Waiting],
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

  /** Links that came and that went; those that some did. */
  protected readonly linkSides = computed(() => {
    const { came = [], went = [] } = this.state().comparison?.map?.links ?? {};
    const sides = [
      { title: 'Links that came', links: came },
      { title: 'Links that went', links: went },
    ];
    return sides.filter(({ links }) => links.length > 0);
  });

  /** Findings are counted over time by this. */
  protected readonly over = signal<Over>('family');
  private readonly inTime = computed(() => [...(this.state().scans ?? [])].reverse());
  /** The lines of the chart: families, or the folders in which most was found. */
  protected readonly series = computed(() => {
    const scans = this.inTime();
    const over = this.over();
    const names = over === 'family' ? FAMILIES : mostOf(scans, over).slice(0, LINES.length);
    return names.map((name, at) => {
      const line = itemAt(LINES, at);
      const counts = scans.map((scan) => (over === 'family' ? countOf(scan, name) : countIn(scan, over, name)));
      return { name: name || '(top)', counts, sign: line.sign, style: line.style, colour: colour(line.token) };
    });
  });

  protected readonly chart = computed((): ChartConfiguration => ({
    type: 'line',
    data: {
      labels: this.inTime().map(({ id, note }) => (note ? `${id} · ${note.slice(0, 24)}` : String(id))),
      datasets: this.series().map(({ name, counts, style, colour: own }) => ({
        label: name,
        data: counts,
        borderColor: own,
        backgroundColor: own,
        pointStyle: style,
        tension: 0,
        spanGaps: true,
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
  }));
  protected readonly chartWords = computed(
    () =>
      `Findings by ${this.over()} from scan to scan: ${this.inTime()
        .map((_, at) =>
          this.series()
            .map(({ name, counts }) => `${counts[at] ?? 'no'} ${name}`)
            .join(', '),
        )
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
    inject(Keys).bindFor('scans', {
      c: () => this.compareLast(),
    });
  }

  protected readonly overs = OVERS;

  protected show(over: string): void {
    this.over.set(OVERS.find((one) => one === over) ?? 'family');
    const [last] = this.state().scans ?? [];
    if (this.over() === 'who' && last?.byWho === null)
      this.store.dispatch(scansActions.touched({ project: this.project() }));
  }

  protected choose(from: string): void {
    if (from.trim()) this.address.go({ from: from.trim() });
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

/** How much each folder, or each who touched it last, has in a scan; null where nobody asked. */
function countsIn({ byFolder, byWho }: ScanView, over: Over): { name: string; count: number }[] | null {
  if (over === 'folder') return byFolder.map(({ folder, count }) => ({ name: folder, count }));
  return byWho?.map(({ by, count }) => ({ name: by, count })) ?? null;
}

function countIn(scan: ScanView, over: Over, name: string): number | null {
  const counts = countsIn(scan, over);
  return counts && (counts.find((one) => one.name === name)?.count ?? 0);
}

/** Names by how much was ever found under them. */
function mostOf(scans: readonly ScanView[], over: Over): string[] {
  const most = new Map<string, number>();
  for (const scan of scans)
    for (const { name, count } of countsIn(scan, over) ?? []) most.set(name, Math.max(most.get(name) ?? 0, count));
  return [...most].sort((a, b) => b[1] - a[1]).map(([name]) => name);
}
