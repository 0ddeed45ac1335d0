import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { HELP, type View, type ViewHelp } from './help';
import { SettingsStore } from './settings';

/** The keys of a view that are used most, below it. */
@Component({
  selector: 'glue-key-hints',
  changeDetection: ChangeDetectionStrategy.OnPush,
  host: { class: 'dim' },
  template: `
    @for (hint of hints(); track hint.words) {
      @for (key of hint.keys; track key) {
        <kbd>{{ key }}</kbd>&ngsp;
      }
      {{ hint.words }} ·
    }
    <kbd>?</kbd> help
  `,
  styles: `
    :host {
      display: block;
      margin: 6px 0 0;
    }
  `,
})
export class KeyHints {
  readonly view = input.required<View>();

  private readonly settings = inject(SettingsStore);
  protected readonly hints = computed(() => {
    const { hints = {} }: ViewHelp = HELP[this.view()];
    const isOff = this.settings.now().keys === 'off';
    return Object.entries(hints)
      .map(([keys, words]) => ({ keys: keys.split(' '), words }))
      .filter(({ keys }) => !isOff || !keys.some((key) => /^[a-z]$/.test(key)));
  });
}
