import { ChangeDetectionStrategy, Component, inject, input, output } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { Store } from '@ngrx/store';
import { save } from '../shared/picture';
import { PatchView } from '../shared/patch-view';
import { repairsFeature } from './repairs.state';
import { TroubleBox } from '../shared/trouble';
import { Waiting } from '../shared/waiting';

/** What repairs come to: how many, in which files, what is left out, and the change itself; written or taken along. */
@Component({
  selector: 'glue-repair-preview',
  imports: [MatButtonModule, PatchView, TroubleBox, Waiting],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="preview" role="group" aria-label="What would be written">
      @if (state().preview; as preview) {
        @if (preview.count > 1) {
          <p>
            {{ preview.count }} repairs in {{ preview.files.length }}
            {{ preview.files.length === 1 ? 'file' : 'files' }}.
          </p>
        }
        @for (note of preview.notes; track note) {
          <p class="note">{{ note }}</p>
        }
        @for (one of preview.left; track one.name) {
          <p class="dim">Left out: {{ one.name }} – {{ one.reason }}</p>
        }
        @if (preview.patch) {
          <glue-patch [patch]="preview.patch" />
        } @else {
          <p>The file says that already. Scan again.</p>
        }
      } @else if (!state().trouble) {
        <glue-waiting words="Working out the change" />
      }
      @if (state().trouble; as trouble) {
        <glue-trouble [trouble]="trouble" />
      }
      <p class="actions">
        @if (state().preview?.patch) {
          <button matButton="filled" (click)="write.emit()" [disabled]="state().isWriting">Write it</button>
          <button matButton="outlined" (click)="download()">Download .patch</button>
        }
        <button matButton (click)="leave.emit()">Leave it</button>
      </p>
    </div>
  `,
  styles: `
    .preview {
      margin: 8px 0;
      padding: 8px 10px;
      border: 1px solid var(--amber);
      border-radius: 8px;
    }
    .preview p {
      margin: 4px 0;
    }
    .actions {
      display: flex;
      flex-wrap: wrap;
      gap: 6px;
    }
  `,
})
export class RepairPreviewBox {
  /** Name of the patch, without its ending. */
  readonly name = input.required<string>();
  readonly write = output();
  readonly leave = output();
  protected readonly state = inject(Store).selectSignal(repairsFeature.selectRepairsState);

  protected download(): void {
    const { preview } = this.state();
    if (!preview) return;
    save(new Blob([preview.patch], { type: 'text/x-patch' }), `${this.name()}.patch`);
  }
}
