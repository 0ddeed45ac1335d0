import { foundOn, must } from '@glue-trace/core/browser';
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
import { MatDialog } from '@angular/material/dialog';
import { RouterLink } from '@angular/router';
import type { Grip, Stop } from '@glue-trace/core';
import { Store } from '@ngrx/store';
import type { ChartConfiguration } from 'chart.js';
import { projectsActions, projectsFeature } from '../projects/projects.state';
import { routeActions, routeFeature } from '../route/route.state';
import { injectAddress } from '../shared/address';
import { ChartView, colour } from '../shared/chart';
import { GripMark } from '../shared/grip-mark';
import { LeftOut } from '../shared/left-out';
import { RouteDrawing, type StopSaid } from '../shared/route-drawing';
import { SentenceText } from '../shared/sentence';
import { TroubleBox } from '../shared/trouble';
import { Waiting } from '../shared/waiting';
import { WaiversDialog } from '../waivers/waivers-dialog';
import { waiversFeature } from '../waivers/waivers.state';
import { readinessActions, readinessFeature } from './readiness.state';

const GRIPS: Grip[] = ['fixed', 'path', 'name', 'built', 'lost'];

/** The verdict in one sentence, what speaks against it, and what would hurt most. */
@Component({
  selector: 'glue-readiness',
  imports: [ChartView, GripMark, LeftOut, MatButtonModule, RouteDrawing, RouterLink, SentenceText, TroubleBox, Waiting],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './readiness.html',
  styleUrl: './readiness.scss',
})
export class ReadinessView {
  readonly project = input.required({ transform: numberAttribute });
  private readonly store = inject(Store);
  protected readonly page = this.store.selectSignal(readinessFeature.selectPage);
  protected readonly trouble = this.store.selectSignal(readinessFeature.selectTrouble);
  protected readonly view = this.store.selectSignal(projectsFeature.selectProject);
  protected readonly route = this.store.selectSignal(routeFeature.selectChosen);
  protected readonly routeWords = computed(() =>
    this.route() === 'start' ? 'the way from the start' : `the route “${this.route()}”`,
  );
  private readonly decided = this.store.selectSignal(waiversFeature.selectDecided);
  private readonly dialog = inject(MatDialog);
  private readonly address = injectAddress();
  protected readonly stops = this.store.selectSignal(readinessFeature.selectStops);
  /** A high window has room for it. */
  protected readonly hasRoom = matchMedia('(min-height: 900px)').matches;
  protected readonly isDrawing = signal(this.hasRoom);
  protected readonly says = (stop: Stop): StopSaid => ({
    words: foundOn(stop),
    look: stop.counts.error > 0 ? 'error' : stop.counts.warning > 0 ? 'warning' : 'good',
  });
  private readonly scansSeen = this.store.selectSignal(projectsFeature.selectScansSeen);

  protected readonly grips = computed(() => {
    const { byGrip } = must(this.page()).readiness;
    const most = Math.max(1, ...GRIPS.map((grip) => byGrip[grip]));
    return GRIPS.map((grip) => ({ grip, count: byGrip[grip], width: (100 * byGrip[grip]) / most }));
  });
  /** Rules that were learned and that nobody has looked at, and what rests on them. */
  protected readonly learned = computed(() => {
    const { rules, unsure, findings = 0 } = this.page()?.readiness.learned ?? {};
    if (!rules) return null;
    const resting = findings === 1 ? '1 finding rests' : `${findings} findings rest`;
    return {
      rules: `Nobody has looked at ${rules} learned ${rules === 1 ? 'rule' : 'rules'}`,
      unsure: `, ${unsure} of them unsure; `,
      rest: findings > 0 ? `${resting} on them` : '',
    };
  });
  protected readonly readShare = computed(() => {
    const { all, read, listed } = must(this.page()).files;
    return all === 0 ? 100 : Math.round((100 * (read + listed)) / all);
  });
  protected readonly historyChart = computed((): ChartConfiguration => {
    const history = must(this.page()).history;
    const line = (
      severity: 'error' | 'warning',
      token: string,
    ): ChartConfiguration<'line'>['data']['datasets'][number] => ({
      label: severity === 'error' ? 'Errors' : 'Warnings',
      data: history.map((scan) => scan.bySeverity?.[severity] ?? 0),
      borderColor: colour(token),
      backgroundColor: colour(token),
      pointStyle: severity === 'error' ? 'rect' : 'circle',
      tension: 0,
    });
    return {
      type: 'line',
      data: {
        labels: history.map((scan) =>
          new Date(scan.startedAt).toLocaleTimeString([], { hour: '2-digit', minute: '2-digit' }),
        ),
        datasets: [line('error', '--brick'), line('warning', '--ochre')],
      },
      options: {
        scales: {
          x: { ticks: { color: colour('--ink2'), maxTicksLimit: 5 }, grid: { display: false } },
          y: {
            beginAtZero: true,
            ticks: { color: colour('--ink2'), precision: 0, maxTicksLimit: 4 },
            grid: { color: colour('--line') },
          },
        },
      },
    };
  });
  protected readonly historyWords = computed(() =>
    must(this.page())
      .history.map((scan) => `${scan.bySeverity?.error ?? 0} errors and ${scan.bySeverity?.warning ?? 0} warnings`)
      .join(', then '),
  );

  constructor() {
    effect(() => {
      this.scansSeen();
      this.decided();
      if (this.isDrawing())
        this.store.dispatch(readinessActions.draw({ project: this.project(), route: this.route() }));
    });
    effect(() => {
      this.scansSeen();
      this.decided();
      this.store.dispatch(readinessActions.load({ project: this.project(), route: this.route() }));
    });
  }

  protected showWaivers(): void {
    this.dialog.open(WaiversDialog, { width: '720px', data: { project: this.project() } });
  }

  protected showWhole(): void {
    this.store.dispatch(routeActions.choose({ project: this.project(), name: '' }));
  }

  protected scan(): void {
    this.store.dispatch(projectsActions.scan({ project: this.project() }));
  }

  protected familyWords(family: string): string {
    return (
      {
        broken: 'Broken: leads nowhere',
        twin: 'Twins: written again',
        fragile: 'Fragile: works until somebody touches it',
      }[family] ?? family
    );
  }

  protected trace(piece: string): void {
    this.address.trace(this.project(), piece);
  }
}
