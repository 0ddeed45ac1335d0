import { ChangeDetectionStrategy, Component, inject, input, signal, viewChild, type ElementRef } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { Router } from '@angular/router';
import type { Hit } from '@glue-trace/core';
import { catchError, debounceTime, of, Subject, switchMap } from 'rxjs';
import { Api } from '../api';

const PAUSE = 120;

/** Finds any piece by name, file or identity as you type. */
@Component({
  selector: 'glue-search',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="box">
      <input
        #box
        type="search"
        role="combobox"
        aria-label="Find a piece, file or event"
        placeholder="Find a piece, file or event"
        aria-controls="search-hits"
        [attr.aria-expanded]="isOpen()"
        [attr.aria-activedescendant]="isOpen() && hits().length > 0 ? 'hit-' + at() : null"
        autocomplete="off"
        (input)="type(box.value)"
        (focus)="type(box.value)"
        (blur)="isOpen.set(false)"
        (keydown)="key($event)"
      />
      <kbd aria-hidden="true">/</kbd>
    </div>
    @if (isOpen()) {
      <ul id="search-hits" role="listbox" aria-label="Pieces found">
        @for (hit of hits(); track hit.key) {
          <li
            role="option"
            [id]="'hit-' + $index"
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
      width: 300px;
      margin-left: auto;
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
    input {
      flex: 1;
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
      width: 460px;
      max-height: 420px;
      overflow: auto;
      margin: 0;
      padding: 4px;
      list-style: none;
      background: var(--surface);
      border: 1px solid var(--line);
      border-radius: 8px;
      box-shadow: 0 8px 24px rgb(0 0 0 / 0.18);
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
export class Search {
  readonly project = input.required<number>();
  private readonly api = inject(Api);
  private readonly router = inject(Router);
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

  protected key(event: KeyboardEvent): void {
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
    void this.router.navigate(['/p', this.project(), 'trace'], { queryParams: { piece: hit.key } });
  }
}
