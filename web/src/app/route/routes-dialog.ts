import { ChangeDetectionStrategy, Component, computed, effect, inject, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MAT_DIALOG_DATA, MatDialogModule } from '@angular/material/dialog';
import type { Hit } from '@glue-trace/core';
import { Store } from '@ngrx/store';
import { draftSignal } from '../shared/draft';
import { PiecePicker } from '../shared/piece-picker';
import { routeActions, routeFeature } from './route.state';
import { TroubleBox } from '../shared/trouble';

interface Draft {
  name: string;
  note: string;
  from: string[];
}

const NOTHING: Draft = { name: '', note: '', from: [] };

/** Routes that are saved with the project: what each begins with, a new one, and taking one out. */
@Component({
  selector: 'glue-routes-dialog',
  imports: [MatButtonModule, MatDialogModule, PiecePicker, TroubleBox],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <h1 mat-dialog-title>Routes</h1>
    <mat-dialog-content>
      <p class="dim">
        A route is what a play test visits: scenes and other pieces it begins with, and all that can be reached from
        them. It is kept in glue-trace.routes.json, beside the plan.
      </p>
      @for (route of state().routes; track route.name) {
        <div class="route">
          <span>
            <b>{{ route.isDefault ? 'the way from the start' : route.name }}</b> · {{ route.pieces }} pieces
            <span class="dim clip">
              from
              @for (one of route.from; track one.written) {
                <span [class.gone]="!one.piece">{{ one.piece?.title ?? one.written }}{{ $last ? '' : ', ' }}</span>
              }
              {{ route.note ? ' · ' + route.note : '' }}
            </span>
          </span>
          @if (!route.isDefault) {
            <button matButton (click)="change(route.name)">Change</button>
            <button matButton (click)="drop(route.name)">Take it out</button>
          }
        </div>
      }
      <h2>{{ isKnown() ? 'Change “' + draft().name + '”' : 'A new route' }}</h2>
      <form (submit)="$event.preventDefault(); save()">
        <label
          >Name
          <input
            #name
            cdkFocusInitial
            maxlength="100"
            [value]="draft().name"
            (input)="put({ name: name.value })"
            name="name"
        /></label>
        <label
          >What it is for
          <input #note maxlength="500" [value]="draft().note" (input)="put({ note: note.value })" name="note"
        /></label>
        <div class="from">
          <span>It begins with</span>
          @for (one of draft().from; track one) {
            <button type="button" class="chip" (click)="leaveOut(one)" title="Take this away">{{ one }} ✕</button>
          } @empty {
            <span class="dim">nothing yet</span>
          }
        </div>
        <glue-piece-picker [project]="project" words="Add a scene or another piece" (chosen)="add($event)" />
        @if (state().trouble; as trouble) {
          <glue-trouble [trouble]="trouble" />
        }
        <button matButton="filled" type="submit" [disabled]="!isWhole() || state().isSaving">Save the route</button>
      </form>
    </mat-dialog-content>
    <mat-dialog-actions align="end"><button matButton="outlined" mat-dialog-close>Close</button></mat-dialog-actions>
  `,
  styles: `
    /* What is found while one types has its place below the box. */
    mat-dialog-content {
      min-height: 540px;
    }
    .route {
      display: flex;
      gap: 6px;
      align-items: center;
      padding: 6px 0;
      border-bottom: 1px solid var(--line);
    }
    .route > span {
      flex: 1;
      min-width: 0;
    }
    .clip {
      display: block;
      overflow-wrap: anywhere;
    }
    .gone {
      text-decoration: line-through;
    }
    form {
      display: grid;
      gap: 8px;
    }
    label {
      display: grid;
      grid-template-columns: 110px 1fr;
      align-items: center;
    }
    .from {
      display: flex;
      flex-wrap: wrap;
      gap: 6px;
      align-items: center;
    }
    button[type='submit'] {
      justify-self: start;
    }
  `,
})
export class RoutesDialog {
  protected readonly project = inject<{ project: number }>(MAT_DIALOG_DATA).project;
  private readonly store = inject(Store);
  protected readonly state = this.store.selectSignal(routeFeature.selectRouteState);
  protected readonly draft = draftSignal<Draft>(`glue-route-draft-${this.project}`, NOTHING);
  protected readonly isWhole = computed(() => this.draft().name.trim() !== '' && this.draft().from.length > 0);
  protected readonly isKnown = computed(() =>
    this.state().routes.some(({ name, isDefault }) => !isDefault && name === this.draft().name.trim()),
  );
  private readonly saving = signal('');

  constructor() {
    effect(() => {
      const { isSaving, trouble } = this.state();
      const name = this.saving();
      if (!name || isSaving) return;
      this.saving.set('');
      if (trouble) return;
      // What was just made is what one wants to see.
      this.store.dispatch(routeActions.choose({ project: this.project, name }));
      this.draft.set(NOTHING);
    });
  }

  protected put(some: Partial<Draft>): void {
    this.draft.update((draft) => ({ ...draft, ...some }));
  }

  protected add({ key }: Hit): void {
    if (!this.draft().from.includes(key)) this.put({ from: [...this.draft().from, key] });
  }

  protected leaveOut(one: string): void {
    this.put({ from: this.draft().from.filter((other) => other !== one) });
  }

  protected change(name: string): void {
    const route = this.state().routes.find((one) => one.name === name);
    if (route) this.draft.set({ name, note: route.note, from: route.from.map(({ written }) => written) });
  }

  protected drop(name: string): void {
    this.store.dispatch(routeActions.drop({ project: this.project, name }));
  }

  protected save(): void {
    const { name, note, from } = this.draft();
    if (!this.isWhole()) return;
    this.store.dispatch(routeActions.save({ project: this.project, name: name.trim(), from, note: note.trim() }));
    this.saving.set(name.trim());
  }
}
