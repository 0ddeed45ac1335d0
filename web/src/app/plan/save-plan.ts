import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MAT_DIALOG_DATA, MatDialogModule } from '@angular/material/dialog';
import { structuredPatch } from 'diff';

export interface SavePlanData {
  path: string;
  before: string;
  after: string;
}

/** Shows what saving would change; closes with true when it is to be written. */
@Component({
  selector: 'glue-save-plan',
  imports: [MatDialogModule, MatButtonModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <h1 mat-dialog-title>What will be written</h1>
    <mat-dialog-content>
      <p>
        <code>{{ data.path }}</code>: {{ added() }} {{ added() === 1 ? 'line' : 'lines' }} more, {{ removed() }} fewer.
        The project is scanned again afterwards.
      </p>
      <pre tabindex="0" aria-label="The change">
@for (line of lines(); track $index) {<span [class]="kind(line)">{{ line }}
</span>}</pre>
    </mat-dialog-content>
    <mat-dialog-actions align="end">
      <button matButton mat-dialog-close>Go on writing</button>
      <button matButton="filled" [mat-dialog-close]="true">Write it and scan</button>
    </mat-dialog-actions>
  `,
  styles: `
    pre {
      max-height: 420px;
      overflow: auto;
      margin: 0;
      padding: 8px 0;
      font: var(--mono);
      background: var(--well);
      border: 1px solid var(--line);
      border-radius: 6px;
    }
    span {
      display: block;
      padding: 0 10px;
    }
    .added {
      background: var(--moss-bg);
    }
    .removed {
      background: var(--brick-bg);
    }
    .place {
      color: var(--ink2);
    }
  `,
})
export class SavePlan {
  protected readonly data = inject<SavePlanData>(MAT_DIALOG_DATA);
  private readonly patch = structuredPatch('before', 'after', this.data.before, this.data.after, '', '', {
    context: 2,
  });
  protected readonly lines = computed(() =>
    this.patch.hunks.flatMap((hunk) => [`@@ line ${hunk.newStart} @@`, ...hunk.lines]),
  );
  protected readonly added = computed(() => this.lines().filter((line) => line.startsWith('+')).length);
  protected readonly removed = computed(() => this.lines().filter((line) => line.startsWith('-')).length);

  protected kind(line: string): string {
    return { '+': 'added', '-': 'removed', '@': 'place' }[line[0]] ?? '';
  }
}
