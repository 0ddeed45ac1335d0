import { ChangeDetectionStrategy, Component, input, output } from '@angular/core';
import type { ValuesView } from '@glue-trace/server/api';
import type { Place } from '../api';

/** Values in force: what each field is given from the code to the instance; the last one counts. */
@Component({
  selector: 'glue-values',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @for (part of parts(); track part.part.key) {
      <table [attr.aria-label]="'Values of ' + part.typeName">
        <caption>
          {{
            part.typeName
          }}
        </caption>
        @for (field of part.fields; track field.field) {
          <tr>
            <th scope="row">
              {{ field.field }}
              @if (field.type) {
                <span class="dim">{{ field.type }}</span>
              }
            </th>
            <td>
              @for (level of field.levels; track $index; let last = $last) {
                <button
                  [class.force]="last"
                  (click)="
                    chosen.emit({
                      file: level.file,
                      line: level.range.line,
                      column: level.range.column,
                      endLine: level.range.endLine,
                      endColumn: level.range.endColumn,
                    })
                  "
                  [title]="level.file + ':' + level.range.line"
                >
                  @if (level.empty) {
                    <i>empty</i>
                  } @else {
                    <code>{{ level.text ?? '…' }}</code>
                  }
                  <span class="dim">&ngsp;{{ level.by }}</span>
                </button>
                @if (!last) {
                  <span class="dim" aria-label="replaced by">→</span>
                }
              }
            </td>
          </tr>
        }
      </table>
    }
  `,
  styles: `
    :host {
      display: block;
      margin: 4px 8px;
    }
    table {
      border-collapse: collapse;
      width: 100%;
      margin-bottom: 6px;
    }
    caption {
      text-align: left;
      font-size: 12px;
      font-weight: 600;
      color: var(--ink2);
    }
    th {
      text-align: left;
      font-weight: 600;
      vertical-align: top;
      padding: 2px 12px 2px 0;
      width: 30%;
      overflow-wrap: anywhere;
    }
    th .dim {
      font-weight: 400;
    }
    td {
      padding: 2px 0;
    }
    button {
      border: 0;
      border-radius: 4px;
      padding: 0 4px;
      background: none;
      color: var(--ink2);
      font: inherit;
      text-align: left;
      cursor: pointer;
    }
    button:hover {
      background: var(--well);
    }
    button code {
      overflow-wrap: anywhere;
    }
    .force {
      color: var(--ink);
    }
    .force code,
    .force i {
      font-weight: 700;
    }
    button:not(.force) code,
    button:not(.force) i {
      text-decoration: line-through;
    }
  `,
})
export class ValuesTable {
  readonly parts = input.required<ValuesView[]>();
  /** The place of a value that was chosen. */
  readonly chosen = output<Place>();
}
