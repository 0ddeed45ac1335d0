import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatDialogModule } from '@angular/material/dialog';
import { Keys } from '../shared/keys';
import { SettingsStore } from '../shared/settings';

/** All keys in force. */
@Component({
  selector: 'glue-key-help',
  imports: [MatDialogModule, MatButtonModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <h1 mat-dialog-title>Keys</h1>
    <mat-dialog-content>
      @if (isOff) {
        <p>Keys of one letter are switched off in the settings.</p>
      }
      <dl>
        @for (binding of bindings; track binding.key) {
          <dt>
            <kbd>{{ binding.key }}</kbd>
          </dt>
          <dd>{{ binding.does }}</dd>
        }
        <dt><kbd>Alt</kbd> <kbd>←</kbd></dt>
        <dd>back to where you were</dd>
        <dt><kbd>Esc</kbd></dt>
        <dd>close what is open on top</dd>
      </dl>
    </mat-dialog-content>
    <mat-dialog-actions align="end"><button matButton="filled" mat-dialog-close>Close</button></mat-dialog-actions>
  `,
  styles: `
    dl {
      display: grid;
      grid-template-columns: 90px 1fr;
      gap: 6px 12px;
      margin: 0;
    }
    dd {
      margin: 0;
    }
  `,
})
export class KeyHelp {
  protected readonly isOff = inject(SettingsStore).now().keys === 'off';
  protected readonly bindings = inject(Keys).all();
}
