import { ChangeDetectionStrategy, Component, computed, effect, inject } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MAT_DIALOG_DATA, MatDialogModule, MatDialogRef } from '@angular/material/dialog';
import { Store } from '@ngrx/store';
import type { FindingFilter } from '../api';
import { RepairPreviewBox } from './repair-preview';
import { OF_ALL, repairsActions, repairsFeature } from './repairs.state';
import { Waiting } from '../shared/waiting';

export interface RepairAllData {
  project: number;
  filter: FindingFilter;
  shown: number;
}

/** The sure repairs of all findings that are shown, tried together, in one preview. */
@Component({
  selector: 'glue-repair-all',
  imports: [MatButtonModule, MatDialogModule, RepairPreviewBox, Waiting],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <h1 mat-dialog-title>Repair all that is sure</h1>
    <mat-dialog-content>
      @if (state().sure; as sure) {
        <p role="status">
          @if (mended() > 0) {
            {{ mended() }} of {{ data.shown }} can be repaired surely: tried together in memory, they go, and nothing
            comes.
          } @else {
            Nothing of what is shown can be repaired surely.
          }
          @if (sure.unsure > 0) {
            {{ sure.unsure }} {{ sure.unsure === 1 ? 'has a repair' : 'have repairs' }} that somebody has to look at.
          }
          @if (sure.without > 0) {
            For {{ sure.without }} no change can be written.
          }
        </p>
        @for (one of sure.left; track $index) {
          <p class="dim">Left out: {{ one.name }} – {{ one.reason }}</p>
        }
      } @else if (!state().trouble) {
        <glue-waiting [words]="'Trying the repairs of ' + data.shown + ' findings in memory'" />
      }
      @if (state().asked?.of === OF_ALL || state().trouble) {
        <glue-repair-preview name="all-that-is-sure" (write)="write()" (leave)="ref.close()" />
      } @else {
        <p><button matButton="outlined" mat-dialog-close>Close</button></p>
      }
    </mat-dialog-content>
  `,
  styles: `
    p {
      margin: 4px 0;
    }
  `,
})
export class RepairAll {
  protected readonly data = inject<RepairAllData>(MAT_DIALOG_DATA);
  protected readonly ref = inject<MatDialogRef<RepairAll, boolean>>(MatDialogRef);
  private readonly store = inject(Store);
  protected readonly state = this.store.selectSignal(repairsFeature.selectRepairsState);
  protected readonly OF_ALL = OF_ALL;
  /** One finding may need several repairs. */
  protected readonly mended = computed(
    () => new Set(this.state().sure?.findings.map(({ fingerprint }) => fingerprint)).size,
  );

  constructor() {
    const { project, filter } = this.data;
    this.store.dispatch(repairsActions.gather({ project, filter }));
    const before = this.state().written;
    effect(() => {
      if (this.state().written !== before) this.ref.close(true);
    });
    this.ref.afterClosed().subscribe((isWritten) => {
      if (!isWritten) this.store.dispatch(repairsActions.close());
    });
  }

  protected write(): void {
    const { asked } = this.state();
    if (asked) this.store.dispatch(repairsActions.write({ project: this.data.project, request: asked.request }));
  }
}
