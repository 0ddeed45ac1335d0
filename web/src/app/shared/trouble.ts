import { ChangeDetectionStrategy, Component, input } from '@angular/core';
import type { Trouble } from '../api';

/** What went wrong, where, and what to do; the way on is given inside by the view. */
@Component({
  selector: 'glue-trouble',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="card" role="alert">
      <b>{{ trouble().title }}</b>
      <p>{{ trouble().detail }}</p>
      @if (trouble().mistakes.length > 1) {
        <ul>
          @for (mistake of trouble().mistakes.slice(0, 20); track $index) {
            <li>
              @if (mistake.line) {
                <span class="dim">{{ mistake.file ? mistake.file + ', ' : '' }}line {{ mistake.line }} ·&ngsp;</span>
              }
              <code>{{ mistake.key }}</code> {{ mistake.message }}
            </li>
          }
        </ul>
      }
      <ng-content />
    </div>
  `,
  styles: `
    .card {
      border-left: 4px solid var(--brick);
      max-width: 780px;
    }
    p,
    li {
      overflow-wrap: anywhere;
    }
  `,
})
export class TroubleBox {
  readonly trouble = input.required<Pick<Trouble, 'title' | 'detail' | 'mistakes'>>();
}
