import { ChangeDetectionStrategy, Component, inject, input, viewChild } from '@angular/core';
import { Router } from '@angular/router';
import type { Hit } from '@glue-trace/core';
import { PiecePicker } from '../shared/piece-picker';

/** Finds any piece, and traces it. */
@Component({
  selector: 'glue-search',
  imports: [PiecePicker],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `<glue-piece-picker [project]="project()" key="/" (chosen)="trace($event)" />`,
  styles: `
    :host {
      flex: 0 1 300px;
      min-width: 180px;
      margin-left: auto;
    }
  `,
})
export class Search {
  readonly project = input.required<number>();
  private readonly router = inject(Router);
  private readonly picker = viewChild.required(PiecePicker);

  focus(): void {
    this.picker().focus();
  }

  protected trace(hit: Hit): void {
    void this.router.navigate(['/p', this.project(), 'trace'], { queryParams: { piece: hit.key } });
  }
}
