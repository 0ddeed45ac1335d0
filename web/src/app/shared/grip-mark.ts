import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import type { Grip } from '@glue-trace/core';

const STITCHES: Record<Grip, number> = { fixed: 4, path: 3, name: 2, built: 1, lost: 0 };
const WORDS: Record<Grip, string> = {
  fixed: 'fixed: holds by identity',
  path: 'path: holds while nothing is moved',
  name: 'name: holds while nothing is renamed',
  built: 'built: made up at run time',
  lost: 'lost: leads nowhere',
};

/** How firmly a link holds: a row of four short stitches, fewer the looser it is; a cut thread when it is lost. */
@Component({
  selector: 'glue-grip',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <svg [class]="grip()" viewBox="0 0 32 12" role="img" [attr.aria-label]="'grip ' + words()">
      <title>{{ words() }}</title>
      @if (grip() === 'lost') {
        <path d="M1 6h10M21 6h10M13 3l2 6M19 3l-2 6" stroke-width="1.6" />
      } @else {
        <path d="M1 6h30" stroke-width="1" opacity=".55" />
        @for (at of [0, 1, 2, 3]; track at) {
          @if (at < stitches()) {
            <path [attr.d]="'M' + (5 + at * 7) + ' 1.5l2 9'" stroke-width="2.2" />
          } @else {
            <circle [attr.cx]="6 + at * 7" cy="6" r="1" class="hole" />
          }
        }
      }
    </svg>
  `,
  styles: `
    svg {
      width: 32px;
      height: 12px;
      vertical-align: -1px;
      fill: none;
      stroke: currentColor;
      stroke-linecap: round;
    }
    .hole {
      fill: currentColor;
      stroke: none;
    }
    .fixed {
      color: var(--moss);
    }
    .path,
    .name {
      color: var(--ochre);
    }
    .built {
      color: var(--ink2);
    }
    .lost {
      color: var(--brick);
    }
  `,
})
export class GripMark {
  readonly grip = input.required<Grip>();
  protected readonly stitches = computed(() => STITCHES[this.grip()]);
  protected readonly words = computed(() => WORDS[this.grip()]);
}
