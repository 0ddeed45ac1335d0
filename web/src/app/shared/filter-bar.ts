import { ChangeDetectionStrategy, Component, input, output } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';

/** What narrows and orders a view, in a bar above it; what is done with all that is shown stands behind, marked by `after`. */
@Component({
  selector: 'glue-filter-bar',
  imports: [MatButtonModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  host: { role: 'search', '[attr.aria-label]': 'name()' },
  template: `
    <ng-content />
    @if (isNarrowed()) {
      <button matButton class="small" (click)="cleared.emit()">Show all</button>
    }
    <ng-content select="[after]" />
  `,
  styles: `
    :host {
      display: flex;
      flex-wrap: wrap;
      gap: 6px 8px;
      align-items: center;
      margin: 6px 0;
    }
  `,
})
export class FilterBar {
  readonly name = input('Narrow the list');
  readonly isNarrowed = input(false);
  readonly cleared = output<void>();
}
