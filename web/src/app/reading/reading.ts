import { must } from '@glue-trace/core/browser';
import { ChangeDetectionStrategy, Component, computed, effect, inject, input, numberAttribute } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { RouterLink } from '@angular/router';
import type { Coverage, FileStatus, RuleView } from '@glue-trace/server/api';
import { Store } from '@ngrx/store';
import { projectsFeature } from '../projects/projects.state';
import { injectAddress } from '../shared/address';
import { FilterBar } from '../shared/filter-bar';
import { LeftOut } from '../shared/left-out';
import { TroubleBox } from '../shared/trouble';
import { Waiting } from '../shared/waiting';
import { WordsBox } from '../shared/words-box';
import { readingActions, readingFeature } from './reading.state';

const STATUSES: FileStatus[] = ['read', 'partly', 'listed', 'unread'];
const WORDS: Record<FileStatus, string> = {
  read: 'read fully',
  partly: 'read with faults',
  listed: 'known by name',
  unread: 'read by nothing',
};

const GROUP = /\.(pieces|references|events|connections|attachments)\./;

/** What was read of the project and what was not: by folder, by ending, by rule of the plan, and file by file. */
@Component({
  selector: 'glue-reading',
  imports: [FilterBar, LeftOut, MatButtonModule, RouterLink, TroubleBox, Waiting, WordsBox],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './reading.html',
  styleUrl: './reading.scss',
})
export class Reading {
  readonly project = input.required({ transform: numberAttribute });
  readonly status = input<string>();
  readonly folder = input<string>();
  readonly text = input<string>();

  private readonly store = inject(Store);
  private readonly address = injectAddress();
  protected readonly state = this.store.selectSignal(readingFeature.selectReadingState);
  private readonly scansSeen = this.store.selectSignal(projectsFeature.selectScansSeen);
  protected readonly statuses = STATUSES;
  protected readonly words = WORDS;

  protected readonly chosenFolder = computed(() => this.folder() ?? '');
  protected readonly heading = computed(() => {
    const { total } = must(this.state().page);
    const missed = total.unread + total.partly;
    const all = STATUSES.reduce((sum, status) => sum + total[status], 0);
    if (missed === 0) return `All ${all} files are accounted for`;
    return `${missed} of ${all} files ${missed === 1 ? 'is' : 'are'} not fully read`;
  });
  protected readonly isFiltered = computed(() => Boolean(this.status() || this.folder() || this.text()));
  protected readonly idle = computed(() => must(this.state().page).rules.filter(isIdle).length);

  constructor() {
    effect(() => {
      this.scansSeen();
      this.store.dispatch(readingActions.load({ project: this.project() }));
    });
    effect(() => {
      this.scansSeen();
      const filter = { status: this.status() ?? '', folder: this.folder() ?? '', text: this.text() ?? '' };
      this.store.dispatch(readingActions.loadFiles({ project: this.project(), filter }));
    });
  }

  protected narrow(queryParams: Record<string, string | null>): void {
    this.address.go(queryParams);
  }

  protected clear(): void {
    this.narrow({ status: null, folder: null, text: null });
  }

  protected count({ counts }: Coverage): number {
    return STATUSES.reduce((sum, status) => sum + counts[status], 0);
  }

  protected isIdle(rule: RuleView): boolean {
    return isIdle(rule);
  }

  /** Rules inside a file's rule are set in under it. */
  protected depth(rule: RuleView): number {
    return GROUP.test(rule.rule) ? 1 : 0;
  }

  protected shortRule(rule: RuleView): string {
    return this.depth(rule) === 0
      ? rule.rule
      : rule.rule
          .replace(
            /^(?:files|scripts)\..+?\.(tables|embedded|pieces|references|events|connections|attachments)\./,
            '$1 · ',
          )
          .replace(/^((?:tables|embedded) · .+?)\.(pieces|references|events|connections|attachments)\./, '$1 · $2 · ');
  }
}

function isIdle({ files, pieces, uses = 0, links, lost }: RuleView): boolean {
  return files + pieces + uses + links + lost === 0;
}
