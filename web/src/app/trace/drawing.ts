import { itemAt, type SheetShape } from '@glue-trace/core/browser';
import { ChangeDetectionStrategy, Component, computed, input, output } from '@angular/core';
import type { DrawnPiece, Neighbourhood } from '@glue-trace/core';
import { distinctName } from '../shared/link-sentence';
import { PieceSheet } from '../shared/piece-sheet';
import { shortened } from '../shared/sheet-layout';
import { Waiting } from '../shared/waiting';

/** What stands around a piece, as a drawing that can be taken along. */
@Component({
  selector: 'glue-drawing',
  imports: [PieceSheet, Waiting],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (around(); as around) {
      <p class="dim">
        {{ around.pieces.length }} {{ around.pieces.length === 1 ? 'piece' : 'pieces' }}, parts drawn with their
        objects.
        @if (around.leftOut > 0) {
          {{ around.leftOut }} more within {{ hops() }} {{ hops() === 1 ? 'hop' : 'hops' }} are left out.
        }
        Unbroken lines hold by identity; the more broken a line, the weaker its grip.
      </p>
      <glue-piece-sheet [shape]="shape()" [words]="description()" [name]="file()" (chosen)="chosen.emit($event)">
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
      </glue-piece-sheet>
    } @else {
      <glue-waiting words="Looking around" />
    }
  `,
  styles: `
    :host {
      display: block;
      margin: 6px 8px;
    }
    p {
      margin: 4px 0;
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

  protected readonly shape = computed((): SheetShape => {
    const around = this.around() ?? { pieces: [], links: [], leftOut: 0 };
    return {
      isInOrder: false,
      boxes: around.pieces.map((piece, at) => ({
        look: at === 0 ? 'about' : 'plain',
        key: piece.key,
        name: piece.name,
        title: `${piece.title} (${piece.kind})`,
        under: underName(piece, around),
      })),
      lines: around.links.map(({ from, to, verbs, grip, count }) => ({
        ...{ from, to, grip, count },
        words: `${itemAt(around.pieces, from).name} ${verbs.join(', ')} ${itemAt(around.pieces, to).name}: ${count} ${count === 1 ? 'link' : 'links'}, ${grip} at the weakest`,
      })),
    };
  });
  protected readonly description = computed(() => {
    const around = this.around();
    return around ? `${itemAt(around.pieces, 0).title} with ${around.pieces.length - 1} pieces around it` : '';
  });
  protected readonly file = computed(() => `around-${this.around()?.pieces[0]?.name ?? ''}`);
}

/** What stands under a piece's name: its kind, what tells it from others of that name, how much is not drawn. */
function underName(piece: DrawnPiece, { pieces }: Neighbourhood): string {
  const { kind, name, title, key, leftOut, hops } = piece;
  const others = pieces.filter((other) => other.name === name && other.key !== key).map((other) => other.title);
  const word = others.length > 0 ? distinctName(title, others) : name;
  return [kind, word !== name && shortened(word), leftOut > 0 && hops > 0 && `+${leftOut}`].filter(Boolean).join(' · ');
}
