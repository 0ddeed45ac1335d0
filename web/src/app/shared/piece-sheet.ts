import { itemAt, must, type BoxLook, type SheetShape } from '@glue-trace/core/browser';
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
import { coloursOfTheme, savePng, saveSvg } from './picture';
import { createLayout, shortened, type Sheet } from './sheet-layout';
import { Waiting } from './waiting';

/** How firmly a line is drawn: the weaker the grip, the more it is broken up. */
const DASHES: Record<string, string> = { fixed: '', path: '9 3', name: '4 4', built: '1.5 4', lost: '1 7' };

/** Pieces as boxes with the lines between them: a drawing that can be taken along. What it says stands beside it as text. */
@Component({
  selector: 'glue-piece-sheet',
  imports: [MatButtonModule, Waiting],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <p class="bar">
      <ng-content />
      <button matButton="outlined" class="small" (click)="save('svg')" [disabled]="!sheet()">Save as SVG</button>
      <button matButton="outlined" class="small" (click)="save('png')" [disabled]="!sheet()">Save as PNG</button>
    </p>
    @if (sheet(); as sheet) {
      <div class="sheet" tabindex="0" role="group" aria-label="The drawing">
        <svg
          #svg
          xmlns="http://www.w3.org/2000/svg"
          [attr.width]="sheet.width"
          [attr.height]="sheet.height"
          [attr.viewBox]="'0 0 ' + sheet.width + ' ' + sheet.height"
          role="group"
          [attr.aria-label]="words()"
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
          @for (box of boxes(); track $index) {
            <g
              class="piece"
              [class.fixed]="!box.key"
              [attr.role]="box.key ? 'button' : null"
              [attr.tabindex]="box.key ? 0 : null"
              [attr.aria-label]="box.short + ' ' + box.under + ': ' + box.title"
              (click)="choose(box.key)"
              (keydown.enter)="choose(box.key)"
            >
              <title>{{ box.title }}</title>
              <rect
                [attr.x]="box.x"
                [attr.y]="box.y"
                [attr.width]="box.width"
                [attr.height]="box.height"
                rx="5"
                [attr.fill]="box.fill"
                [attr.stroke]="box.stroke"
              />
              <text [attr.x]="box.x + 9" [attr.y]="box.y + 16" [attr.fill]="colours().ink" font-weight="600">
                {{ box.short }}
              </text>
              <text [attr.x]="box.x + 9" [attr.y]="box.y + 31" [attr.fill]="colours().dim" font-size="11">
                {{ box.under }}
              </text>
            </g>
          }
        </svg>
      </div>
    } @else if (failed()) {
      <p>The drawing could not be laid out: there is too much on it. The list says the same.</p>
    } @else {
      <glue-waiting words="Laying out" />
    }
  `,
  styles: `
    :host {
      display: block;
    }
    .bar {
      display: flex;
      flex-wrap: wrap;
      gap: 10px;
      align-items: center;
      margin: 4px 0;
    }
    .sheet {
      max-height: 460px;
      overflow: auto;
      border: 1px solid var(--line);
      border-radius: 6px;
      background: var(--paper);
    }
    svg {
      display: block;
    }
    .piece {
      cursor: pointer;
    }
    .piece.fixed {
      cursor: default;
    }
    .piece:hover rect,
    .piece:focus rect {
      stroke-width: 2;
    }
  `,
})
export class PieceSheet {
  readonly shape = input.required<SheetShape>();
  /** What it shows, for those who do not see it. */
  readonly words = input.required<string>();
  /** Name of a file that it is saved as, without its ending. */
  readonly name = input.required<string>();
  /** Key of a piece that was chosen. */
  readonly chosen = output<string>();

  private readonly layout = createLayout();
  private readonly svg = viewChild<ElementRef<SVGSVGElement>>('svg');
  protected readonly sheet = signal<Sheet | null>(null);
  protected readonly failed = signal(false);
  protected readonly boxes = computed(() => {
    const [{ boxes }, sheet, colours] = [this.shape(), this.sheet(), this.colours()];
    if (sheet?.boxes.length !== boxes.length) return [];
    const looks: Record<BoxLook, { fill: string; stroke: string }> = {
      about: { fill: colours.picked, stroke: colours.amber },
      error: { fill: colours.brickGround, stroke: colours.brick },
      warning: { fill: colours.ochreGround, stroke: colours.ochre },
      good: { fill: colours.mossGround, stroke: colours.moss },
      plain: { fill: colours.sheet, stroke: colours.line },
    };
    return boxes.map((box, at) => ({
      ...{ ...box, ...itemAt(sheet.boxes, at), short: shortened(box.name) },
      ...looks[box.look ?? 'plain'],
    }));
  });
  protected readonly lines = computed(() => {
    const [{ lines }, sheet] = [this.shape(), this.sheet()];
    return sheet?.lines.length === lines.length
      ? lines.map(({ words, grip, count }, at) => ({
          points: itemAt(sheet.lines, at)
            .map(({ x, y }) => `${x},${y}`)
            .join(' '),
          dashes: DASHES[grip],
          width: Math.min(4, 1.2 + Math.log2(count) * 0.5),
          words,
        }))
      : [];
  });
  protected readonly colours = computed(() => {
    this.sheet();
    return coloursOfTheme();
  });

  constructor() {
    effect(() => {
      const shape = this.shape();
      this.sheet.set(null);
      this.failed.set(false);
      this.layout.place(shape).then(
        (sheet) => shape === this.shape() && this.sheet.set(sheet),
        () => this.failed.set(true),
      );
    });
    inject(DestroyRef).onDestroy(() => this.layout.end());
  }

  protected choose(key: string): void {
    if (key) this.chosen.emit(key);
  }

  protected save(form: 'svg' | 'png'): void {
    (form === 'svg' ? saveSvg : savePng)(must(this.svg()).nativeElement, this.name());
  }
}
