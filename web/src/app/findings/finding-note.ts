import { ChangeDetectionStrategy, Component, computed, effect, inject, input, linkedSignal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { Store } from '@ngrx/store';
import { remember, remembered } from '../shared/draft';
import { findingsActions, findingsFeature, noteKey } from './findings.state';

/** What somebody notes on a finding: saved when the box is left; until then it stays in this tab. */
@Component({
  selector: 'glue-finding-note',
  imports: [MatButtonModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <label>
      <span class="visually-hidden">Note on this finding</span>
      <textarea
        #box
        rows="2"
        maxlength="2000"
        placeholder="for yourself and whoever looks here next"
        [value]="text()"
        (input)="put(box.value)"
        (change)="save()"
        (keydown.control.enter)="save()"
        (keydown.escape)="box.blur()"
      ></textarea>
    </label>
    <span class="dim" role="status">
      @if (trouble(); as trouble) {
        Not saved: {{ trouble.detail }} <button matButton class="small" (click)="save()">Save it</button>
      } @else if (text() !== note()) {
        It is saved when you leave the box.
      } @else if (note()) {
        Saved.
      }
    </span>
  `,
  styles: `
    textarea {
      width: 100%;
      box-sizing: border-box;
      resize: vertical;
    }
  `,
})
export class FindingNote {
  readonly project = input.required<number>();
  readonly fingerprint = input.required<string>();
  /** As it is kept. */
  readonly note = input.required<string>();

  private readonly store = inject(Store);
  private readonly failed = this.store.selectSignal(findingsFeature.selectNoteTrouble);
  protected readonly trouble = computed(() => {
    const failed = this.failed();
    return failed?.of === this.fingerprint() ? failed.trouble : null;
  });
  private readonly key = computed(() => noteKey(this.project(), this.fingerprint()));
  protected readonly text = linkedSignal(() => remembered(this.key(), this.note()));

  constructor() {
    effect(() => {
      if (this.text() === this.note()) remember(this.key(), null);
    });
  }

  protected put(text: string): void {
    this.text.set(text);
    remember(this.key(), text);
  }

  protected save(): void {
    const note = this.text().trim();
    // Spaces around it are not kept, and are not what is missing then.
    this.put(note);
    this.store.dispatch(findingsActions.note({ project: this.project(), fingerprint: this.fingerprint(), note }));
  }
}
