import { itemAt, must } from '@glue-trace/core/browser';
import {
  ChangeDetectionStrategy,
  Component,
  computed,
  DestroyRef,
  effect,
  inject,
  input,
  output,
  signal,
  viewChild,
  type ElementRef,
} from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import type { Neighbourhood } from '@glue-trace/core';
import { coloursOfTheme, savePng, saveSvg } from '../shared/picture';
import { createLayout, shortened, underName, type Sheet } from './layout';

/** How firmly a line is drawn: the weaker the grip, the more it is broken up. */
const DASHES: Record<string, string> = { fixed: '', path: '9 3', name: '4 4', built: '1.5 4', lost: '1 7' };

/** What stands around a piece, as a drawing that can be taken along. */
@Component({
  selector: 'glue-drawing',
  imports: [MatButtonModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="bar">
      <label>
        Hops
        <select #hopsBox (change)="asked.emit({ hops: +hopsBox.value, most: most() })">
          @for (one of [1, 2, 3, 4]; track one) {
            <option [value]="one" [selected]="one === hops()">{{ one }}</option>
          }
        </select>
      </label>
      <label>
        Pieces at most
        <select #mostBox (change)="asked.emit({ hops: hops(), most: +mostBox.value })">
          @for (one of [20, 40, 80, 200]; track one) {
            <option [value]="one" [selected]="one === most()">{{ one }}</option>
          }
        </select>
      </label>
      <button matButton="outlined" (click)="save('svg')" [disabled]="!sheet()">Save as SVG</button>
      <button matButton="outlined" (click)="save('png')" [disabled]="!sheet()">Save as PNG</button>
    </div>
    @if (around(); as around) {
      <p class="dim">
        {{ around.pieces.length }} {{ around.pieces.length === 1 ? 'piece' : 'pieces' }}, parts drawn with their
        objects.
        @if (around.leftOut > 0) {
          {{ around.leftOut }} more within {{ hops() }} {{ hops() === 1 ? 'hop' : 'hops' }} are left out.
        }
        Unbroken lines hold by identity; the more broken a line, the weaker its grip.
      </p>
      @if (sheet(); as sheet) {
        <div class="sheet" tabindex="0" aria-label="The drawing">
          <svg
            #svg
            xmlns="http://www.w3.org/2000/svg"
            [attr.width]="sheet.width"
            [attr.height]="sheet.height"
            [attr.viewBox]="'0 0 ' + sheet.width + ' ' + sheet.height"
            role="img"
            [attr.aria-label]="description()"
            font-family="system-ui, sans-serif"
            font-size="13"
          >
            <rect width="100%" height="100%" [attr.fill]="colours().ground" />
            <marker id="tip" viewBox="0 0 8 8" refX="7" refY="4" markerWidth="7" markerHeight="7" orient="auto">
              <path d="M0 0.5 L8 4 L0 7.5 Z" [attr.fill]="colours().dim" />
            </marker>
            @for (line of lines(); track $index) {
              <polyline
                [attr.points]="line.points"
                fill="none"
                [attr.stroke]="colours().dim"
                [attr.stroke-width]="line.width"
                [attr.stroke-dasharray]="line.dashes"
                marker-end="url(#tip)"
              >
                <title>{{ line.words }}</title>
              </polyline>
            }
            @for (box of boxes(); track box.key) {
              <g
                class="piece"
                role="button"
                tabindex="0"
                [attr.aria-label]="box.title"
                (click)="chosen.emit(box.key)"
                (keydown.enter)="chosen.emit(box.key)"
              >
                <title>{{ box.title }}</title>
                <rect
                  [attr.x]="box.x"
                  [attr.y]="box.y"
                  [attr.width]="box.width"
                  [attr.height]="box.height"
                  rx="5"
                  [attr.fill]="box.isMiddle ? colours().picked : colours().sheet"
                  [attr.stroke]="box.isMiddle ? colours().amber : colours().line"
                />
                <text [attr.x]="box.x + 9" [attr.y]="box.y + 16" [attr.fill]="colours().ink" font-weight="600">
                  {{ box.name }}
                </text>
                <text [attr.x]="box.x + 9" [attr.y]="box.y + 31" [attr.fill]="colours().dim" font-size="11">
                  {{ box.kind }}
                </text>
              </g>
            }
          </svg>
        </div>
      } @else if (failed()) {
        <p>The drawing could not be laid out. Ask for fewer pieces.</p>
      } @else {
        <p class="dim" role="status">Laying out …</p>
      }
    } @else {
      <p class="dim" role="status">Looking around …</p>
    }
  `,
  styles: `
    :host {
      display: block;
      margin: 6px 8px;
    }
    .bar {
      display: flex;
      flex-wrap: wrap;
      gap: 10px;
      align-items: center;
    }
    p {
      margin: 4px 0;
    }
    .sheet {
      max-height: 460px;
      overflow: auto;
      border: 1px solid var(--line);
      border-radius: 6px;
    }
    svg {
      display: block;
    }
    .piece {
      cursor: pointer;
    }
    .piece:hover rect,
    .piece:focus rect {
      stroke-width: 2;
    }
  `,
})
export class Drawing {
  readonly around = input.required<Neighbourhood | null>();
  readonly hops = input.required<number>();
  readonly most = input.required<number>();
  readonly asked = output<{ hops: number; most: number }>();
  /** Key of a piece that was chosen. */
  readonly chosen = output<string>();

  private readonly layout = createLayout();
  private readonly svg = viewChild<ElementRef<SVGSVGElement>>('svg');
  protected readonly sheet = signal<Sheet | null>(null);
  protected readonly failed = signal(false);

  protected readonly description = computed(() => {
    const around = this.around();
    return around ? `${itemAt(around.pieces, 0).title} with ${around.pieces.length - 1} pieces around it` : '';
  });
  protected readonly boxes = computed(() => {
    const [around, sheet] = [this.around(), this.sheet()];
    return around && sheet?.boxes.length === around.pieces.length
      ? around.pieces.map((piece, at) => ({
          ...itemAt(sheet.boxes, at),
          key: piece.key,
          title: `${piece.title} (${piece.kind})`,
          name: shortened(piece.name),
          kind: underName(piece, around),
          isMiddle: at === 0,
        }))
      : [];
  });
  protected readonly lines = computed(() => {
    const [around, sheet] = [this.around(), this.sheet()];
    return around && sheet?.lines.length === around.links.length
      ? around.links.map(({ from, to, verbs, grip, count }, at) => ({
          points: itemAt(sheet.lines, at)
            .map(({ x, y }) => `${x},${y}`)
            .join(' '),
          dashes: DASHES[grip],
          width: Math.min(4, 1.2 + Math.log2(count) * 0.5),
          words: `${itemAt(around.pieces, from).name} ${verbs.join(', ')} ${itemAt(around.pieces, to).name}: ${count} ${count === 1 ? 'link' : 'links'}, ${grip} at the weakest`,
        }))
      : [];
  });
  protected readonly colours = computed(() => {
    this.sheet();
    return coloursOfTheme();
  });

  constructor() {
    effect(() => {
      const around = this.around();
      this.sheet.set(null);
      this.failed.set(false);
      if (!around) return;
      this.layout.place(around).then(
        (sheet) => around === this.around() && this.sheet.set(sheet),
        () => this.failed.set(true),
      );
    });
    inject(DestroyRef).onDestroy(() => this.layout.end());
  }

  protected save(form: 'svg' | 'png'): void {
    const name = `around-${itemAt(must(this.around()).pieces, 0).name}`;
    (form === 'svg' ? saveSvg : savePng)(must(this.svg()).nativeElement, name);
  }
}
