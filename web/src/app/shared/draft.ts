/** What is typed and not yet saved: it is there again when the page or the dialog was left. */
import { effect, signal, type WritableSignal } from '@angular/core';

/** A signal that this tab of the browser remembers. Call where dependencies can be injected. */
export function draftSignal<Draft>(key: string, empty: Draft): WritableSignal<Draft> {
  const draft = signal(remembered(key, empty));
  effect(() => {
    const now = draft();
    if (JSON.stringify(now) === JSON.stringify(empty)) sessionStorage.removeItem(key);
    else sessionStorage.setItem(key, JSON.stringify(now));
  });
  return draft;
}

function remembered<Draft>(key: string, empty: Draft): Draft {
  try {
    const text = sessionStorage.getItem(key);
    return text === null ? empty : (JSON.parse(text) as Draft);
  } catch {
    return empty;
  }
}
