import { DestroyRef, inject, Injectable, signal } from '@angular/core';
import { HELP, type View } from './help';
import { SettingsStore } from './settings';

/** A key and what it does. Capital letters need Shift. */
export interface KeyBinding {
  key: string;
  does: string;
  run: () => void;
  /** Only while the focus is in a list, marked by `data-list`: elsewhere the key scrolls. */
  inList?: true;
}

/** Views whose main part is a list. */
type ListView = { [Of in View]: (typeof HELP)[Of]['keys'] extends { j: string; k: string } ? Of : never }[View];

/** Keys of the whole application: the frame's own, and those of the view that is open. */
@Injectable({ providedIn: 'root' })
export class Keys {
  private readonly settings = inject(SettingsStore);
  private readonly layers = signal<KeyBinding[][]>([]);

  constructor() {
    document.addEventListener('keydown', (event) => this.handle(event));
  }

  /** All keys in force, the view's first. */
  all(): KeyBinding[] {
    return [...this.layers()].reverse().flat();
  }

  /** Puts keys in force until the component that asked for them goes. */
  bind(bindings: KeyBinding[]): void {
    this.layers.update((layers) => [...layers, bindings]);
    inject(DestroyRef).onDestroy(() => this.layers.update((layers) => layers.filter((layer) => layer !== bindings)));
  }

  /** The same for the keys of a view, as its help tells them. */
  bindFor<Of extends View>(view: Of, runs: Partial<Record<keyof (typeof HELP)[Of]['keys'], () => void>>): void {
    const words: Readonly<Record<string, string>> = HELP[view].keys;
    this.bind(
      Object.entries(runs as Record<string, () => void>).map(([key, run]) => ({ key, does: words[key] ?? '', run })),
    );
  }

  /**
   * The keys that go through the list of a view: its letters anywhere, arrows, Home and End while the focus is in it.
   * @param move by so many rows, at most to the first or last
   */
  bindList<Of extends ListView>(view: Of, move: (by: number) => void): void {
    const { j, k } = HELP[view].keys;
    this.bind([
      { key: 'j', does: j, run: () => move(1) },
      { key: 'k', does: k, run: () => move(-1) },
      { key: 'ArrowDown', does: j, run: () => move(1), inList: true },
      { key: 'ArrowUp', does: k, run: () => move(-1), inList: true },
      { key: 'Home', does: 'first of the list', run: () => move(-Infinity), inList: true },
      { key: 'End', does: 'last of the list', run: () => move(Infinity), inList: true },
    ]);
  }

  private handle(event: KeyboardEvent): void {
    if (event.defaultPrevented || event.ctrlKey || event.altKey || event.metaKey || takesText(event.target)) return;
    // Enter belongs to the button or link that has the focus.
    if (event.key === 'Enter' && event.target instanceof Element && event.target.closest('a, button, [role=button]'))
      return;
    if (document.querySelector('.cdk-overlay-pane mat-dialog-container, .cdk-overlay-pane .mat-mdc-select-panel'))
      return;
    if (this.settings.now().keys === 'off' && event.key.length === 1) return;
    const list = event.target instanceof Element ? event.target.closest<HTMLElement>('[data-list]') : null;
    const binding = this.all().find(({ key, inList }) => key === event.key && (!inList || list !== null));
    if (!binding) return;
    event.preventDefault();
    binding.run();
    // What stands in a row may go with it, and the focus with that.
    if (binding.inList) list?.focus({ preventScroll: true });
  }
}

/** Whether keys write there. */
export function takesText(target: EventTarget | null): boolean {
  return (
    target instanceof HTMLElement && (target.isContentEditable || /^(INPUT|TEXTAREA|SELECT)$/.test(target.tagName))
  );
}
