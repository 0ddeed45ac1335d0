import { ChangeDetectionStrategy, Component, input, output } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';

/** A view or list with nothing in it: what that means, and inside what to do next. */
@Component({
  selector: 'glue-empty',
  imports: [MatButtonModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="card">
      <b>{{ says() }}</b>
      <ng-content />
      @if (isNarrowed()) {
        <p><button matButton="outlined" (click)="cleared.emit()">Show all</button></p>
      }
    </div>
  `,
  styles: `
    .card {
      max-width: 780px;
    }
  `,
})
export class EmptyBox {
  readonly says = input.required<string>();
  /** It is empty since it is narrowed: the way back is offered. */
  readonly isNarrowed = input(false);
  readonly cleared = output<void>();
}
