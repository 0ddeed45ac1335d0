import { itemAt } from '@glue-trace/core/browser';
import { NgTemplateOutlet } from '@angular/common';
import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  ElementRef,
  inject,
  input,
  numberAttribute,
  signal,
  untracked,
} from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { Router, RouterLink } from '@angular/router';
import type { LearnedRow } from '@glue-trace/server/api';
import { Store } from '@ngrx/store';
import type { LearnedDecisions } from '../api';
import { injectAddress } from '../shared/address';
import { projectsFeature } from '../projects/projects.state';
import { EmptyBox } from '../shared/empty-box';
import { KeyHints } from '../shared/key-hints';
import { Keys } from '../shared/keys';
import { mapWords } from '../shared/map-counts';
import { TroubleBox } from '../shared/trouble';
import { Waiting } from '../shared/waiting';
import { learnActions, learnFeature } from './learn.state';

/** From here on a rule is sure enough to be taken with others. */
const LINES = [0.99, 0.95, 0.9, 0.8];

/** Rules that were learned from the files: sentence by sentence, to be taken or refused. */
@Component({
  selector: 'glue-learn',
  imports: [EmptyBox, KeyHints, MatButtonModule, NgTemplateOutlet, RouterLink, TroubleBox, Waiting],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './learn.html',
  styleUrl: './learn.scss',
})
export class Learn {
  readonly project = input.required({ transform: numberAttribute });
  /** Key of the rule in the pane. */
  readonly rule = input<string>();

  private readonly store = inject(Store);
  private readonly router = inject(Router);
  private readonly address = injectAddress();
  private readonly element = inject<ElementRef<HTMLElement>>(ElementRef);
  protected readonly state = this.store.selectSignal(learnFeature.selectLearnState);
  protected readonly lines = LINES;
  protected readonly line = signal(0.95);

  /** Questions come first, the one whose answer settles most at the top; else what is used most. */
  protected readonly asksFirst = signal(false);
  protected readonly rows = computed(() => {
    const rules = (this.state().page?.rules ?? []).filter(({ key }) => !this.left().has(key));
    return this.asksFirst() ? [...rules].sort((a, b) => b.asks - a.asks) : rules;
  });
  protected readonly questions = computed(() => this.rows().filter(({ asks }) => asks > 0).length);
  protected readonly at = computed(() => {
    const rows = this.rows();
    const found = rows.findIndex(({ key }) => key === this.rule());
    return found < 0 ? Math.min(this.last(), rows.length - 1) : found;
  });
  protected readonly open = computed((): LearnedRow | undefined => this.rows()[this.at()]);
  protected readonly sure = computed(() =>
    this.rows().filter(({ sure, is }) => is !== 'failing' && sure >= this.line()),
  );
  /** Rules that do not hold and are left as they are. */
  private readonly left = signal(new Set<string>());
  protected readonly map = computed(() => {
    const counts = this.state().counts;
    return counts ? mapWords(counts) : '';
  });
  /** What learning again came to. */
  protected readonly found = computed(() => {
    const page = this.state().page;
    if (!page?.isAgain) return '';
    const fresh = this.rows().filter(({ is }) => is === 'new').length;
    const failing = this.rows().filter(({ is }) => is === 'failing').length;
    if (fresh + failing === 0) return 'Learned again: the plan says all that was found.';
    const some = [
      ...(fresh > 0 ? [`${fresh} ${fresh === 1 ? 'rule is' : 'rules are'} new`] : []),
      ...(failing > 0 ? [`${failing} of the plan ${failing === 1 ? 'does' : 'do'} not hold`] : []),
    ];
    return `Learned again: ${some.join(', ')}.`;
  });
  protected readonly heading = computed(() => {
    const count = this.rows().length;
    return count === 0
      ? `No learned rule ${this.state().page?.isWritten ? 'is left ' : ''}to look at`
      : `${count} learned ${count === 1 ? 'rule' : 'rules'} to look at`;
  });
  /** Where the rule stood that was decided last: the next one stands there now. */
  private readonly last = signal(0);

