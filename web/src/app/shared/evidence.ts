import {
  afterRenderEffect,
  ChangeDetectionStrategy,
  Component,
  computed,
  inject,
  input,
  signal,
  viewChild,
  type ElementRef,
} from '@angular/core';
import type { ExcerptView } from '@glue-trace/server/api';
import { Store } from '@ngrx/store';
import { projectsFeature } from '../projects/projects.state';
import { colouredLines, cutAt, type Run } from './code-colours';
import { editorAddress, SettingsStore } from './settings';

interface ShownLine {
  /** 0 for a row that is left empty. */
  number: number;
  isHit: boolean;
  before: Run[];
  marked: Run[];
  after: Run[];
}

/** Room in pixels to the right of a place that was scrolled into view. */
const ROOM = 40;

/** Lines of a file with the place concerned picked out. */
@Component({
  selector: 'glue-evidence',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="head">
      <span class="mono file">{{ excerpt().file }}</span>
      <span class="ways">
        @if (inEditor(); as address) {
          <a [href]="address">open</a>
        }
        <button class="plain" (click)="copy()" [title]="'Copy ' + place()">
          {{ isCopied() ? 'copied' : 'copy ' + lineWords() }}
        </button>
      </span>
      @if (shows()) {
        <span class="dim">{{ shows() }}</span>
      }
    </div>
    @if (excerpt().isChanged) {
      <p class="changed">This file has changed since the scan; lines may have moved. Scan again to be sure.</p>
    }
    <pre
      #box
      tabindex="0"
      [attr.aria-label]="'Lines of ' + excerpt().file"
    >@for (line of lines(); track $index) {<span class="line" [class.hit]="line.isHit" [class.gap]="!line.number"><span class="number">{{ line.number || '' }}</span>@for (run of line.before; track $index) {<span [class]="run.hue">{{ run.text }}</span>}@if (line.marked.length > 0) {<mark>@for (run of line.marked; track $index) {<span [class]="run.hue">{{ run.text }}</span>}</mark>}@for (run of line.after; track $index) {<span [class]="run.hue">{{ run.text }}</span>}
</span>}</pre>
  `,
  styles: `
    .head {
      display: flex;
      flex-wrap: wrap;
      gap: 0 8px;
      align-items: baseline;
    }
    .file {
      font-weight: 600;
      overflow-wrap: anywhere;
    }
    .ways {
      display: inline-flex;
      gap: 8px;
      order: 1;
      margin-left: auto;
      color: var(--ink2);
      font-size: 12px;
      > * {
        min-height: 24px;
        line-height: 24px;
        text-decoration: underline;
      }
    }
    .changed {
      margin: 4px 0;
      color: var(--ochre);
    }
    :host {
      display: block;
    }
    pre {
      position: relative;
      margin: 4px 0 10px;
      padding: 6px 0;
      background: var(--well);
      border-radius: 6px;
      font:
        12.5px/19px ui-monospace,
        Menlo,
        Consolas,
        'DejaVu Sans Mono',
        monospace;
      overflow-x: auto;
    }
    .line {
      display: block;
      width: max-content;
      min-width: 100%;
      padding: 0 10px 0 0;
      background: var(--well);
    }
    .hit {
      background: var(--amber-bg);
    }
    .gap {
      background: repeating-linear-gradient(135deg, var(--line) 0 1px, transparent 1px 7px);
    }
    .number {
      display: inline-block;
      min-width: 4ch;
      padding: 0 10px 0 0;
      text-align: right;
      position: sticky;
      left: 0;
      background: inherit;
      color: var(--ink2);
      user-select: none;
    }
    mark {
      background: none;
      color: inherit;
      font-weight: 700;
      border-bottom: 2px solid var(--amber);
    }
    .word {
      color: var(--code-word);
    }
    .text {
      color: var(--moss);
    }
    .figure {
      color: var(--ochre);
    }
    .remark {
      color: var(--ink2);
      font-style: italic;
    }
  `,
})
export class Evidence {
  readonly excerpt = input.required<ExcerptView>();
  /** What this place shows, e.g. `the look-up`. */
  readonly shows = input('');
  /** Columns to underline when the place is on one line; 1-based, end exclusive. */
  readonly columns = input<{ column: number; endColumn: number } | null>(null);

  /** Lines to pick out, when it is not the whole place. */
  readonly picked = input<readonly number[] | null>(null);
  /** Rows left empty before a line, so that the lines after it stand beside those of another excerpt. */
  readonly gaps = input<ReadonlyMap<number, number> | null>(null);

  private readonly settings = inject(SettingsStore);
  private readonly folder = inject(Store).selectSignal(projectsFeature.selectProject);
  /** The place that was copied last. */
  private readonly copied = signal('');
  protected readonly place = computed(() => `${this.excerpt().file}:${this.excerpt().from}`);
  protected readonly isCopied = computed(() => this.copied() === this.place());
  protected readonly lineWords = computed(() => `:${this.excerpt().from}`);
  protected readonly inEditor = computed(() => {
    const folder = this.folder()?.folder;
    const { file, from } = this.excerpt();
    return folder === undefined ? null : editorAddress(this.settings.now().editor, `${folder}/${file}`, from);
  });
  private readonly box = viewChild<ElementRef<HTMLElement>>('box');

  constructor() {
    // A place far to the right is scrolled into view; the page around it stays where it is.
    afterRenderEffect(() => {
      this.lines();
      const box = this.box()?.nativeElement;
      const mark = box?.querySelector<HTMLElement>('mark');
      if (box && mark) box.scrollLeft = Math.max(0, mark.offsetLeft + mark.offsetWidth - box.clientWidth + ROOM);
    });
  }

  protected copy(): void {
    const place = this.place();
    void navigator.clipboard.writeText(place).then(() => this.copied.set(place));
  }

  protected readonly lines = computed(() => {
    const { firstLine, lines, from, to } = this.excerpt();
    const columns = from === to ? this.columns() : null;
    const [picked, gaps] = [this.picked(), this.gaps()];
    const gap: ShownLine = { number: 0, isHit: false, before: [], marked: [], after: [] };
    const shown = colouredLines(this.excerpt().file, lines).map((runs, at): ShownLine => {
      const number = firstLine + at;
      const isHit = picked ? picked.includes(number) : number >= from && number <= to;
      if (!isHit || !columns || columns.endColumn <= columns.column)
        return { number, isHit, before: runs, marked: [], after: [] };
      return { number, isHit, ...cutAt(runs, columns.column - 1, columns.endColumn - 1) };
    });
    return gaps ? shown.flatMap((line) => [...Array<ShownLine>(gaps.get(line.number) ?? 0).fill(gap), line]) : shown;
  });
}
