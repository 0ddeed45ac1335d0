import { ChangeDetectionStrategy, Component, computed, inject, Injectable, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { Router } from '@angular/router';
import { Store } from '@ngrx/store';
import { projectsFeature } from '../projects/projects.state';

const KEY = 'glue-visited';

/** Where each step leads, and what it says. */
const STEPS = [
  {
    view: 'readiness',
    words: 'The verdict comes first: can people sit down to play? Below it stands what blocks it, worst first.',
  },
  {
    view: 'findings',
    words:
      'Each line is one fault, said in a sentence. j opens the next one; beside it stand the evidence, why it is sure, and what to do.',
  },
  {
    view: 'trace',
    words:
      'Trace shows a piece, who relies on it and what it relies on. The stitches before a line say how firmly it holds.',
  },
  {
    view: 'wiring',
    words: 'Wiring lists every event with who sends it and who listens. A missing end is a wire that leads nowhere.',
  },
  {
    view: 'play',
    words:
      'Play shows what really happens in a running game, beside what the map expects. That was all: ? tells the keys of each view.',
  },
] as const;

/** The way through the views for somebody who is here for the first time. */
@Injectable({ providedIn: 'root' })
export class FirstVisit {
  private readonly router = inject(Router);
  private readonly project = inject(Store).selectSignal(projectsFeature.selectProject);
  /** Position of the step that is shown; -1 for none. */
  readonly at = signal(-1);
  private readonly isKnown = signal(localStorage.getItem(KEY) !== null);
  /** Nobody was led around yet in this browser, and there is something to show. */
  readonly isOffered = computed(() => !this.isKnown() && this.at() < 0 && this.project()?.lastScan?.state === 'done');
  readonly step = computed(() => STEPS[this.at()]);
  readonly isLast = computed(() => this.at() === STEPS.length - 1);
  readonly count = STEPS.length;

  begin(): void {
    this.go(0);
  }
  go(at: number): void {
    const step = STEPS[at];
    const project = this.project();
    if (!step || !project) return this.leave();
    this.at.set(at);
    void this.router.navigate(['/p', project.id, step.view]);
  }
  leave(): void {
    this.at.set(-1);
    this.isKnown.set(true);
    localStorage.setItem(KEY, 'yes');
  }
}

/** The offer, and the steps. */
@Component({
  selector: 'glue-first-visit',
  imports: [MatButtonModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (visit.step(); as step) {
      <section aria-label="Shown around" data-keeps-focus>
        <p aria-live="polite">
          <b>{{ visit.at() + 1 }} of {{ visit.count }}.</b> {{ step.words }}
        </p>
        <p class="ways">
          @if (visit.at() > 0) {
            <button matButton (click)="visit.go(visit.at() - 1)">Back</button>
          }
          @if (visit.isLast()) {
            <button matButton="filled" (click)="visit.leave()">Done</button>
          } @else {
            <button matButton="filled" (click)="visit.go(visit.at() + 1)">Next</button>
            <button matButton (click)="visit.leave()">Leave</button>
          }
        </p>
      </section>
    } @else if (visit.isOffered()) {
      <section aria-label="For a first visit">
        <p>New here? Five short steps show what stands where.</p>
        <p class="ways">
          <button matButton="filled" (click)="visit.begin()">Show me around</button>
          <button matButton (click)="visit.leave()">Not now</button>
        </p>
      </section>
    }
  `,
  styles: `
    :host {
      display: contents;
    }
    section {
      position: fixed;
      right: 20px;
      bottom: 20px;
      z-index: 15;
      width: min(380px, calc(100vw - 24px));
      padding: 10px 16px;
      border: 1px solid var(--amber);
      border-radius: 8px;
      background: var(--surface);
      box-shadow: var(--shadow);
    }
    p {
      margin: 4px 0;
    }
    .ways {
      display: flex;
      gap: 8px;
    }
  `,
})
export class FirstVisitSteps {
  protected readonly visit = inject(FirstVisit);
}
