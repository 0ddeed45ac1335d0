import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatDialogModule } from '@angular/material/dialog';
import { SettingsStore, type Settings } from '../shared/settings';

type Choice = Exclude<keyof Settings, 'editor'>;

const CHOICES: { of: Choice; words: string; values: { value: Settings[Choice]; words: string }[] }[] = [
  {
    of: 'theme',
    words: 'Colours',
    values: [
      { value: 'system', words: 'as the system has them' },
      { value: 'light', words: 'light' },
      { value: 'dark', words: 'dark' },
    ],
  },
  {
    of: 'rows',
    words: 'Rows',
    values: [
      { value: 'roomy', words: 'roomy' },
      { value: 'close', words: 'close together' },
    ],
  },
  {
    of: 'longLines',
    words: 'Long lines of code',
    values: [
      { value: 'scroll', words: 'scroll' },
      { value: 'wrap', words: 'are wrapped' },
    ],
  },
  {
    of: 'keys',
    words: 'Keys of one letter',
    values: [
      { value: 'on', words: 'work' },
      { value: 'off', words: 'do nothing' },
    ],
  },
];

/** What somebody wants of the interface. Everything is in force at once. */
@Component({
  selector: 'glue-settings',
  imports: [MatButtonModule, MatDialogModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <h1 mat-dialog-title>Settings</h1>
    <mat-dialog-content>
      <p class="dim">Kept by this browser, for all projects.</p>
      <div class="form">
        @for (choice of choices; track choice.of) {
          <label [for]="'setting-' + choice.of">{{ choice.words }}</label>
          <select [id]="'setting-' + choice.of" #box (change)="change(choice.of, box.value)">
            @for (one of choice.values; track one.value) {
              <option [value]="one.value" [selected]="settings.now()[choice.of] === one.value">{{ one.words }}</option>
            }
          </select>
        }
        <label for="setting-editor">Open in an editor with</label>
        <input
          #editor
          id="setting-editor"
          type="text"
          maxlength="500"
          placeholder="editor://{{ '{file}:{line}' }}"
          [value]="settings.now().editor"
          (input)="settings.change({ editor: editor.value.trim() })"
        />
      </div>
      <p class="dim">
        An address that your editor answers to. <code>{{ '{file}' }}</code> stands for the whole path,
        <code>{{ '{line}' }}</code> for the line. With none, a place can be copied as path:line.
      </p>
    </mat-dialog-content>
    <mat-dialog-actions align="end"><button matButton="filled" mat-dialog-close>Close</button></mat-dialog-actions>
  `,
  styles: `
    .form {
      display: grid;
      grid-template-columns: minmax(0, auto) minmax(0, 1fr);
      gap: 8px 14px;
      align-items: center;
    }
  `,
})
export class SettingsDialog {
  protected readonly settings = inject(SettingsStore);
  protected readonly choices = CHOICES;

  protected change(of: Choice, value: string): void {
    this.settings.change({ [of]: value });
  }
}