  constructor() {
    effect(() => this.store.dispatch(learnActions.load({ project: this.project() })));
    // Each decision makes the map anew.
    const scansSeen = this.store.selectSignal(projectsFeature.selectScansSeen);
    effect(() => {
      scansSeen();
      this.store.dispatch(learnActions.count({ project: this.project() }));
    });
    effect(() => {
      this.open();
      untracked(() => this.element.nativeElement.querySelector('.row.on')?.scrollIntoView({ block: 'nearest' }));
    });
    const keys = inject(Keys);
    keys.bindList('learn', (by) => this.move(by));
    keys.bindFor('learn', {
      y: () => this.decide('take'),
      n: () => this.decide('refuse'),
      '1': () => this.mean(0),
      '2': () => this.mean(1),
      o: () => this.order(),
      c: () => this.change(),
      a: () => this.takeSure(),
      l: () => this.learnAgain(),
      u: () => this.takeBack(),
    });
  }

  protected percent(share: number): string {
    return `${Math.round(100 * share)} %`;
  }

  protected show(key: string): void {
    this.address.go({ rule: key });
  }

  protected decide(how: 'take' | 'refuse'): void {
    const row = this.open();
    if (!row) return;
    this.last.set(this.at());
    if (row.is === 'failing' && how === 'take') return this.left.update((left) => new Set([...left, row.key]));
    const words = `${how === 'take' ? 'Taken' : 'Refused'}: ${row.says}`;
    if (row.is === 'new' && how === 'take') return this.send({ put: [putOf(row)] }, words);
    this.send({ [how]: [row.key] }, words);
  }

  protected takeSure(): void {
    const keys = this.sure();
    if (keys.length === 0) return;
    this.last.set(0);
    this.send(
      {
        take: keys.filter(({ is }) => is !== 'new').map(({ key }) => key),
        put: keys.filter(({ is }) => is === 'new').map(putOf),
      },
      `Taken: ${keys.length} ${keys.length === 1 ? 'rule' : 'rules'} that ${keys.length === 1 ? 'is' : 'are'} surer than ${this.percent(this.line())}`,
    );
  }

  /** Something else is meant than what the rule says. */
  protected mean(at: number): void {
    const row = this.open();
    const other = row?.others[at];
    if (!row || !other) return;
    this.last.set(this.at());
    const rule = JSON.parse(other.rule) as Record<string, unknown>;
    const { key = row.key } = other;
    this.send(
      { put: [{ key, rule }], refuse: key === row.key ? [] : [row.key] },
      `Changed: it names ${other.says}, and not what was learned`,
    );
  }

  protected learnAgain(): void {
    const { page, isLearning, isSaving } = this.state();
    if (!page?.isWritten || isLearning || isSaving) return;
    this.left.set(new Set());
    this.last.set(0);
    this.store.dispatch(learnActions.again({ project: this.project() }));
  }

  protected order(): void {
    this.asksFirst.update((first) => !first);
    this.last.set(0);
    this.address.go({ rule: null });
  }

  protected takeBack(): void {
    const { decided, page, isSaving } = this.state();
    if (decided && page && !isSaving)
      this.store.dispatch(learnActions.takeBack({ project: this.project(), text: decided.text, hash: page.hash }));
  }

  protected reload(): void {
    this.store.dispatch(learnActions.load({ project: this.project() }));
  }

  private send(some: Partial<LearnedDecisions>, words: string): void {
    const { page, isSaving } = this.state();
    if (!page || isSaving) return;
    const { hash, text } = page;
    const decisions = { take: [], refuse: [], put: [], ...some };
    this.store.dispatch(learnActions.decide({ project: this.project(), decisions, hash, words, text }));
  }

  /** Nothing is changed in a plan that is no file yet. */
  private change(): void {
    if (this.state().page?.isWritten) void this.router.navigate(['/p', this.project(), 'reading', 'plan']);
  }

  private move(by: number): void {
    const rows = this.rows();
    if (rows.length === 0) return;
    const to = Math.max(0, Math.min(rows.length - 1, this.at() + by));
    this.show(itemAt(rows, to).key);
  }
}

/** A new rule as it is put into the plan. */
function putOf({ key, rule, inner }: LearnedRow): LearnedDecisions['put'][number] {
  return { key, rule: JSON.parse(rule) as Record<string, unknown>, ...(inner && { inner }) };
}
