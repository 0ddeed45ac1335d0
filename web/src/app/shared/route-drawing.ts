import { routeInWords, routeLayout } from '@glue-trace/core/browser';
import { ChangeDetectionStrategy, Component, computed, input, output, viewChild, type ElementRef } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import type { Stop, Stops } from '@glue-trace/core';
import { coloursOfTheme, savePng, saveSvg } from './picture';

/** What is told of a stop: words for its second line, and how it looks. */
export interface StopSaid {
  words: string;
  look: 'error' | 'warning' | 'good' | 'plain';
}

/** Scenes as stops and what leads from one to another as ways, with something told of each: as a drawing, and as a list. */
@Component({
  selector: 'glue-route-drawing',
  imports: [MatButtonModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @let drawn = layout();
    <div class="sheet" tabindex="0" aria-label="The drawing">
      <svg
        #svg
        xmlns="http://www.w3.org/2000/svg"
        [attr.width]="drawn.width"
        [attr.height]="drawn.height"
        [attr.viewBox]="'0 0 ' + drawn.width + ' ' + drawn.height"
        role="img"
        aria-label="Scenes and the ways between them; the list below says the same"
        font-family="system-ui, sans-serif"
        font-size="12"
      >
        <rect width="100%" height="100%" [attr.fill]="colours().ground" />
        <marker id="there" viewBox="0 0 8 8" refX="7" refY="4" markerWidth="7" markerHeight="7" orient="auto">
          <path d="M0 0.5 L8 4 L0 7.5 Z" [attr.fill]="colours().dim" />
        </marker>
        @for (way of drawn.ways; track $index) {
          <path
            [attr.d]="way.line"
            fill="none"
            [attr.stroke]="colours().dim"
            stroke-width="1.3"
            [attr.stroke-dasharray]="way.isBack ? '4 4' : null"
            marker-end="url(#there)"
          >
            <title>{{ way.from.title }} leads to {{ way.to.title }}</title>
          </path>
        }
        @for (box of boxes(); track box.stop.key) {
          <g class="stop" (click)="chosen.emit(box.stop.key)">
            <title>{{ box.stop.title }}: {{ box.said.words }}</title>
            <rect
              [attr.x]="box.x"
              [attr.y]="box.y"
              [attr.width]="box.width"
              [attr.height]="box.height"
              rx="4"
              [attr.fill]="box.fill"
              [attr.stroke]="box.stroke"
              [attr.stroke-width]="box.stop.steps === 0 ? 2 : 1"
            />
            <text [attr.x]="box.x + 9" [attr.y]="box.y + 18" [attr.fill]="colours().ink" font-weight="600">
              {{ box.title }}
            </text>
            <text [attr.x]="box.x + 9" [attr.y]="box.y + 35" [attr.fill]="colours().dim">{{ box.said.words }}</text>
          </g>
        }
      </svg>
    </div>
    <div class="under">
      <span class="dim"
        >From left to right: scenes by how many loads it takes to come to them.
        @if (drawn.apart > 0) {
          To or from {{ drawn.apart }} more the map knows no way.
        }
        @if (drawn.more > 0) {
          {{ drawn.more }} more are not drawn.
        }
      </span>
      <button matButton="outlined" (click)="save('svg')">Save as SVG</button>
      <button matButton="outlined" (click)="save('png')">Save as PNG</button>
    </div>
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
    .sheet {
      overflow: auto;
      max-height: 420px;
      border: 1px solid var(--line);
      border-radius: 6px;
      padding: 8px;
      background: var(--paper);
    }
    svg {
      display: block;
    }
    .stop {
      cursor: pointer;
    }
    .stop:hover rect {
      stroke-width: 2;
    }
    .under {
      display: flex;
      flex-wrap: wrap;
      gap: 6px 10px;
      align-items: center;
      margin: 6px 0;
      span {
        flex: 1;
        min-width: 200px;
      }
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

  private readonly svg = viewChild.required<ElementRef<SVGSVGElement>>('svg');
  protected readonly layout = computed(() => routeLayout(this.route(), this.route().ways.length === 0));
  protected readonly words = computed(() => routeInWords(this.layout(), (stop) => this.says()(stop).words));
  protected readonly colours = computed(() => {
    this.route();
    return coloursOfTheme();
  });
  protected readonly boxes = computed(() => {
    const colours = this.colours();
    const looks = {
      error: { fill: colours.brickGround, stroke: colours.brick },
      warning: { fill: colours.ochreGround, stroke: colours.ochre },
      good: { fill: colours.mossGround, stroke: colours.moss },
      plain: { fill: colours.sheet, stroke: colours.line },
    };
    return this.layout().boxes.map((box) => {
      const said = this.says()(box.stop);
      return { ...box, said, ...looks[said.look] };
    });
  });

  protected save(form: 'svg' | 'png'): void {
    (form === 'svg' ? saveSvg : savePng)(this.svg().nativeElement, this.file());
  }
}
