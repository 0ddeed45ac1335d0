import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import { RouterLink } from '@angular/router';
import type { WireEnd } from '@glue-trace/core';
import { GripMark } from '../shared/grip-mark';

/** One end of an event: who, when, and where it is written. */
@Component({
  selector: 'glue-wire-end',
  imports: [GripMark, RouterLink],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <glue-grip [grip]="end().link.grip" />
    <span>
      <a
        [routerLink]="['/p', project(), 'trace']"
        [queryParams]="{ piece: end().piece.key }"
        [title]="end().piece.title"
        >{{ end().piece.name }}</a
      >
      <span class="dim">&ngsp;{{ facts() }}</span>
    </span>
  `,
  styles: `
    :host {
      display: grid;
      grid-template-columns: 34px minmax(0, 1fr);
      gap: 6px;
      align-items: baseline;
      overflow-wrap: anywhere;
    }
    a {
      font-weight: 600;
      text-decoration: none;
    }
    a:hover {
      text-decoration: underline;
    }
  `,
})
export class WireEndView {
  readonly end = input.required<WireEnd>();
  readonly project = input.required<number>();
  /** Name of the event, which is not said again. */
  readonly event = input.required<string>();

  protected readonly facts = computed(() => {
    const { link, objects } = this.end();
    const file = `${link.file.split('/').pop() ?? ''}:${link.range.line}`;
    return [
      link.label === this.event() ? '' : link.label,
      link.moment === 'unknown' ? '' : link.moment,
      link.side === 'unknown' ? '' : `${link.side} side`,
      objects > 1 ? `on ${objects} objects in scenes` : '',
      file,
    ]
      .filter(Boolean)
      .join(' · ');
  });
}
