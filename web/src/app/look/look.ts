import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { GripMark } from '../shared/grip-mark';
import { SettingsStore } from '../shared/settings';

/** What each colour is for. */
const COLOURS = [
  ['--paper', 'the ground of a page'],
  ['--surface', 'cards, bars and boxes to type in'],
  ['--well', 'code, notes, and what the pointer is on'],
  ['--line', 'lines between things'],
  ['--ink', 'text'],
  ['--ink2', 'text that matters less'],
  ['--amber', 'what can be pressed, and what is chosen'],
  ['--amber-bg', 'the ground of what is chosen'],
  ['--brick', 'errors'],
  ['--brick-bg', 'the ground of errors'],
  ['--ochre', 'warnings'],
  ['--ochre-bg', 'the ground of warnings'],
  ['--moss', 'what holds'],
  ['--moss-bg', 'the ground of what holds'],
  ['--code-word', 'words of a language in code'],
] as const;
const TYPE = ['--text-small', '--text-code', '--text', '--text-title', '--text-head'];
const SPACE = ['--space-1', '--space-2', '--space-3', '--space-4'];

/** All that the look is made of: whoever builds a view takes from here. */
@Component({
  selector: 'glue-look',
  imports: [GripMark, MatButtonModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <h1>The look</h1>
    <p class="dim">
      What views are made of, from <code>web/src/styles/_tokens.scss</code>. No view has a colour of its own.
    </p>
    <h2>Colours</h2>
    <ul class="colours">
      @for (one of colours(); track one.name) {
        <li>
          <span class="patch" [style.background]="one.value"></span>
          <span
            ><code>{{ one.name }}</code
            ><span class="dim">&ngsp;{{ one.value }}</span
            ><br />{{ one.words }}</span
          >
        </li>
      }
    </ul>
    <h2>Type</h2>
    @for (name of type; track name) {
      <p [style.font-size]="'var(' + name + ')'">
        <code>{{ name }}</code> Every reference ends somewhere
      </p>
    }
    <h2>Space</h2>
    @for (name of space; track name) {
      <p>
        <span class="bar" [style.width]="'var(' + name + ')'"></span>
        &ngsp;<code>{{ name }}</code>
      </p>
    }
    <h2>Pieces</h2>
    <p>
      <button matButton="filled">The one way on</button>
      &ngsp;<button matButton="outlined">Another way</button>
      <button matButton>A small one</button>
    </p>
    <p>
      <span class="tag error">error</span> <span class="tag warning">warning</span> <span class="tag">note</span>
      <span class="tag holds">holds</span>
    </p>
    <p>
      @for (grip of grips; track grip) {
        <glue-grip [grip]="grip" /> {{ grip }}&ngsp;
      }
    </p>
    <div class="card">A card</div>
  `,
  styles: `
    ul {
      display: grid;
      grid-template-columns: repeat(auto-fill, minmax(260px, 1fr));
      gap: var(--space-2);
      margin: 0;
      padding: 0;
      list-style: none;
    }
    li {
      display: flex;
      gap: var(--space-2);
    }
    .patch {
      flex: none;
      width: 44px;
      height: 44px;
      border: 1px solid var(--line);
      border-radius: var(--round);
      forced-color-adjust: none;
    }
    .bar {
      display: inline-block;
      height: 12px;
      background: var(--amber);
    }
  `,
})
export class Look {
  private readonly settings = inject(SettingsStore);
  protected readonly colours = computed(() => {
    // Other colours have other values.
    this.settings.now();
    const style = getComputedStyle(document.documentElement);
    return COLOURS.map(([name, words]) => ({ name, words, value: style.getPropertyValue(name).trim() }));
  });
  protected readonly type = TYPE;
  protected readonly space = SPACE;
  protected readonly grips = ['fixed', 'path', 'name', 'built', 'lost'] as const;
}
