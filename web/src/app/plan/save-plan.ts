import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MAT_DIALOG_DATA, MatDialogModule } from '@angular/material/dialog';
import { toPatch } from '@glue-trace/core/browser';
import { PatchView } from '../shared/patch-view';

export interface SavePlanData {
  path: string;
  before: string;
  after: string;
}

/** Shows what saving would change; closes with true when it is to be written. */
@Component({
  selector: 'glue-save-plan',
  imports: [MatDialogModule, MatButtonModule, PatchView],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <h1 mat-dialog-title>What will be written</h1>
    <mat-dialog-content>
      <p>
        <code>{{ data.path }}</code>: {{ added }} {{ added === 1 ? 'line' : 'lines' }} more, {{ removed }} fewer. The
        project is scanned again afterwards.
      </p>
      <glue-patch [patch]="patch" />
    </mat-dialog-content>
    <mat-dialog-actions align="end">
      <button matButton mat-dialog-close>Go on writing</button>
      <button matButton="filled" [mat-dialog-close]="true">Write it and scan</button>
    </mat-dialog-actions>
  `,
})
export class SavePlan {
  protected readonly data = inject<SavePlanData>(MAT_DIALOG_DATA);
  protected readonly patch = toPatch([{ file: this.data.path, before: this.data.before, after: this.data.after }]);
  protected readonly added = this.count('+');
  protected readonly removed = this.count('-');

  /** Lines that begin with a sign, but for those that name the file. */
  private count(sign: '+' | '-'): number {
    return this.patch.split('\n').filter((line) => line.startsWith(sign) && !line.startsWith(sign.repeat(3))).length;
  }
}
