const KEY = 'glue-trace-theme';

/** Puts the theme chosen earlier in force; without a choice the system's counts. */
export function applyTheme(): void {
  const chosen = localStorage.getItem(KEY);
  if (chosen) document.documentElement.dataset['theme'] = chosen;
}

/** From light to dark and back, remembered on this machine. */
export function nextTheme(): void {
  const root = document.documentElement;
  const isDark = root.dataset['theme']
    ? root.dataset['theme'] === 'dark'
    : matchMedia('(prefers-color-scheme: dark)').matches;
  root.dataset['theme'] = isDark ? 'light' : 'dark';
  localStorage.setItem(KEY, root.dataset['theme']);
}
