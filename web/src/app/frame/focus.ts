import { inject, Injectable } from '@angular/core';
import { MatDialog } from '@angular/material/dialog';
import { NavigationEnd, NavigationStart, Router } from '@angular/router';
import { takesText } from '../shared/keys';

/** What tells a control apart from the others of its page, also when the page is drawn anew. */
interface Mark {
  tag: string;
  name: string | null;
  href: string | null;
  words: string;
}

/** Controls that had the focus, and pages, of which is known where to come back to. */
const MOST_KEPT = 30;
/** Answers may take so long, in milliseconds, before a control is no longer waited for. */
const PATIENCE = 4000;

/**
 * Keeps the focus on the page: it goes along to another view, back to where it was when somebody comes back, and to what
 * had it before when what has it goes away.
 */
@Injectable({ providedIn: 'root' })
export class FocusKeeper {
  private readonly router = inject(Router);
  private readonly dialogs = inject(MatDialog);
  private main!: HTMLElement;
  /** What has the focus on the page. */
  private held: HTMLElement | null = null;
  /** What had it, the latest last. */
  private had: HTMLElement[] = [];
  /** By the number of the navigation that led to a page. */
  private readonly left = new Map<number, Mark>();
  private page = { number: 0, path: '' };
  private wanted: { mark: Mark; until: number } | null = null;

  /** Call once. @param main holds the page; it takes the focus by `tabindex="-1"` */
  follow(main: HTMLElement): void {
    this.main = main;
    const page = this.router.lastSuccessfulNavigation();
    if (page) this.page = { number: page.id, path: pathOf(this.router.url) };
    main.addEventListener('focusin', ({ target }) => this.take(target));
    main.addEventListener('focusout', ({ target }) => {
      // Where what had the focus goes away, it is still there just now.
      setTimeout(() => {
        if (this.held === target && this.held?.isConnected && document.activeElement !== target) this.held = null;
      });
    });
    for (const moved of ['pointerdown', 'keydown'])
      document.addEventListener(moved, () => (this.wanted = null), { capture: true });
    new MutationObserver(() => this.look()).observe(main, { childList: true, subtree: true });
    this.dialogs.afterOpened.subscribe((dialog) => {
      // What had the focus in a dialog may go as well: the dialog keeps it.
      const box = (): HTMLElement | null => document.getElementById(dialog.id);
      const before = this.held;
      const watch = new MutationObserver(() => isNowhere() && box()?.focus());
      dialog.afterOpened().subscribe(() => {
        const shown = box();
        if (shown) watch.observe(shown, { childList: true, subtree: true });
        if (isNowhere()) shown?.focus();
      });
      dialog.afterClosed().subscribe(() => {
        watch.disconnect();
        setTimeout(() => before && isNowhere() && this.giveBack());
      });
    });
    this.router.events.subscribe((event) => {
      if (event instanceof NavigationStart) this.leave(event);
      if (event instanceof NavigationEnd) this.arrive(event);
    });
  }

  private take(target: EventTarget | null): void {
    if (!(target instanceof HTMLElement)) return;
    this.held = target;
    if (target === this.main) return;
    this.had = [...this.had.filter((one) => one !== target), target].slice(-MOST_KEPT);
  }

  private leave({ restoredState }: NavigationStart): void {
    const last = this.had.findLast((one) => one.isConnected && !takesText(one));
    if (last) this.left.set(this.page.number, markOf(last));
    for (const number of [...this.left.keys()].slice(0, -MOST_KEPT)) this.left.delete(number);
    const mark = restoredState && this.left.get(restoredState.navigationId);
    this.wanted = mark ? { mark, until: Date.now() + PATIENCE } : null;
  }

  private arrive({ id, urlAfterRedirects }: NavigationEnd): void {
    const path = pathOf(urlAfterRedirects);
    const isOther = this.page.path !== '' && this.page.path !== path;
    this.page = { number: id, path };
    // Where only a part of the page is another one, or what was wanted is there again, it has the focus.
    if (!isOther || (this.held !== this.main && this.held?.isConnected)) return;
    // Whoever is led from page to page goes on from there.
    if (document.activeElement?.closest('[data-keeps-focus]')) return;
    this.had = [];
    this.main.focus({ preventScroll: true });
  }

  /** The page has changed: what is waited for may have come, and what had the focus may have gone. */
  private look(): void {
    if (this.wanted && Date.now() > this.wanted.until) this.wanted = null;
    const found = this.wanted && find(this.main, this.wanted.mark);
    if (found) {
      this.wanted = null;
      found.focus();
    } else if (this.held && !this.held.isConnected && isNowhere()) this.giveBack();
  }

  private giveBack(): void {
    const before = this.had.findLast(
      // Keys that are meant for the page must not be written into a box.
      (one) => one.isConnected && one.checkVisibility() && !one.matches(':disabled') && !takesText(one),
    );
    const to = before ?? this.main.querySelector<HTMLElement>('[data-list]') ?? this.main;
    to.focus({ preventScroll: true });
  }
}

const pathOf = (address: string): string => address.split(/[?#]/)[0] ?? '';

/** Nothing has the focus. */
const isNowhere = (): boolean => document.activeElement === null || document.activeElement === document.body;

const markOf = (one: HTMLElement): Mark => ({
  tag: one.tagName,
  name: one.getAttribute('aria-label'),
  href: one.getAttribute('href'),
  words: wordsOf(one),
});

/** A control with a name needs no words: what is chosen in a box, or stands in a list, is another time another one. */
const wordsOf = (one: HTMLElement): string =>
  one.hasAttribute('aria-label') ? '' : (one.textContent ?? '').trim().slice(0, 200);

const find = (main: HTMLElement, mark: Mark): HTMLElement | undefined =>
  [...main.querySelectorAll<HTMLElement>(mark.tag)].find(
    (one) =>
      one.getAttribute('aria-label') === mark.name &&
      one.getAttribute('href') === mark.href &&
      wordsOf(one) === mark.words &&
      one.checkVisibility(),
  );
