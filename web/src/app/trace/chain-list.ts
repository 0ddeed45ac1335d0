import { itemAt } from '@glue-trace/core/browser';
import { ChangeDetectionStrategy, Component, computed, input, output } from '@angular/core';
import { RouterLink } from '@angular/router';
import type { Chains, ChainStep } from '@glue-trace/core';
import type { Place } from '../api';
import { GripMark } from '../shared/grip-mark';

/** How one piece reaches another, as chains of sentences. */
@Component({
  selector: 'glue-chains',
  imports: [GripMark, RouterLink],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (chains().shortest.length === 0) {
      <p>
        <b>{{ chains().from.title }}</b> does not reach <b>{{ chains().to.title }}</b> over anything that the map knows.
      </p>
    }
    @for (group of groups(); track group.words) {
      <h3>{{ group.words }}</h3>
      @for (chain of group.chains; track $index) {
        <ol>
          @for (step of chain; track $index) {
            <li (click)="show(step)" [class.placed]="step.link">
              <glue-grip [grip]="step.grip" />
              <span>
                <a [routerLink]="address()" [queryParams]="{ piece: step.from.key }" [title]="step.from.title">{{
                  step.from.name
                }}</a>
                <span class="dim">&ngsp;{{ step.words }} </span>
                <a [routerLink]="address()" [queryParams]="{ piece: step.to.key }" [title]="step.to.title">{{
                  step.to.name
                }}</a>
                @if (step.label && step.label !== step.to.name) {
                  <span class="dim">&ngsp;{{ step.label }}</span>
                }
              </span>
              <span class="where">{{ step.link ? file(step) + ':' + step.link.range.line : '' }}</span>
            </li>
          }
        </ol>
      }
    }
    @if (chains().hasMore) {
      <p class="dim">There are more chains as short as these.</p>
    }
  `,
  styles: `
    :host {
      display: block;
      margin: 4px 8px;
    }
    h3 {
      font-size: 12px;
      line-height: 16px;
      font-weight: 600;
      color: var(--ink2);
      margin: 6px 0 0;
    }
    ol {
      list-style: none;
      margin: 2px 0 8px;
      padding: 0 0 0 4px;
      border-left: 2px solid var(--line);
    }
    li {
      display: grid;
      grid-template-columns: 34px minmax(0, 1fr) auto;
      gap: 8px;
      align-items: baseline;
      padding: 2px 6px;
      border-radius: 6px;
      overflow-wrap: anywhere;
    }
    .placed {
      cursor: pointer;
    }
    .placed:hover {
      background: var(--well);
    }
    a {
      font-weight: 600;
      text-decoration: none;
    }
    a:hover {
      text-decoration: underline;
    }
    .where {
      color: var(--ink2);
      font:
        12px/18px ui-monospace,
        monospace;
    }
    p {
      margin: 4px 0;
    }
  `,
})
export class ChainList {
  readonly chains = input.required<Chains>();
  readonly project = input.required<number>();
  /** The place of a step that was chosen. */
  readonly chosen = output<Place>();

  protected readonly address = computed(() => ['/p', this.project(), 'trace']);
  protected readonly groups = computed(() => {
    const { shortest, firmest } = this.chains();
    const steps = (chain: ChainStep[]): string => `${chain.length} ${chain.length === 1 ? 'step' : 'steps'}`;
    const isShort = firmest && shortest.some((chain) => JSON.stringify(chain) === JSON.stringify(firmest));
    return [
      ...(shortest.length > 0
        ? [
            {
              words: `${shortest.length === 1 ? 'The shortest way' : `The ${shortest.length} shortest ways`}: ${steps(itemAt(shortest, 0))}${isShort && shortest.length === 1 ? ', and the firmest' : ''}`,
              chains: shortest,
            },
          ]
        : []),
      ...(firmest && !(isShort && shortest.length === 1)
        ? [{ words: `The firmest way: ${steps(firmest)}`, chains: [firmest] }]
        : []),
    ];
  });

  protected file({ link }: ChainStep): string {
    return link?.file.split('/').pop() ?? '';
  }

  protected show({ link }: ChainStep): void {
    if (link) this.chosen.emit({ file: link.file, ...link.range });
  }
}
