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
                  [class.force]="last && field.inForce === undefined"
                  [class.kept]="field.inForce !== undefined"
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
                  @if (level.joins) {
                    <span class="dim">{{ level.joins }}&ngsp;</span>
                  }
                  @if (level.empty) {
                    <i>empty</i>
                  } @else {
                    <code>{{ level.text ?? '…' }}</code>
                  }
                  <span class="dim">&ngsp;{{ level.by }}</span>
                </button>
                @if (!last) {
                  <span class="dim" [attr.aria-label]="field.inForce === undefined ? 'replaced by' : 'then'">→</span>
                }
              }
              @if (field.inForce !== undefined) {
                <span class="result">
                  <span class="dim">in all&ngsp;</span>
                  @if (field.inForce === null) {
                    <i>known only in play</i>
                  } @else if (field.inForce === '') {
                    <i>empty</i>
                  } @else {
                    <code>{{ field.inForce }}</code>
                  }
                </span>
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
    .force i,
    .result code {
      font-weight: 700;
    }
    .result {
      padding: 0 4px;
      white-space: nowrap;
    }
    button:not(.force, .kept) code,
    button:not(.force, .kept) i {
      text-decoration: line-through;
    }
  `,
})
export class ValuesTable {
  readonly parts = input.required<ValuesView[]>();
  /** The place of a value that was chosen. */
  readonly chosen = output<Place>();
}
