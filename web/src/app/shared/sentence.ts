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
      <b>{{ short() ? shortened(run.name) : run.name }}</b>
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
  /** In lists: of a long way down the tree only the ends are shown. */
  readonly short = input(false);

  protected isText(run: FindingView['sentence'][number]): run is string {
    return typeof run === 'string';
  }

  protected shortened(name: string): string {
    return shortened(name);
  }
}

/** `Upper Flight / Boats / Tender 2 / Stern` → `Upper Flight / … / Stern`. */
function shortened(name: string): string {
  const steps = name.split(' / ');
  return steps.length <= 3 ? name : `${steps[0]} / … / ${steps.slice(-2).join(' / ')}`;
}
