import { leftOutWords, routeInWords, stopsToDraw, type BoxLook, type SheetShape } from '@glue-trace/core/browser';
import { ChangeDetectionStrategy, Component, computed, input, output } from '@angular/core';
import type { Stop, Stops } from '@glue-trace/core';
import { PieceSheet } from './piece-sheet';

/** What is told of a stop: words for its second line, and how it looks. */
export interface StopSaid {
  words: string;
  look: BoxLook;
}

/** Scenes as stops and what leads from one to another as ways, with something told of each: as a drawing, and as a list. */
@Component({
  selector: 'glue-route-drawing',
  imports: [PieceSheet],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <p class="dim">
      From left to right: scenes by how many loads it takes to come to them. The more broken a way, the weaker its grip.
      {{ leftOut() }}
    </p>
    <glue-piece-sheet
      [shape]="shape()"
      words="Scenes and the ways between them; the list below says the same"
      [name]="file()"
      (chosen)="chosen.emit($event)"
    />
    <details>
      <summary>The same in words</summary>
      <ul>
        @for (line of words(); track $index) {
          <li>{{ line }}</li>
        }
      </ul>
    </details>
  `,
  styles: `
    :host {
      display: block;
    }
    p {
      margin: 4px 0;
    }
    summary {
      cursor: pointer;
    }
    ul {
      margin: 4px 0;
      padding-left: 20px;
    }
  `,
})
export class RouteDrawing {
  readonly route = input.required<Stops>();
  readonly says = input.required<(stop: Stop) => StopSaid>();
  /** Name of the file in which it is saved, without its ending. */
  readonly file = input.required<string>();
  /** Key of a scene that was chosen. */
  readonly chosen = output<string>();

  private readonly drawn = computed(() => stopsToDraw(this.route()));
  protected readonly leftOut = computed(() => leftOutWords(this.drawn()));
  protected readonly words = computed(() => routeInWords(this.drawn(), (stop) => this.says()(stop).words));
  protected readonly shape = computed((): SheetShape => {
    const { stops, ways } = this.drawn();
    return {
      isInOrder: true,
      boxes: stops.map((stop) => {
        const { words, look } = this.says()(stop);
        const title = `${stop.title}${stop.steps === 0 ? ' (a beginning)' : ''}: ${words}`;
        return { key: stop.key, name: stop.title, title, under: words, look, column: stop.steps };
      }),
      lines: ways.map(({ from, to, grip }) => ({
        ...{ from, to, grip, count: 1 },
        words: `${stops[from]?.title} leads to ${stops[to]?.title}: ${grip}`,
      })),
    };
  });
}
