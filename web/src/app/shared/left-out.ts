import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';

/** How many more there are than those that are shown; nothing where all are. */
@Component({
  selector: 'glue-left-out',
  changeDetection: ChangeDetectionStrategy.OnPush,
  host: { class: 'dim' },
  styles: `
    :host:empty {
      display: none;
    }
  `,
  template: `@if (more() > 0) {
    and {{ more() }} more{{ way() ? ': ' + way() : '' }}
  }`,
})
export class LeftOut {
  readonly of = input.required<number>();
  readonly shown = input.required<number>();
  /** How to see the others. */
  readonly way = input('');
  protected readonly more = computed(() => this.of() - this.shown());
}
