import { itemAt } from '@glue-trace/core/browser';
import { ChangeDetectionStrategy, Component, computed, effect, inject, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MAT_DIALOG_DATA, MatDialogModule, MatDialogRef } from '@angular/material/dialog';
import type { FindingView } from '@glue-trace/core';
import type { WaiverRequest } from '@glue-trace/server/api';
import { Store } from '@ngrx/store';
import { shownBy, type FindingFilter } from '../api';
import { draftSignal } from '../shared/draft';
import { waiversActions, waiversFeature } from './waivers.state';
import { TroubleBox } from '../shared/trouble';

export interface WaiveData {
  project: number;
  /** The finding that is open; null when all that is shown are meant. */
  finding: FindingView | null;
  /** How the list is narrowed, and how many findings it shows. */
  filter: FindingFilter;
  shown: number;
}

type Scope = 'finding' | 'folder' | 'check' | 'shown';

interface Choice {
  scope: Scope;
  words: string;
}

interface Draft {
  reason: string;
  by: string;
  until: string;
}

/** Accepts findings on purpose: which, why, who says so, and until when. */
@Component({
  selector: 'glue-waive-dialog',
  imports: [MatButtonModule, MatDialogModule, TroubleBox],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <h1 mat-dialog-title>Waive</h1>
    <mat-dialog-content>
      @if (data.finding; as finding) {
        <p class="sentence">{{ finding.text }}</p>
      }
      <form id="waive" (submit)="$event.preventDefault(); save()">
        <fieldset>
          <legend>What is accepted on purpose</legend>
          @for (choice of choices; track choice.scope) {
            <label>
              <input
                type="radio"
                name="scope"
                [value]="choice.scope"
                [checked]="scope() === choice.scope"
                (change)="scope.set(choice.scope)"
              />
              {{ choice.words }}
            </label>
          }
        </fieldset>
        <label class="field">
          <span>Why</span>
          <textarea
            #reason
            name="reason"
            rows="3"
            maxlength="2000"
            required
            cdkFocusInitial
            [value]="draft().reason"
            (input)="put({ reason: reason.value })"
            (keydown.control.enter)="save()"
          ></textarea>
        </label>
        <label class="field">
          <span>Until</span>
          <input
            #until
            type="date"
            name="until"
            [min]="tomorrow"
            [value]="draft().until"
            (input)="put({ until: until.value })"
          />
          <span class="dim">for good when left empty</span>
        </label>
        <label class="field">
          <span>Who says so</span>
          <input #by name="by" maxlength="200" [value]="draft().by" (input)="put({ by: by.value })" />
        </label>
        @if (state().trouble; as trouble) {
          <glue-trouble [trouble]="trouble" />
        }
      </form>
      <p class="dim">
        It is written into glue-trace.waivers.json, beside the plan. What is accepted counts no more, and can be shown
        and taken back.
      </p>
    </mat-dialog-content>
    <mat-dialog-actions align="end">
      <button matButton mat-dialog-close>Not now</button>
      <button
        matButton="filled"
        form="waive"
        type="submit"
        [disabled]="draft().reason.trim() === '' || state().isSaving"
      >
        Waive <kbd>Ctrl Enter</kbd>
      </button>
    </mat-dialog-actions>
  `,
  styles: `
    .sentence {
      font-weight: 600;
      overflow-wrap: anywhere;
    }
    fieldset {
      border: 0;
      padding: 0;
      margin: 0 0 10px;
      display: grid;
      gap: 4px;
    }
    legend {
      color: var(--ink2);
      font-weight: 600;
    }
    .field {
      display: grid;
      grid-template-columns: 90px auto 1fr;
      gap: 8px;
      align-items: center;
      margin: 8px 0;
    }
    .field textarea,
    .field input[name='by'] {
      grid-column: 2 / 4;
    }
    .field textarea {
      resize: vertical;
    }
  `,
})
export class WaiveDialog {
  protected readonly data = inject<WaiveData>(MAT_DIALOG_DATA);
  private readonly ref = inject<MatDialogRef<WaiveDialog, boolean>>(MatDialogRef);
  private readonly store = inject(Store);
  protected readonly state = this.store.selectSignal(waiversFeature.selectWaiversState);
  protected readonly draft = draftSignal<Draft>(`glue-waive-${this.data.project}`, {
    reason: '',
    by: localStorage.getItem('glue-by') ?? '',
    until: '',
  });
  protected readonly tomorrow = dayFromNow(1);
  protected readonly choices = choicesFor(this.data);
  protected readonly scope = signal<Scope>(itemAt(this.choices, 0).scope);
  private readonly isAsked = signal(false);
  protected readonly words = computed(() => this.choices.find(({ scope }) => scope === this.scope())?.words ?? '');

  constructor() {
    this.store.dispatch(waiversActions.begin());
    const before = this.state().decided;
    effect(() => {
      const { decided, trouble } = this.state();
      if (!this.isAsked()) return;
      if (trouble) return this.isAsked.set(false);
      if (decided === before) return;
      // The next reason is another one; who says so is the same.
      this.draft.update((draft) => ({ ...draft, reason: '', until: '' }));
      this.ref.close(true);
    });
  }

  protected put(some: Partial<Draft>): void {
    this.draft.update((draft) => ({ ...draft, ...some }));
  }

  protected save(): void {
    const { reason, by, until } = this.draft();
    if (reason.trim() === '') return;
    localStorage.setItem('glue-by', by.trim());
    const request: WaiverRequest = {
      findings: [],
      reason: reason.trim(),
      ...(by.trim() && { by: by.trim() }),
      ...(until && { until }),
      ...this.meant(),
    };
    this.isAsked.set(true);
    this.store.dispatch(waiversActions.waive({ project: this.data.project, request, words: this.words() }));
  }

  private meant(): Partial<WaiverRequest> {
    const { finding, filter } = this.data;
    if (this.scope() === 'shown' || !finding) {
      const { waived: _waived, ...shown } = shownBy(filter);
      return { shown };
    }
    const { check, fingerprint } = finding;
    if (this.scope() === 'check') return { check };
    if (this.scope() === 'folder') return { check, in: `${folderOf(finding)}/**` };
    return { findings: [fingerprint] };
  }
}

function choicesFor({ finding, shown }: WaiveData): Choice[] {
  const all: Choice = {
    scope: 'shown',
    words: shown === 1 ? 'the finding that is shown' : `all ${shown} that are shown`,
  };
  if (!finding) return [all];
  const folder = folderOf(finding);
  const places = finding.places > 1 ? `, at all its ${finding.places} places` : '';
  return [
    { scope: 'finding', words: `this finding${places}` },
    ...(folder ? [{ scope: 'folder' as const, words: `all of ${finding.check} in ${folder}` }] : []),
    { scope: 'check', words: `all of ${finding.check}` },
    ...(shown > 1 ? [all] : []),
  ];
}

/** The folder in which all places of a finding are; empty for the top. */
function folderOf({ files }: FindingView): string {
  const parts = files.map((file) => file.split('/').slice(0, -1));
  const [first = []] = parts;
  let depth = first.length;
  for (const other of parts) while (first.slice(0, depth).join('/') !== other.slice(0, depth).join('/')) depth--;
  return first.slice(0, depth).join('/');
}

/** A day as 2026-03-02, in the time zone of this browser. */
function dayFromNow(days: number): string {
  const day = new Date();
  day.setDate(day.getDate() + days);
  const two = (number: number): string => String(number).padStart(2, '0');
  return `${day.getFullYear()}-${two(day.getMonth() + 1)}-${two(day.getDate())}`;
}
