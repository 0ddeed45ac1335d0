import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MAT_DIALOG_DATA, MatDialogModule } from '@angular/material/dialog';
import { Store } from '@ngrx/store';
import { waiversActions, waiversFeature } from './waivers.state';
import { TroubleBox } from '../shared/trouble';
import { Waiting } from '../shared/waiting';

const STATES = { 'in force': 'in force', ended: 'ended', idle: 'matches nothing any more' } as const;

/** All waivers of the project's file, each to be taken back; those that match nothing all at once. */
@Component({
  selector: 'glue-waivers-dialog',
  imports: [MatButtonModule, MatDialogModule, TroubleBox, Waiting],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <h1 mat-dialog-title>Waivers</h1>
    <mat-dialog-content>
      @if (state().trouble; as trouble) {
        <glue-trouble [trouble]="trouble" />
      }
      @if (state().all; as all) {
        @for (waiver of all; track waiver.at) {
          <div class="waiver">
            <span>
              <span class="tag" [class.warning]="waiver.state !== 'in force'">{{ states[waiver.state] }}</span>
              {{ waiver.says ?? (waiver.check ?? '') + (waiver.in ? ' in ' + waiver.in : '') }}
              <span class="dim"
                >&ngsp;{{ waiver.reason }}{{ waiver.by ? ' · ' + waiver.by : ''
                }}{{ waiver.until ? ' · until ' + waiver.until : '' }}</span
              >
            </span>
            <button matButton="outlined" [disabled]="state().isSaving" (click)="takeBack([waiver.at])">
              Take it back
            </button>
          </div>
        } @empty {
          <p>Nothing is waived yet. <kbd>w</kbd> on a finding accepts it on purpose, with a reason.</p>
        }
      } @else if (!state().trouble) {
        <glue-waiting />
      }
    </mat-dialog-content>
    <mat-dialog-actions align="end">
      @if (idle().length > 0) {
        <button matButton [disabled]="state().isSaving" (click)="takeBack(idle())">
          Take out {{ idle().length }} that {{ idle().length === 1 ? 'matches' : 'match' }} nothing
        </button>
      }
      <button matButton="filled" mat-dialog-close>Close</button>
    </mat-dialog-actions>
  `,
  styles: `
    .waiver {
      display: flex;
      gap: 12px;
      align-items: center;
      justify-content: space-between;
      padding: 6px 0;
      border-bottom: 1px solid var(--line);
      overflow-wrap: anywhere;
    }
    .waiver > :last-child {
      flex: none;
    }
  `,
})
export class WaiversDialog {
  private readonly project = inject<{ project: number }>(MAT_DIALOG_DATA).project;
  private readonly store = inject(Store);
  protected readonly state = this.store.selectSignal(waiversFeature.selectWaiversState);
  protected readonly states = STATES;
  protected readonly idle = computed(() =>
    (this.state().all ?? []).filter(({ state }) => state === 'idle').map(({ at }) => at),
  );

  constructor() {
    this.store.dispatch(waiversActions.begin());
    this.store.dispatch(waiversActions.list({ project: this.project }));
  }

  protected takeBack(at: number[]): void {
    this.store.dispatch(waiversActions.takeBack({ project: this.project, at }));
  }
}
