/** What is typed and not yet saved: it is there again when the page or the dialog was left. */
import { signal, untracked, type WritableSignal } from '@angular/core';

/** A signal that this tab of the browser remembers, from the very moment that it is set: what holds it may go at once. */
export function draftSignal<Draft>(key: string, empty: Draft): WritableSignal<Draft> {
  const draft = signal(remembered(key, empty));
  const set = draft.set.bind(draft);
  draft.set = (now) => {
    set(now);
    remember(key, JSON.stringify(now) === JSON.stringify(empty) ? null : now);
  };
  draft.update = (change) => draft.set(change(untracked(draft)));
  return draft;
}

/** Keeps a draft in this tab of the browser; null forgets it. */
export function remember(key: string, draft: unknown): void {
  try {
    if (draft === null) sessionStorage.removeItem(key);
    else sessionStorage.setItem(key, JSON.stringify(draft));
  } catch {
    // There is no room left: it stays as long as the page does.
  }
}

export function remembered<Draft>(key: string, empty: Draft): Draft {
  try {
    const text = sessionStorage.getItem(key);
    return text === null ? empty : (JSON.parse(text) as Draft);
  } catch {
    return empty;
  }
}
