import { itemAt } from '@glue-trace/core/browser';
import {
  afterNextRender,
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  signal,
  viewChild,
  type ElementRef,
} from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import { MatButtonModule } from '@angular/material/button';
import { MatDialog } from '@angular/material/dialog';
import { MatProgressBarModule } from '@angular/material/progress-bar';
import { NavigationEnd, Router, RouterLink, RouterOutlet } from '@angular/router';
import type { Progress } from '@glue-trace/server/api';
import { Store } from '@ngrx/store';
import { filter, map, startWith } from 'rxjs';
import { projectsActions, projectsFeature } from '../projects/projects.state';
import { RouteSwitch } from '../route/route-switch';
import { Connection } from '../shared/connection';
import { Keys } from '../shared/keys';
import { SettingsStore } from '../shared/settings';
import { FirstVisitSteps } from './first-visit';
import { FocusKeeper } from './focus';
import { KeyHelp } from './key-help';
import { Search } from './search';
import { SettingsDialog } from './settings-dialog';

interface RailEntry {
  view: string;
  words: string;
  /** Path of the icon in a 20 by 20 box. */
  icon: string;
}

const PROJECTS: RailEntry = { view: 'projects', words: 'Projects', icon: 'M3 6.5h14M3 10h14M3 13.5h9' };
const GUIDE: RailEntry = {
  view: 'docs',
  words: 'Guide',
  icon: 'M5 3.5h8l2.5 2.5v10.5H5zM7.5 8h5M7.5 11h5M7.5 14h3',
};
/** Of one project. */
const VIEWS: RailEntry[] = [
  { view: 'reading', words: 'Reading', icon: 'M3 5.5h6v10H3zM11 5.5h6v10h-6M5 8.5h2M5 11h2M13 8.5h2M13 11h2' },
  { view: 'readiness', words: 'Readiness', icon: 'M3 15a7 7 0 0 1 14 0M10 15l3.5-5M3 15h2M15 15h2' },
  { view: 'trace', words: 'Trace', icon: 'M2 10h16M6 6.5l1.5 7M12 6.5l1.5 7' },
  { view: 'structure', words: 'Structure', icon: 'M3 3.5h14v13H3zM3 8h14M3 12h14M7.5 3.5v13M12.5 3.5v13' },
  { view: 'wiring', words: 'Wiring', icon: 'M2 6h5M13 6h5M2 14h5M13 14h5M7 6l6 8M7 14h6' },
  {
    view: 'families',
    words: 'Families',
    icon: 'M7 3.5h6v4H7zM2.5 13h5v3.5h-5zM12.5 13h5v3.5h-5zM10 7.5V10M5 13v-3h10v3',
  },
  { view: 'twins', words: 'Twins', icon: 'M3 4h5.5v12H3zM11.5 4H17v12h-5.5zM4.5 7.5H7M4.5 10H7M13 7.5h2.5M13 10h2.5' },
  {
    view: 'findings',
    words: 'Findings',
    icon: 'M2 10h5M13 10h5M8.5 6.5l1.2 3M11.5 13.5l-1.2-3M8.5 13.5l1.2-3M11.5 6.5l-1.2 3',
  },
  { view: 'play', words: 'Play', icon: 'M2 13.5l3-6 3 4 3-8 3 10 2-4h2' },
  { view: 'scans', words: 'Scans', icon: 'M3 16V9.5M8 16V5M13 16v-8M17.5 16V3.5M2 16.5h16' },
];

const PHASES: Record<Progress['phase'], string> = {
  looking: 'Looking for files',
  reading: 'Reading',
  linking: 'Following references',
  saving: 'Writing down findings',
};

/** The frame around every view: rail, bar with project, scan state and search, keys. */
@Component({
  selector: 'glue-root',
  imports: [FirstVisitSteps, RouterOutlet, RouterLink, MatButtonModule, MatProgressBarModule, RouteSwitch, Search],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './frame.html',
  styleUrl: './frame.scss',
})
export class Frame {
  private readonly store = inject(Store);
  private readonly router = inject(Router);
  private readonly dialog = inject(MatDialog);
  private readonly search = viewChild(Search);
  private readonly main = viewChild.required<ElementRef<HTMLElement>>('main');
  private readonly settings = inject(SettingsStore);
  protected readonly isLost = inject(Connection).isLost;
  /** In a narrow window the views are folded away until they are wanted. */
  protected readonly showsViews = signal(false);

