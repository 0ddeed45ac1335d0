import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatDialog } from '@angular/material/dialog';
import { RouterLink } from '@angular/router';
import type { ProjectView } from '@glue-trace/server/api';
import { Store } from '@ngrx/store';
import { EmptyBox } from '../shared/empty-box';
import { TroubleBox } from '../shared/trouble';
import { Waiting } from '../shared/waiting';
import { FolderChooser } from './folder-chooser';
import { projectsActions, projectsFeature } from './projects.state';

/** Projects that were opened, what each needs, and the way to open another. */
@Component({
  selector: 'glue-projects',
  imports: [EmptyBox, MatButtonModule, RouterLink, TroubleBox, Waiting],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './projects.html',
  styleUrl: './projects.scss',
})
export class Projects {
  private readonly store = inject(Store);
  private readonly dialog = inject(MatDialog);

  protected readonly list = this.store.selectSignal(projectsFeature.selectList);
  protected readonly isLoaded = this.store.selectSignal(projectsFeature.selectIsLoaded);
  protected readonly trouble = this.store.selectSignal(projectsFeature.selectTrouble);

  constructor() {
    this.store.dispatch(projectsActions.load());
  }

  /** Whether there is a plan to scan by, or one is learned. */
  protected isOpen({ plan }: ProjectView): boolean {
    return plan === 'ready' || plan === 'learned';
  }

  /** What a project needs before it can be scanned. */
  protected need({ plan, planError }: ProjectView): string {
    if (plan === 'folder gone') return 'folder gone';
    return planError?.mistakes.length ? 'plan has mistakes' : 'plan cannot be read';
  }

  protected reload(): void {
    this.store.dispatch(projectsActions.load());
  }

  protected open(folder: string): void {
    if (folder.trim()) this.store.dispatch(projectsActions.open({ folder: folder.trim() }));
  }

  protected chooseFolder(): void {
    this.dialog
      .open<FolderChooser, void, string>(FolderChooser, { width: '620px' })
      .afterClosed()
      .subscribe((folder) => folder && this.open(folder));
  }

  protected forget(project: ProjectView): void {
    this.store.dispatch(projectsActions.forget({ project: project.id }));
  }

  protected scan(project: ProjectView): void {
    this.open(project.folder);
  }
}
