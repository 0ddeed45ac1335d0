import { ChangeDetectionStrategy, Component, computed, effect, inject, input, output, untracked } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatMenuModule } from '@angular/material/menu';
import type { Stop } from '@glue-trace/core';
import { Store } from '@ngrx/store';
import type { FindingFilter } from '../api';
import { TroubleBox } from '../shared/trouble';
import { findingsActions, findingsFeature } from './findings.state';

/** What the list can be narrowed by, beside what stands in its bar: scene, folder, who touched it, what it rests on. */
@Component({
  selector: 'glue-narrow-by',
  imports: [MatButtonModule, MatMenuModule, TroubleBox],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <button matButton [matMenuTriggerFor]="by" [disabled]="!!state().trouble">Narrow by</button>
    <mat-menu #by="matMenu">
      <button mat-menu-item [matMenuTriggerFor]="scenes" (menuOpened)="loadScenes()">Scene</button>
      <button mat-menu-item [matMenuTriggerFor]="folders">Folder</button>
      <button mat-menu-item [matMenuTriggerFor]="owners" (menuOpened)="loadOwners()">Who touched it last</button>
      <button mat-menu-item [matMenuTriggerFor]="rests">What it rests on</button>
    </mat-menu>
    <mat-menu #scenes="matMenu">
      @for (scene of state().scenes?.stops ?? []; track scene.key) {
        <button mat-menu-item (click)="chosen.emit({ scene: scene.key })">
          {{ scene.title }} <span class="dim">{{ countIn(scene) }}</span>
        </button>
      } @empty {
        @if (state().narrowTrouble; as trouble) {
          <glue-trouble [trouble]="trouble" />
        } @else {
          <p class="dim" role="status">
            {{ state().scenes ? 'The plan knows no scenes here.' : 'Looking for scenes …' }}
          </p>
        }
      }
      @if (state().scenes?.more; as more) {
        <p class="dim">and {{ more }} more</p>
      }
    </mat-menu>
    <mat-menu #folders="matMenu">
      @for (one of state().counts.byFolder; track one.folder) {
        @if (one.folder) {
          <button mat-menu-item (click)="chosen.emit({ folder: one.folder })">
            {{ one.folder }}
          </button>
        }
      } @empty {
        <p class="dim">Nothing is shown.</p>
      }
    </mat-menu>
    <mat-menu #owners="matMenu">
      @for (one of state().owners ?? []; track one.by) {
        <button mat-menu-item (click)="chosen.emit({ owner: one.by })">
          {{ one.by }} <span class="dim">{{ one.count }}</span>
        </button>
      } @empty {
        @if (state().narrowTrouble; as trouble) {
          <glue-trouble [trouble]="trouble" />
        } @else {
          <p class="dim" role="status">
            {{
              state().owners
                ? 'No version history knows who touched these lines.'
                : 'Asking the version history who touched each line …'
            }}
          </p>
        }
      }
    </mat-menu>
    <mat-menu #rests="matMenu">
      <button mat-menu-item (click)="chosen.emit({ rests: 'written' })">Only what somebody wrote or took</button>
      <button mat-menu-item (click)="chosen.emit({ rests: 'learned' })">Learned rules that nobody looked at</button>
    </mat-menu>
    @for (chip of chips(); track chip.key) {
      <button class="chip" (click)="take(chip.key)" title="Take this away">{{ chip.words }} ✕</button>
    }
  `,
  styles: `
    :host {
      display: contents;
    }
    p {
      margin: 4px 16px;
      max-width: 32ch;
    }
    .chip {
      border: 1px solid var(--amber);
      border-radius: 6px;
      padding: 4px 8px;
      background: var(--amber-bg);
      color: inherit;
      font: inherit;
      cursor: pointer;
    }
  `,
})
export class NarrowBy {
  readonly project = input.required<number>();
  readonly filter = input.required<Pick<FindingFilter, 'scene' | 'folder' | 'owner' | 'rests'>>();
  /** What changes; null takes something away. */
  readonly chosen = output<Record<string, string | null>>();

  private readonly store = inject(Store);
  protected readonly state = this.store.selectSignal(findingsFeature.selectFindingsState);
  protected readonly chips = computed(() => {
    const { scene, folder, owner, rests } = this.filter();
    const title = this.state().scenes?.stops.find(({ key }) => key === scene)?.title;
    return [
      { key: 'scene', words: scene && `with ${title ?? 'one scene'}` },
      { key: 'folder', words: folder && `in ${folder}` },
      { key: 'owner', words: owner && `touched by ${owner}` },
      { key: 'rests', words: rests && (rests === 'learned' ? 'by learned rules' : 'by what somebody wrote') },
    ].filter(({ words }) => words);
  });

  constructor() {
    effect(() => {
      // What an address names has a title.
      if (this.filter().scene && !untracked(this.state).scenes) this.loadScenes();
    });
  }

  protected take(key: string): void {
    this.chosen.emit({ [key]: null });
  }

  protected loadScenes(): void {
    this.store.dispatch(findingsActions.loadScenes({ project: this.project() }));
  }

  protected loadOwners(): void {
    this.store.dispatch(findingsActions.loadOwners({ project: this.project() }));
  }

  protected countIn({ counts }: Stop): number {
    return counts.error + counts.warning + counts.note;
  }
}
