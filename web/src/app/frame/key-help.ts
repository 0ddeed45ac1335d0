import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatDialogModule } from '@angular/material/dialog';
import { Router, RouterLink } from '@angular/router';
import { HELP, viewIn, type View } from '../shared/help';
import { GripMark } from '../shared/grip-mark';
import { SettingsStore } from '../shared/settings';
import { FirstVisit } from './first-visit';

/** Signs of stitches, as they stand before links. */
const GRIPS = [
  { grip: 'fixed', words: 'four stitches: it holds by identity' },
  { grip: 'path', words: 'three: by a place in the file or the tree' },
  { grip: 'name', words: 'two: by a name, a label or a type' },
  { grip: 'built', words: 'one: by a text made up at run time' },
  { grip: 'lost', words: 'a cut thread: it leads nowhere' },
] as const;

/** What the view that is open is for, its keys, where the guide says more; and the keys of all others. */
@Component({
  selector: 'glue-key-help',
  imports: [GripMark, MatDialogModule, MatButtonModule, RouterLink],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <h1 mat-dialog-title>{{ own.title }}</h1>
    <mat-dialog-content>
      <p>{{ own.words }}</p>
      <p>
        <a [routerLink]="['/docs', own.page]" mat-dialog-close>The guide says more</a>
        ·
        <button class="plain" mat-dialog-close (click)="visit.begin()">Show me around</button>
      </p>
      @if (isOff) {
        <p>Keys of one letter are switched off in the settings.</p>
      }
      <h2>Keys here</h2>
      <dl>
        @for (key of ownKeys; track key[0]) {
          <dt>
            <kbd>{{ key[0] }}</kbd>
          </dt>
          <dd>{{ key[1] }}</dd>
        }
        @if (hasList) {
          <dt><kbd>↓</kbd> <kbd>↑</kbd> <kbd>Home</kbd> <kbd>End</kbd></dt>
          <dd>the same while the focus is in the list, and its ends</dd>
        }
        @if (hasGrid) {
          <dt><kbd>↓</kbd> <kbd>↑</kbd> <kbd>←</kbd> <kbd>→</kbd></dt>
          <dd>from cell to cell of the grid</dd>
        }
        <dt><kbd>/</kbd></dt>
        <dd>search</dd>
        <dt><kbd>?</kbd></dt>
        <dd>this help</dd>
        <dt><kbd>Alt</kbd> <kbd>←</kbd></dt>
        <dd>back to where you were</dd>
        <dt><kbd>Esc</kbd></dt>
        <dd>close what is open on top</dd>
      </dl>
      <h2>The stitches before a link</h2>
      <dl>
        @for (one of grips; track one.grip) {
          <dt><glue-grip [grip]="one.grip" /></dt>
          <dd>{{ one.words }}</dd>
        }
      </dl>
      <details>
        <summary>Keys of the other views</summary>
        @for (view of others; track view.title) {
          <h2>{{ view.title }}</h2>
          <dl>
            @for (key of view.keys; track key[0]) {
              <dt>
                <kbd>{{ key[0] }}</kbd>
              </dt>
              <dd>{{ key[1] }}</dd>
            }
          </dl>
        }
      </details>
    </mat-dialog-content>
    <mat-dialog-actions align="end"><button matButton="filled" mat-dialog-close>Close</button></mat-dialog-actions>
  `,
  styles: `
    dl {
      display: grid;
      grid-template-columns: 90px 1fr;
      gap: 4px 12px;
      margin: 0;
    }
    dd {
      margin: 0;
    }
    .plain {
      text-decoration: underline;
    }
  `,
})
export class KeyHelp {
  private readonly view: View = viewIn(inject(Router).url);
  protected readonly visit = inject(FirstVisit);
  protected readonly own = HELP[this.view];
  protected readonly ownKeys = Object.entries(this.own.keys);
  protected readonly hasGrid = this.view === 'structure' || this.view === 'families';
  protected readonly hasList = 'j' in this.own.keys;
  protected readonly grips = GRIPS;
  protected readonly isOff = inject(SettingsStore).now().keys === 'off';
  protected readonly others = Object.entries(HELP)
    .filter(([view, { keys }]) => view !== this.view && Object.keys(keys).length > 0)
    .map(([, { title, keys }]) => ({ title, keys: Object.entries(keys) }));
}
