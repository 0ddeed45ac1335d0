import { ChangeDetectionStrategy, Component, computed, input, output } from '@angular/core';

/** One of the things that can be chosen. */
export interface Option {
  value: string;
  words: string;
}

/** A box of choices in a bar: the first of them says what it is about, and its name is there for those who do not see it. */
@Component({
  selector: 'glue-choice',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <select #box [attr.aria-label]="name()" (change)="chosen.emit(box.value)">
      @for (one of from(); track one.value) {
        <option [value]="one.value" [selected]="one.value === (value() ?? '')">{{ one.words }}</option>
      }
      @if (isOther()) {
        <option [value]="value()" selected>{{ value() }}</option>
      }
    </select>
  `,
  styles: `
    :host {
      display: contents;
    }
    // As wide as what is chosen.
    select {
      field-sizing: content;
      max-width: 220px;
    }
  `,
})
export class Choice {
  readonly name = input.required<string>();
  readonly from = input.required<readonly Option[]>();
  readonly value = input<string | null>();
  readonly chosen = output<string>();
  /** An address may ask for what is not there just now: the box says so. */
  protected readonly isOther = computed(
    () => !!this.value() && !this.from().some(({ value }) => value === this.value()),
  );
}

/** Words as choices, below one that means all of them. */
export function optionsOf(all: string, values: readonly string[]): Option[] {
  return [{ value: '', words: all }, ...values.map((value) => ({ value, words: value }))];
}
