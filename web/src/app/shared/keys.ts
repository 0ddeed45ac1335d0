import { DestroyRef, inject, Injectable, signal } from '@angular/core';
import { HELP, type View } from './help';
import { SettingsStore } from './settings';

/** A key and what it does. Capital letters need Shift. */
export interface KeyBinding {
  key: string;
  does: string;
  run: () => void;
}

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

  private handle(event: KeyboardEvent): void {
    if (event.defaultPrevented || event.ctrlKey || event.altKey || event.metaKey || takesText(event.target)) return;
    // Enter belongs to the button or link that has the focus.
    if (event.key === 'Enter' && event.target instanceof Element && event.target.closest('a, button, [role=button]'))
      return;
    if (document.querySelector('.cdk-overlay-pane mat-dialog-container, .cdk-overlay-pane .mat-mdc-select-panel'))
      return;
    if (this.settings.now().keys === 'off' && event.key.length === 1) return;
    const binding = this.all().find(({ key }) => key === event.key);
    if (!binding) return;
    event.preventDefault();
    binding.run();
  }
}

function takesText(target: EventTarget | null): boolean {
  return (
    target instanceof HTMLElement && (target.isContentEditable || /^(INPUT|TEXTAREA|SELECT)$/.test(target.tagName))
  );
}
