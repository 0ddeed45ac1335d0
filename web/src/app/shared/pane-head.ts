import { ChangeDetectionStrategy, Component, output } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';

/** The head of a pane that can be closed; what it shows stands inside. */
@Component({
  selector: 'glue-pane-head',
  imports: [MatButtonModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <b><ng-content /></b>
    <button matButton class="small" (click)="closed.emit()">Close</button>
  `,
  styles: `
    :host {
      display: flex;
      justify-content: space-between;
      align-items: center;
      gap: 8px;
    }
    b {
      overflow-wrap: anywhere;
    }
  `,
})
export class PaneHead {
  readonly closed = output<void>();
}
