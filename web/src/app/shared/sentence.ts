import { ChangeDetectionStrategy, Component, input } from '@angular/core';
import type { FindingView } from '@glue-trace/core';

/** A sentence of a finding, names picked out. */
@Component({
  selector: 'glue-sentence',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `@for (run of runs(); track $index) {
    @if (isText(run)) {
      <span>{{ run }}</span>
    } @else {
      <b>{{ run.name }}</b>
    }
  }`,
  styles: `
    :host {
      overflow-wrap: anywhere;
    }
  `,
})
export class SentenceText {
  readonly runs = input.required<FindingView['sentence']>();

  protected isText(run: FindingView['sentence'][number]): run is string {
    return typeof run === 'string';
  }
}
