import { ChangeDetectionStrategy, Component, computed, effect, inject, input } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import type { FindingView } from '@glue-trace/core';
import type { RepairRequest } from '@glue-trace/server/api';
import { Store } from '@ngrx/store';
import { Keys } from '../shared/keys';
import { RepairPreviewBox } from './repair-preview';
import { repairsActions, repairsFeature } from './repairs.state';

/** What to do about a finding: words, and changes that can be looked at, written or taken along as a patch. */
@Component({
  selector: 'glue-repairs',
  imports: [MatButtonModule, RepairPreviewBox],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <ul>
      @for (repair of finding().repairs; track $index; let at = $index) {
        <li>
          <b>{{ repair.title }}.</b> {{ repair.words }}
          @if (repair.changes && !repair.sure) {
            <span class="dim">Look before you write it: something else may be meant. </span>
          } @else if (repair.changes) {
            <span [class.dim]="!reasons()?.[at]" role="status">{{ trialOf(at) }} </span>
          }
          @if (repair.changes) {
            <button matButton="outlined" class="small" (click)="show(at)" [attr.aria-expanded]="isOpen(at)">
              Show the change
              @if (at === first()) {
                <kbd>x</kbd>
              }
            </button>
          }
        </li>
      }
    </ul>
    @if (asked(); as asked) {
      <glue-repair-preview
        [name]="finding().check.replace('/', '-')"
        (write)="write(asked.request)"
        (leave)="close()"
      />
    }
  `,
  styles: `
    ul {
      margin: 4px 0;
      padding-left: 18px;
    }
    li {
      margin-bottom: 4px;
    }
    kbd {
      margin-left: 4px;
    }
  `,
})
export class RepairList {
  readonly project = input.required<number>();
  readonly finding = input.required<FindingView>();

  private readonly store = inject(Store);
  protected readonly state = this.store.selectSignal(repairsFeature.selectRepairsState);
  /** Position of the first repair that can be written, or -1. */
  protected readonly first = computed(() => this.finding().repairs.findIndex(({ changes }) => changes));
  protected readonly asked = computed(() => {
    const { asked } = this.state();
    return asked?.of === this.finding().fingerprint ? asked : null;
  });

  /** Why sure repairs do not hold, by their places in the list; null while they are tried. */
  protected readonly reasons = computed((): Partial<Record<number, string>> | null => {
    const { of, list } = this.state().trials;
    if (of !== this.finding().fingerprint || !list) return null;
    return Object.fromEntries(list.map(({ repair, reason }) => [repair, reason ?? '']));
  });

  constructor() {
    effect(() => {
      const { fingerprint, repairs } = this.finding();
      if (repairs.some(({ changes, sure }) => changes && sure))
        this.store.dispatch(repairsActions.try({ project: this.project(), of: fingerprint }));
    });
    inject(Keys).bindFor('findings', {
      x: () => (this.asked() ? this.close() : this.first() >= 0 && this.show(this.first())),
    });
  }

  /** What is known of a sure repair. */
  protected trialOf(at: number): string {
    const reasons = this.reasons();
    if (!reasons) return 'It is being tried in memory …';
    const reason = reasons[at];
    if (reason === undefined) return 'It was not tried.';
    return reason
      ? `Look before you write it. Tried in memory: ${reason}`
      : 'Tried in memory: the finding goes, and nothing comes.';
  }

  protected isOpen(at: number): boolean {
    return this.asked()?.request.findings[0]?.repair === at;
  }

  protected show(at: number): void {
    const { fingerprint } = this.finding();
    this.preview({ findings: [{ fingerprint, repair: at }] });
  }

  protected close(): void {
    this.store.dispatch(repairsActions.close());
  }

  protected write(request: RepairRequest): void {
    this.store.dispatch(repairsActions.write({ project: this.project(), request }));
  }

  private preview(request: RepairRequest): void {
    this.store.dispatch(repairsActions.preview({ project: this.project(), request, of: this.finding().fingerprint }));
  }
}
