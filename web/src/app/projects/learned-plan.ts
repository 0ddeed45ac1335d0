import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MAT_DIALOG_DATA, MatDialogModule, MatDialogRef } from '@angular/material/dialog';
import type { ProjectView } from '@glue-trace/server/api';
import { Api, troubleOf, type Trouble } from '../api';
import { TroubleBox } from '../shared/trouble';

/** Shows the plan that would be written, lets it be corrected, and writes it; closes with true when it did. */
@Component({
  selector: 'glue-learned-plan',
  imports: [MatDialogModule, MatButtonModule, TroubleBox],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <h1 mat-dialog-title>A plan learned from your files</h1>
    <mat-dialog-content>
      <p>
        What the files of this project are, what they name and what the calls of its scripts mean: each rule says in a
        comment how many of its texts lead somewhere. Nothing is written until you say so; correct it here or later in
        <code>glue-trace.json</code>.
      </p>
      @if (trouble(); as trouble) {
        <glue-trouble [trouble]="trouble" />
      }
      @if (text() !== null) {
        <textarea
          #plan
          aria-label="The plan"
          spellcheck="false"
          [value]="text()"
          (input)="text.set(plan.value)"
        ></textarea>
      } @else if (!trouble()) {
        <p class="dim" role="status">Learning from the files …</p>
      }
    </mat-dialog-content>
    <mat-dialog-actions align="end">
      <button matButton mat-dialog-close>Cancel</button>
      <button matButton="filled" [disabled]="!text()" (click)="write()">Write glue-trace.json and scan</button>
    </mat-dialog-actions>
  `,
  styles: `
    textarea {
      width: 100%;
      height: 380px;
      resize: vertical;
      font: var(--mono);
      color: inherit;
      background: var(--well);
      border: 1px solid var(--line);
      border-radius: 6px;
      padding: 8px 10px;
    }
  `,
})
export class LearnedPlan {
  private readonly api = inject(Api);
  private readonly project = inject<ProjectView>(MAT_DIALOG_DATA);
  private readonly dialog = inject(MatDialogRef<LearnedPlan, boolean>);
  protected readonly text = signal<string | null>(null);
  protected readonly trouble = signal<Trouble | null>(null);

  constructor() {
    this.api.learnedPlan(this.project.id).subscribe({
      next: ({ text }) => this.text.set(text),
      error: (error: unknown) => this.trouble.set(troubleOf(error)),
    });
  }

  protected write(): void {
    this.api.writeLearnedPlan(this.project.id, this.text() ?? '').subscribe({
      next: () => this.dialog.close(true),
      error: (error: unknown) => this.trouble.set(troubleOf(error)),
    });
  }
}
