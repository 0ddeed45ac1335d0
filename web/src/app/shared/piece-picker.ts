import {
  ChangeDetectionStrategy,
  Component,
  inject,
  input,
  output,
  signal,
  viewChild,
  type ElementRef,
} from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import type { Hit } from '@glue-trace/core';
import { catchError, debounceTime, of, Subject, switchMap } from 'rxjs';
import { Api } from '../api';

const PAUSE = 120;

let count = 0;

/** Finds any piece by name, file, identity or kind as you type, and gives the one that is chosen. */
@Component({
  selector: 'glue-piece-picker',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="box">
      <input
        #box
        type="search"
        role="combobox"
        [attr.aria-label]="words()"
        [placeholder]="words()"
        [attr.aria-controls]="id"
        [attr.aria-expanded]="isOpen()"
        [attr.aria-activedescendant]="isOpen() && hits().length > 0 ? id + at() : null"
        autocomplete="off"
        (input)="type(box.value)"
        (focus)="type(box.value)"
        (blur)="isOpen.set(false)"
        (keydown)="press($event)"
      />
      @if (key()) {
        <kbd aria-hidden="true">{{ key() }}</kbd>
      }
    </div>
    @if (isOpen()) {
      <ul [id]="id" role="listbox" aria-label="Pieces found">
        @for (hit of hits(); track hit.key) {
          <li
            role="option"
            [id]="id + $index"
            [class.on]="$index === at()"
            [attr.aria-selected]="$index === at()"
            (mousedown)="$event.preventDefault(); go(hit)"
          >
            <b>{{ hit.title }}</b> <span class="tag">{{ hit.kind }}</span>
            <span class="file">{{ hit.file }}</span>
          </li>
        } @empty {
          <li class="none">{{ isUnknown() ? 'The project has not been scanned.' : 'Nothing has this name.' }}</li>
        }
      </ul>
    }
  `,
  styles: `
    :host {
      position: relative;
      display: block;
    }
    .box {
      display: flex;
      align-items: center;
      border: 1px solid var(--line);
      border-radius: 6px;
      padding: 4px 8px;
      background: var(--paper);
    }
    .box:focus-within {
      border-color: var(--amber);
    }
    // The box has the frame, for the sign in it as well.
    .box input[type='search'] {
      flex: 1;
      padding: 0;
      min-width: 0;
      border: 0;
      outline: 0;
      background: none;
      color: inherit;
      font: inherit;
    }
    input::placeholder {
      color: var(--ink2);
      opacity: 1;
    }
    ul {
      position: absolute;
      z-index: 10;
      top: calc(100% + 4px);
      right: 0;
      width: min(460px, 92vw);
      max-height: 420px;
      overflow: auto;
      margin: 0;
      padding: 4px;
      list-style: none;
      background: var(--surface);
      border: 1px solid var(--line);
      border-radius: 8px;
      box-shadow: var(--shadow);
    }
    li {
      padding: 4px 8px;
      border-radius: 6px;
      cursor: pointer;
      overflow-wrap: anywhere;
    }
    li.on {
      background: var(--amber-bg);
    }
    .file {
      display: block;
      color: var(--ink2);
      font:
        12px/16px ui-monospace,
        monospace;
    }
    .none {
      color: var(--ink2);
      cursor: default;
    }
  `,
})
export class PiecePicker {
  readonly project = input.required<number>();
  /** What is asked for. */
  readonly words = input('Find a piece, file or event');
  /** The key that leads here, shown in the box. */
  readonly key = input('');
  readonly chosen = output<Hit>();
  protected readonly id = `piece-hits-${++count}-`;
  private readonly api = inject(Api);
  private readonly box = viewChild.required<ElementRef<HTMLInputElement>>('box');
  private readonly typed = new Subject<string>();

  protected readonly hits = signal<Hit[]>([]);
  protected readonly at = signal(0);
  protected readonly isOpen = signal(false);
  protected readonly isUnknown = signal(false);

  constructor() {
    this.typed
      .pipe(
        debounceTime(PAUSE),
        switchMap((text) =>
          text.trim() ? this.api.search(this.project(), text).pipe(catchError(() => of(null))) : of(undefined),
        ),
        takeUntilDestroyed(),
      )
      .subscribe((hits) => {
        this.hits.set(hits ?? []);
        this.at.set(0);
        this.isUnknown.set(hits === null);
        this.isOpen.set(hits !== undefined && document.activeElement === this.box().nativeElement);
      });
  }

  focus(): void {
    this.box().nativeElement.focus();
    this.box().nativeElement.select();
  }

  protected type(text: string): void {
    this.typed.next(text);
  }

  protected press(event: KeyboardEvent): void {
    if (event.key === 'ArrowDown' || event.key === 'ArrowUp') {
      event.preventDefault();
      const count = this.hits().length;
      if (count > 0) this.at.update((at) => (at + (event.key === 'ArrowDown' ? 1 : count - 1)) % count);
    } else if (event.key === 'Enter') {
      const hit = this.hits()[this.at()];
      if (hit) this.go(hit);
    } else if (event.key === 'Escape') {
      this.isOpen.set(false);
      this.box().nativeElement.blur();
    }
  }

  protected go(hit: Hit): void {
    this.isOpen.set(false);
    this.box().nativeElement.blur();
    this.chosen.emit(hit);
  }
}
