import { ChangeDetectionStrategy, Component, effect, inject, input } from '@angular/core';
import { MatDialog } from '@angular/material/dialog';
import { Store } from '@ngrx/store';
import { projectsFeature } from '../projects/projects.state';
import { RoutesDialog } from './routes-dialog';
import { routeActions, routeFeature } from './route.state';

/** The value that opens the dialog instead of choosing a route; no route can be called so. */
const EDIT = '\n';

/** Says for what the views speak: the whole project, or what a play test can reach. */
@Component({
  selector: 'glue-route-switch',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <label>
      <span class="dim">for</span>
      <select #box (change)="choose(box)" aria-label="What the views speak for">
        <option value="" [selected]="!state().chosen">the whole project</option>
        @for (route of state().routes; track route.name) {
          <option [value]="route.name" [selected]="state().chosen === route.name">
            {{ route.isDefault ? 'the way from the start' : 'route: ' + route.name }}
          </option>
        }
        <option [value]="edit">routes …</option>
      </select>
    </label>
  `,
  styles: `
    label {
      display: flex;
      gap: 6px;
      align-items: center;
    }
    select {
      max-width: 230px;
    }
  `,
})
export class RouteSwitch {
  readonly project = input.required<number>();
  private readonly store = inject(Store);
  private readonly dialog = inject(MatDialog);
  protected readonly state = this.store.selectSignal(routeFeature.selectRouteState);
  private readonly scansSeen = this.store.selectSignal(projectsFeature.selectScansSeen);
  private readonly current = this.store.selectSignal(projectsFeature.selectProject);
  protected readonly edit = EDIT;

  constructor() {
    effect(() => {
      this.scansSeen();
      // Before the first scan nothing can be reached.
      if (this.current()?.lastScan?.state === 'done' && !this.current()?.running)
        this.store.dispatch(routeActions.load({ project: this.project() }));
    });
  }

  protected choose(box: HTMLSelectElement): void {
    if (box.value !== EDIT)
      return this.store.dispatch(routeActions.choose({ project: this.project(), name: box.value }));
    box.value = this.state().chosen;
    this.dialog.open(RoutesDialog, { width: '640px', data: { project: this.project() } });
  }
}
