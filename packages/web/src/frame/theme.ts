export type Theme = 'system' | 'light' | 'night';

const KEY = 'theme';
const NIGHT = '(prefers-color-scheme: dark)';

export function storedTheme(): Theme {
  const stored = localStorage.getItem(KEY);
  return stored === 'light' || stored === 'night' ? stored : 'system';
}

/** Sets the theme on the page and keeps it for the next visit. */
export function applyTheme(theme: Theme): void {
  if (theme === 'system') localStorage.removeItem(KEY);
  else localStorage.setItem(KEY, theme);
  show();
}

function show(): void {
  const theme = storedTheme();
  const isNight = theme === 'night' || (theme === 'system' && matchMedia(NIGHT).matches);
  document.documentElement.dataset['theme'] = isNight ? 'night' : 'light';
}

if (typeof matchMedia === 'function') matchMedia(NIGHT).addEventListener('change', show);
