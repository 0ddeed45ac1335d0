import { ChangeDetectionStrategy, Component, input } from '@angular/core';

/** What is being done, where its outcome will stand. */
@Component({
  selector: 'glue-waiting',
  changeDetection: ChangeDetectionStrategy.OnPush,
  host: { role: 'status', class: 'dim' },
  template: `{{ words() }} …`,
  styles: `
    :host {
      display: block;
      margin: 8px 0;
    }
  `,
})
export class Waiting {
  readonly words = input('Loading');
}
