/** The title of the page: the piece, the view, the project. */
import { effect, inject, Injectable, signal } from '@angular/core';
import { Title } from '@angular/platform-browser';
import { TitleStrategy, type RouterStateSnapshot } from '@angular/router';
import { Store } from '@ngrx/store';
import { projectsFeature } from '../projects/projects.state';

@Injectable({ providedIn: 'root' })
export class PageTitle extends TitleStrategy {
  private readonly view = signal('');
  private readonly address = signal('');
  /** What the view is about: a piece, a finding, a page of the guide. */
  private readonly subject = signal('');

  constructor() {
    super();
    const title = inject(Title);
    const project = inject(Store).selectSignal(projectsFeature.selectProject);
    effect(() => {
      const name = /^\/p\//.test(this.address()) ? project()?.name : undefined;
      title.setTitle([this.subject(), this.view(), name, 'Glue Trace'].filter(Boolean).join(' · '));
    });
  }

  override updateTitle(snapshot: RouterStateSnapshot): void {
    const view = this.buildTitle(snapshot) ?? '';
    const path = snapshot.url.split('?')[0] ?? '';
    if (path !== this.address()) this.subject.set('');
    this.address.set(path);
    this.view.set(view);
  }

  /** Names what the view is about, as long as it stays open. */
  about(subject: string): void {
    this.subject.set(subject);
  }
}
