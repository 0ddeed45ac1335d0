import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MAT_DIALOG_DATA, MatDialogModule } from '@angular/material/dialog';
import { Store } from '@ngrx/store';
import { repairsActions, repairsFeature } from './repairs.state';
import { TroubleBox } from '../shared/trouble';
import { Waiting } from '../shared/waiting';

/** All repairs that were written and are kept, each to be taken back. */
@Component({
  selector: 'glue-repairs-written',
  imports: [MatButtonModule, MatDialogModule, TroubleBox, Waiting],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <h1 mat-dialog-title>Repairs written</h1>
    <mat-dialog-content>
      @if (state().undoTrouble; as trouble) {
        <glue-trouble [trouble]="trouble" />
      }
      @if (state().all; as all) {
        @for (repair of all; track repair.id) {
          <div class="repair">
            <span>
              {{ repair.title }}
              <span class="dim">&ngsp;{{ when(repair.writtenAt) }} · {{ repair.files.join(', ') }}</span>
            </span>
            @if (repair.isUndone) {
              <span class="dim">taken back</span>
            } @else {
              <button matButton="outlined" (click)="undo(repair.id)">Take it back</button>
            }
          </div>
        } @empty {
          <p>No repair was written here yet. Findings with a change to show have a button for it.</p>
        }
      } @else if (!state().undoTrouble) {
        <glue-waiting />
      }
    </mat-dialog-content>
    <mat-dialog-actions align="end"><button matButton="filled" mat-dialog-close>Close</button></mat-dialog-actions>
  `,
  styles: `
    .repair {
      display: flex;
      gap: 12px;
      align-items: center;
      justify-content: space-between;
      padding: 6px 0;
      border-bottom: 1px solid var(--line);
      overflow-wrap: anywhere;
    }
    .repair > :last-child {
      flex: none;
    }
  `,
})
export class RepairsWritten {
  private readonly project = inject<{ project: number }>(MAT_DIALOG_DATA).project;
  private readonly store = inject(Store);
  protected readonly state = this.store.selectSignal(repairsFeature.selectRepairsState);

  constructor() {
    this.store.dispatch(repairsActions.list({ project: this.project }));
  }

  protected when(at: string): string {
    return new Date(at).toLocaleString([], { dateStyle: 'medium', timeStyle: 'short' });
  }

  protected undo(repair: number): void {
    this.store.dispatch(repairsActions.undo({ project: this.project, repair }));
  }
}
