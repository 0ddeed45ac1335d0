import { itemAt } from '@glue-trace/core/browser';
import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import { RouterLink } from '@angular/router';
import type { PieceName, TraceLine } from '@glue-trace/core';
import { GripMark } from './grip-mark';

/**
 * A link as a line of text: grip mark, sentence, and where it is written.
 * Seen from one end, that end is not repeated: `subject` says which one is left out.
 */
@Component({
  selector: 'glue-link',
  imports: [GripMark, RouterLink],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <glue-grip [grip]="line().link.grip" />
    <span class="words">
      @if (subject() === 'to') {
        <a class="piece" [routerLink]="address()" [queryParams]="{ piece: line().from.key }">{{ fromName() }}</a>
        <span class="dim">&ngsp;{{ line().link.verb }} </span>
        @if (line().link.label) {
          <span class="dim">{{ line().link.label }}</span>
        }
        @if (line().placeCount > 1) {
          <span class="dim">· from {{ line().placeCount }} places</span>
        }
      } @else {
        @if (showsPlaces()) {
          <span
            >on <b>{{ places() }}</b>&ngsp;</span
          >
        }
        <span class="dim">{{ line().link.verb }} </span>
        @if (line().to; as to) {
          <a class="piece" [routerLink]="address()" [queryParams]="{ piece: to.key }" [title]="to.title">{{
            to.name
          }}</a>
          @if (line().targetCount > 1) {
            <span class="dim">&ngsp;×{{ line().targetCount }}</span>
          }
          @if (line().link.label && line().link.label !== to.name) {
            <span class="dim"> {{ label() }}</span>
          }
        } @else {
          <b>{{ line().link.label }}</b>
          <span class="lost"> — {{ why() }}</span>
        }
      }
    </span>
    <span class="where" [title]="line().link.file">{{ file() }}:{{ line().link.range.line }}</span>
  `,
  styles: `
    :host {
      display: grid;
      grid-template-columns: 34px minmax(0, 1fr) auto;
      gap: 8px;
      align-items: baseline;
    }
    .words {
      overflow-wrap: anywhere;
    }
    .piece {
      font-weight: 600;
      text-decoration: none;
    }
    .piece:hover {
      text-decoration: underline;
    }
    .where {
      color: var(--ink2);
      font:
        12px/18px ui-monospace,
        monospace;
      max-width: 22ch;
      overflow: hidden;
      text-overflow: ellipsis;
      white-space: nowrap;
    }
    .lost {
      color: var(--brick);
    }
  `,
})
export class LinkSentence {
  readonly line = input.required<TraceLine>();
  readonly project = input.required<number>();
  /** The end that the reader knows already. */
  readonly subject = input.required<'from' | 'to'>();
  /** Titles of the objects that the heading runs on, so that each line says on which it holds, in few words. */
  readonly runsOn = input<string[]>([]);

  protected readonly address = computed(() => ['/p', this.project(), 'trace']);
  protected readonly file = computed(() => this.line().link.file.split('/').pop());
  protected readonly fromName = computed(() => shortTitle(this.line().from));
  protected readonly showsPlaces = computed(() => this.runsOn().length > 0 && this.line().from.kind === 'part');
  protected readonly places = computed(() => {
    const { places, placeCount } = this.line();
    const names = [...new Set(places.map((place) => distinctName(place.title, this.runsOn())))].slice(0, 3);
    return names.join(', ') + (placeCount > names.length ? ` and ${placeCount - names.length} more` : '');
  });
  protected readonly label = computed(() => {
    const { label } = this.line().link;
    return this.line().link.verb === 'uses' && label ? `· ${label}` : label;
  });
  protected readonly why = computed(() => {
    const { loss } = this.line();
    if (!loss) return 'leads nowhere';
    if (loss.otherCapitals) return `written ${loss.otherCapitals} there`;
    return {
      file: 'no such file',
      part: 'not carried',
      label: 'no such label',
      package: 'no such package',
      member: 'no such field or function',
      function: 'no such function',
      object: loss.lastObject >= 0 ? 'no such child' : 'nothing of that name',
    }[loss.sought];
  });
}

/** The name that tells an object from the others: names at the end that all titles share are left out. */
export function distinctName(title: string, titles: string[]): string {
  const steps = title.split(' / ');
  const others = titles.map((other) => other.split(' / ')).filter((other) => other.join() !== steps.join());
  let shared = 0;
  while (
    shared < steps.length - 1 &&
    others.length > 0 &&
    others.every((other) => other.at(-1 - shared) === steps.at(-1 - shared))
  )
    shared++;
  return itemAt(steps, steps.length - 1 - shared);
}

/** The last two names of a title: enough to tell brothers apart. */
function shortTitle(piece: PieceName): string {
  return piece.title.split(' / ').slice(-2).join(' / ');
}
