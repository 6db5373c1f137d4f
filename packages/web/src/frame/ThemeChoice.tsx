import { useState } from 'react';
import { applyTheme, storedTheme, type Theme } from './theme';

const NAMES: Readonly<Record<Theme, string>> = {
  system: 'as the system',
  light: 'light',
  night: 'night',
};
const NEXT: Readonly<Record<Theme, Theme>> = { system: 'light', light: 'night', night: 'system' };

export function ThemeChoice() {
  const [theme, setTheme] = useState(storedTheme);
  const change = (): void => {
    const next = NEXT[theme];
    applyTheme(next);
    setTheme(next);
  };
  return (
    <button
      type="button"
      onClick={change}
      className="text-left underline decoration-rule-strong underline-offset-3"
    >
      colours: {NAMES[theme]}
    </button>
  );
}
