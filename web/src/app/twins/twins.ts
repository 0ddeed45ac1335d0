import { ChangeDetectionStrategy, Component, computed, effect, inject, input, numberAttribute } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { Router, RouterLink } from '@angular/router';
import type { TwinGroupView } from '@glue-trace/server/api';
import { Store } from '@ngrx/store';
import { projectsFeature } from '../projects/projects.state';
import { Evidence } from '../shared/evidence';
import { Keys } from '../shared/keys';
import { TroubleBox } from '../shared/trouble';
import { twinsActions, twinsFeature } from './twins.state';

const LIKENESS: Record<TwinGroupView['likeness'], string> = {
  'to the letter': 'the same to the letter',
  values: 'other values',
  names: 'other names',
  statements: 'statements differ',
};
const HOMES: Record<TwinGroupView['home'], string> = {
  'the same type': 'one function of the type, called from both places',
  'the parent': 'the parent that they have',
  'a new parent': 'a new parent between them and theirs',
  'a shared script': 'a script that all of them take in',
};

/** Groups of copies: side by side, with what differs between them, and where they could live. */
@Component({
  selector: 'glue-twins',
  imports: [Evidence, MatButtonModule, RouterLink, TroubleBox],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './twins.html',
  styleUrl: './twins.scss',
})
export class TwinsView {
  readonly project = input.required({ transform: numberAttribute });
  /** Position of the group that is open. */
  readonly group = input<number | undefined, string | undefined>(undefined, {
    transform: (written) => (written === undefined ? undefined : Number(written)),
  });
  readonly text = input<string>();

  private readonly store = inject(Store);
  private readonly router = inject(Router);
  private readonly scansSeen = this.store.selectSignal(projectsFeature.selectScansSeen);
  protected readonly state = this.store.selectSignal(twinsFeature.selectTwinsState);
  protected readonly likeness = LIKENESS;
  protected readonly homes = HOMES;
  protected readonly groups = computed(() => {
    const words = (this.text() ?? '').toLowerCase();
    return (this.state().page?.groups ?? [])
      .map((group, at) => ({ group, at }))
      .filter(({ group }) => group.places.some(({ name, file }) => `${name} ${file}`.toLowerCase().includes(words)));
  });
  protected readonly opened = computed(() => {
    const at = this.group();
    return at === undefined ? undefined : this.state().page?.groups[at];
  });

  constructor() {
    effect(() => {
      this.scansSeen();
      this.store.dispatch(twinsActions.load({ project: this.project() }));
    });
    effect(() => {
      const group = this.opened();
      if (!group) return void this.store.dispatch(twinsActions.hide());
      const places = group.places
        .slice(0, 4)
        .map(({ file, line, endLine }) => ({ file, line, column: 1, endLine: endLine + 1, endColumn: 1 }));
      this.store.dispatch(twinsActions.show({ project: this.project(), places }));
    });
    inject(Keys).bind([
      { key: 'j', does: 'next group', run: () => this.move(1) },
      { key: 'k', does: 'previous group', run: () => this.move(-1) },
      { key: 't', does: 'trace the first copy', run: () => this.trace() },
      { key: 'Escape', does: 'close the group', run: () => this.open(null) },
    ]);
  }

  protected open(group: number | null): void {
    this.go({ group });
  }

  protected narrow(text: string): void {
    this.go({ text: text || null, group: null });
  }

  private move(by: number): void {
    const shown = this.groups();
    if (shown.length === 0) return;
    const at = shown.findIndex((one) => one.at === this.group());
    this.open(shown[at < 0 ? 0 : Math.min(Math.max(at + by, 0), shown.length - 1)].at);
    queueMicrotask(() => document.querySelector('.row.on')?.scrollIntoView({ block: 'nearest' }));
  }

  private trace(): void {
    const piece = this.opened()?.places[0].key;
    if (piece) void this.router.navigate(['/p', this.project(), 'trace'], { queryParams: { piece } });
  }

  private go(queryParams: Record<string, string | number | null>): void {
    void this.router.navigate([], { queryParams, queryParamsHandling: 'merge' });
  }
}
