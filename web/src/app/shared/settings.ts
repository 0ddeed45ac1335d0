/** What somebody wants of the interface, kept by this browser and the same in all its windows. */
import { Injectable, signal } from '@angular/core';

export interface Settings {
  theme: 'system' | 'light' | 'dark';
  /** How much room rows take. */
  rows: 'roomy' | 'close';
  /** Lines of code that are longer than their frame. */
  longLines: 'scroll' | 'wrap';
  /** Keys that are single letters or signs. */
  keys: 'on' | 'off';
  /** An address that opens a line in an editor: `{file}` and `{line}` stand for the place; empty for none. */
  editor: string;
}

export const DEFAULTS: Settings = { theme: 'system', rows: 'roomy', longLines: 'scroll', keys: 'on', editor: '' };
const KEY = 'glue-settings';

@Injectable({ providedIn: 'root' })
export class SettingsStore {
  readonly now = signal<Settings>(read());

  constructor() {
    // Another window on this machine has changed them.
    addEventListener('storage', ({ key }) => key === KEY && this.put(read()));
  }

  change(part: Partial<Settings>): void {
    this.put({ ...this.now(), ...part });
    localStorage.setItem(KEY, JSON.stringify(this.now()));
  }

  /** In force at once, so that what is looked at next is already drawn with it. */
  private put(settings: Settings): void {
    this.now.set(settings);
    apply(settings);
  }
}

/** Puts what was chosen earlier in force before anything is shown. */
export function applySettings(): void {
  apply(read());
}

function apply({ theme, rows, longLines }: Settings): void {
  const { dataset } = document.documentElement;
  if (theme === 'system') delete dataset['theme'];
  else dataset['theme'] = theme;
  dataset['rows'] = rows;
  dataset['lines'] = longLines;
}

function read(): Settings {
  try {
    const kept = JSON.parse(localStorage.getItem(KEY) ?? '{}') as Partial<Settings>;
    return { ...DEFAULTS, ...kept };
  } catch {
    return DEFAULTS;
  }
}

/** The address of a place in the editor; null where none is set, or where the address would run something here. */
export function editorAddress(template: string, file: string, line: number): string | null {
  if (!/^[a-z][a-z0-9+.-]*:/i.test(template) || /^(?:javascript|data|vbscript|blob):/i.test(template)) return null;
  const path = file.split('/').map(encodeURIComponent).join('/');
  return template.replaceAll('{file}', path).replaceAll('{line}', String(line));
}
