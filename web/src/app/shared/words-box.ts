import { ChangeDetectionStrategy, Component, input, output } from '@angular/core';

/** A box for words that narrow a list. */
@Component({
  selector: 'glue-words-box',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <input
      #box
      type="search"
      [class.short]="isShort()"
      [attr.aria-label]="name()"
      [placeholder]="hint()"
      [value]="value() ?? ''"
      (change)="chosen.emit(box.value.trim() || null)"
    />
  `,
  styles: `
    :host {
      display: contents;
    }
    input {
      width: 136px;
    }
    .short {
      width: 72px;
    }
  `,
})
export class WordsBox {
  /** What the words are looked for in. */
  readonly name = input.required<string>();
  /** The same in a word or two, inside the empty box. */
  readonly hint = input.required<string>();
  readonly value = input<string | null>();
  readonly isShort = input(false);
  /** Null when nothing is left in it. */
  readonly chosen = output<string | null>();
}
