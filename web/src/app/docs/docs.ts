import type { ElementRef } from '@angular/core';
import {
  afterRenderEffect,
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  input,
  signal,
  viewChild,
} from '@angular/core';
import { toObservable, toSignal } from '@angular/core/rxjs-interop';
import { ActivatedRoute, Router, RouterLink } from '@angular/router';
import { from, startWith, switchMap } from 'rxjs';
import { articleOf, type Article, type Section } from './markdown';
import { PageTitle } from '../shared/page-title';
import { Waiting } from '../shared/waiting';
import { PAGES, PICTURES } from './pages';

/** Null while it is loading; undefined when there is no such page. */
type Shown = Article | null | undefined;

/** Sections of which the search tells. */
const MOST_FOUND = 30;

/** The documentation, inside the application. */
@Component({
  selector: 'glue-docs',
  imports: [RouterLink, Waiting],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './docs.html',
  styleUrl: './docs.scss',
})
export class Docs {
  readonly page = input('first-plan');

  private readonly router = inject(Router);
  private readonly body = viewChild<ElementRef<HTMLElement>>('body');
  private readonly read = new Map<string, Promise<Article | undefined>>();

  protected readonly pages = PAGES;
  protected readonly wanted = signal('');
  protected readonly article = toSignal(
    toObservable(this.page).pipe(switchMap((page) => from(this.articleOn(page)).pipe(startWith<Shown>(null)))),
    { initialValue: null as Shown },
  );
  private readonly fragment = toSignal(inject(ActivatedRoute).fragment, { initialValue: null });

  /** All pages, once something is looked for. */
  private readonly all = toSignal(
    toObservable(computed(() => this.wanted() !== '')).pipe(
      switchMap((isWanted) => (isWanted ? Promise.all(PAGES.map(({ name }) => this.articleOn(name))) : [])),
    ),
    { initialValue: [] as (Article | undefined)[] },
  );
  protected readonly found = computed(() => {
    const words = this.wanted().toLowerCase().split(/\s+/).filter(Boolean);
    const holds = (text: string): boolean => words.every((word) => text.toLowerCase().includes(word));
    const all = this.all().flatMap((article, at) =>
      (article?.sections ?? []).map((section) => ({
        ...section,
        page: PAGES[at]?.name ?? '',
        of: PAGES[at]?.title ?? '',
      })),
    );
    const named = all.filter(({ title }) => holds(title));
    const others = all.filter(({ title, text }) => !holds(title) && holds(`${title} ${text}`));
    return [...named, ...others].slice(0, MOST_FOUND);
  });

  constructor() {
    const title = inject(PageTitle);
    effect(() => title.about(PAGES.find(({ name }) => name === this.page())?.title ?? ''));
    afterRenderEffect(() => {
      const body = this.body()?.nativeElement;
      const article = this.article();
      const fragment = this.fragment();
      if (!body || !article) return;
      const headings = body.querySelectorAll('.section');
      article.sections.forEach(({ id }, at) => headings[at]?.setAttribute('id', id));
      // Wide tables move in a frame of their own, which the keyboard can move as well.
      for (const table of body.querySelectorAll('table'))
        if (!table.parentElement?.classList.contains('wide')) {
          const frame = Object.assign(document.createElement('div'), { className: 'wide', tabIndex: 0 });
          table.replaceWith(frame);
          frame.append(table);
        }
      for (const code of body.querySelectorAll('pre')) code.tabIndex = 0;
      const goal = fragment ? document.getElementById(fragment) : null;
      if (goal) goal.scrollIntoView();
      else body.parentElement?.scrollTo(0, 0);
    });
  }

  /** The sections of the page that is open. */
  protected sections(): Section[] {
    return this.article()?.sections.filter(({ depth }) => depth === 2) ?? [];
  }

  /** Links inside the pages lead on without loading the application anew. */
  protected follow(event: MouseEvent): void {
    const href = (event.target as Element).closest('a')?.getAttribute('href');
    if (!href || event.ctrlKey || event.metaKey || !/^(#|\/docs\/[\w-]+(#|$))/.test(href)) return;
    event.preventDefault();
    void this.router.navigateByUrl(href.startsWith('#') ? `/docs/${this.page()}${href}` : href);
  }

  private articleOn(page: string): Promise<Article | undefined> {
    let read = this.read.get(page);
    if (!read) {
      const known = PAGES.find(({ name }) => name === page);
      read = known ? known.load().then(({ default: text }) => articleOf(text, PICTURES)) : Promise.resolve(undefined);
      this.read.set(page, read);
    }
    return read;
  }
}