  private readonly url = toSignal(
    this.router.events.pipe(
      filter((event) => event instanceof NavigationEnd),
      map((event) => event.urlAfterRedirects),
      startWith(''),
    ),
    { initialValue: '' },
  );
  protected readonly view = computed(() => {
    const [, first, , view] = itemAt(this.url().split('?'), 0).split('/');
    return first === 'p' ? view : first;
  });
  /** Views that say themselves that the plan was learned. */
  protected readonly saysLearned = computed(() => /\/reading\/(?:learn|plan)/.test(this.url()));
  /** The project the address names, or the one looked at last. */
  private readonly inAddress = computed(() => Number(/^\/p\/(\d+)\//.exec(this.url())?.[1] ?? 0));
  protected readonly project = this.store.selectSignal(projectsFeature.selectProject);
  protected readonly rail = computed(() => {
    const id = this.project()?.id;
    const ofProject = id === undefined ? [] : VIEWS.map((entry) => ({ ...entry, link: ['/p', id, entry.view] }));
    return [{ ...PROJECTS, link: ['/projects'] }, ...ofProject, { ...GUIDE, link: ['/docs'] }];
  });
  /** Where a scan failed for want of anything to learn from, nothing is read. */
  protected readonly isReadByLearned = computed(() => {
    const { plan, lastScan, verdict } = this.project() ?? {};
    return plan === 'learned' && lastScan?.state !== 'failed' && typeof verdict === 'string';
  });
  protected readonly progress = computed(() => this.project()?.running?.progress ?? null);
  protected readonly progressWords = computed(() => {
    const progress = this.progress();
    if (!progress) return '';
    const { phase, done, total, secondsLeft } = progress;
    const count = phase === 'reading' && total > 0 ? ` ${done} of ${total} files` : '';
    return PHASES[phase] + count + (secondsLeft ? `, about ${secondsLeft} s left` : '');
  });
  protected readonly percent = computed(() => {
    const progress = this.progress();
    return progress && progress.phase === 'reading' && progress.total > 0
      ? (100 * progress.done) / progress.total
      : null;
  });
  protected readonly scanState = computed(() => {
    const scan = this.project()?.lastScan;
    if (!scan) return 'Not scanned yet';
    const time = new Date(scan.startedAt).toLocaleTimeString([], { hour: '2-digit', minute: '2-digit' });
    if (scan.state === 'failed') return `Scan at ${time} failed`;
    if (scan.state === 'stopped') return `Scan at ${time} was stopped`;
    return scan.milliseconds === null ? '' : `Scanned ${time}, ${(scan.milliseconds / 1000).toFixed(1)} s`;
  });

  private readonly watching = this.store.selectSignal(projectsFeature.selectWatching);
  /** Said only where changes are not seen at once. */
  protected readonly watchWords = computed(() => {
    const seconds = this.watching()?.everySeconds;
    return seconds ? `looked through every ${seconds} s` : '';
  });

  private readonly lastChange = this.store.selectSignal(projectsFeature.selectChange);
  protected readonly change = computed(() => {
    const change = this.lastChange();
    return change && change.appeared + change.gone > 0 ? `${change.appeared} new, ${change.gone} gone` : '';
  });

  constructor() {
    this.store.dispatch(projectsActions.load());
    const focus = inject(FocusKeeper);
    afterNextRender(() => focus.follow(this.main().nativeElement));
    effect(() => {
      const project = this.inAddress();
      if (project > 0) this.store.dispatch(projectsActions.choose({ project }));
    });
    effect(() => {
      this.url();
      this.showsViews.set(false);
    });
    inject(Keys).bind([
      { key: '/', does: 'search', run: () => this.search()?.focus() },
      { key: '?', does: 'help, and all keys', run: () => this.showKeys() },
    ]);
  }

  protected scan(project: number): void {
    this.store.dispatch(projectsActions.scan({ project }));
  }

  protected stop(project: number): void {
    this.store.dispatch(projectsActions.stop({ project }));
  }

  protected showKeys(): void {
    this.dialog.open(KeyHelp, { width: '560px' });
  }

  protected switchTheme(): void {
    const isDark = getComputedStyle(document.documentElement).colorScheme === 'dark';
    this.settings.change({ theme: isDark ? 'light' : 'dark' });
  }

  protected showSettings(): void {
    this.dialog.open(SettingsDialog, { width: '520px' });
  }
}
