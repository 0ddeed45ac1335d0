import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatDialogModule } from '@angular/material/dialog';
import type { FolderListing } from '@glue-trace/server/api';
import { Api, troubleOf, type Trouble } from '../api';
import { TroubleBox } from '../shared/trouble';

/** Walks the folders of this machine that may be opened; closes with the folder chosen. */
@Component({
  selector: 'glue-folder-chooser',
  imports: [MatDialogModule, MatButtonModule, TroubleBox],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <h1 mat-dialog-title>Choose a folder</h1>
    <mat-dialog-content>
      <p class="starts">
        <span class="dim">Start from</span>
        @for (start of starts(); track start) {
          <button matButton (click)="go(start)">{{ start }}</button>
        }
      </p>
      @if (trouble(); as trouble) {
        <glue-trouble [trouble]="trouble" />
      }
      @if (listing(); as listing) {
        <p class="mono here">
          {{ listing.path }}
          @if (listing.hasPlan) {
            <span class="tag holds">has a plan</span>
          }
        </p>
        <ul>
          @if (listing.parent; as parent) {
            <li><button (click)="go(parent)">One folder up</button></li>
          }
          @for (folder of listing.folders; track folder.path) {
            <li>
              <button (click)="go(folder.path)">
                {{ folder.name }}
                @if (folder.hasPlan) {
                  <span class="tag holds">has a plan</span>
                }
              </button>
            </li>
          } @empty {
            <li class="dim">There are no folders in here.</li>
          }
        </ul>
      } @else if (!trouble()) {
        <p class="dim">Looking …</p>
      }
    </mat-dialog-content>
    <mat-dialog-actions align="end">
      <button matButton mat-dialog-close>Cancel</button>
      <button matButton="filled" [disabled]="!listing()" [mat-dialog-close]="listing()?.path">Open this folder</button>
    </mat-dialog-actions>
  `,
  styles: `
    .starts {
      display: flex;
      flex-wrap: wrap;
      align-items: center;
    }
    .here {
      font-weight: 600;
      overflow-wrap: anywhere;
    }
    ul {
      list-style: none;
      margin: 0;
      padding: 0;
      height: 320px;
      overflow: auto;
      border: 1px solid var(--line);
      border-radius: 6px;
    }
    li {
      padding: 2px;
    }
    li.dim {
      padding: 8px 10px;
    }
    li button {
      width: 100%;
      padding: 5px 10px;
      border: 0;
      border-radius: 4px;
      background: none;
      color: inherit;
      font: inherit;
      text-align: left;
      cursor: pointer;
    }
    li button:hover {
      background: var(--amber-bg);
    }
  `,
})
export class FolderChooser {
  private readonly api = inject(Api);
  protected readonly listing = signal<FolderListing | null>(null);
  protected readonly starts = signal<string[]>([]);
  protected readonly trouble = signal<Trouble | null>(null);

  constructor() {
    this.api.about().subscribe({
      next: ({ starts }) => this.starts.set(starts),
      error: (error: unknown) => this.trouble.set(troubleOf(error)),
    });
    this.go(undefined);
  }

  protected go(path: string | undefined): void {
    this.api.folders(path).subscribe({
      next: (listing) => {
        this.listing.set(listing);
        this.trouble.set(null);
      },
      error: (error: unknown) => this.trouble.set(troubleOf(error)),
    });
  }
}
