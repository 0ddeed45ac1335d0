import { ChangeDetectionStrategy, Component, inject, input } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { Store } from '@ngrx/store';
import { repairsActions, repairsFeature } from './repairs.state';

/** Says what was written last, and takes it back. */
@Component({
  selector: 'glue-written',
  imports: [MatButtonModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (state().written; as repair) {
      <div class="note" role="status">
        <span>
          <b>{{ repair.isUndone ? 'Taken back' : 'Written' }}:</b> {{ repair.title }}
          <span class="dim">&ngsp;({{ repair.files.join(', ') }})</span>
          @if (state().undoTrouble; as trouble) {
            <span class="trouble">&ngsp;{{ trouble.title }}. {{ trouble.detail }}</span>
          }
        </span>
        @if (!repair.isUndone) {
          <button matButton="outlined" (click)="undo(repair.id)">Take it back</button>
        }
        <button matButton (click)="dismiss()" aria-label="Close this note">Close</button>
      </div>
    }
  `,
  styles: `
    .note {
      display: flex;
      gap: 8px;
      align-items: center;
      padding: 6px 10px;
      border: 1px solid var(--line);
      border-left: 4px solid var(--moss);
      border-radius: 6px;
      background: var(--surface);
    }
    .note > span {
      flex: 1;
      overflow-wrap: anywhere;
    }
    .trouble {
      color: var(--brick);
    }
  `,
})
export class WrittenNote {
  readonly project = input.required<number>();
  private readonly store = inject(Store);
  protected readonly state = this.store.selectSignal(repairsFeature.selectRepairsState);

  protected undo(repair: number): void {
    this.store.dispatch(repairsActions.undo({ project: this.project(), repair }));
  }

  protected dismiss(): void {
    this.store.dispatch(repairsActions.dismiss());
  }
}
