/** Light and dark, remembered by the browser; the system's choice until one is made. */
import { useSyncExternalStore } from 'react';

export type Theme = 'light' | 'dark';

const KEY = 'zorvet.theme';
const listeners = new Set<() => void>();

function read(): Theme {
  const stored = localStorage.getItem(KEY);
  if (stored === 'light' || stored === 'dark') return stored;
  return window.matchMedia('(prefers-color-scheme: dark)').matches ? 'dark' : 'light';
}

export function applyTheme(): void {
  document.documentElement.dataset['theme'] = read();
}

export function setTheme(theme: Theme): void {
  localStorage.setItem(KEY, theme);
  applyTheme();
  for (const listener of listeners) listener();
}

export function useTheme(): { readonly theme: Theme; readonly setTheme: (theme: Theme) => void } {
  const theme = useSyncExternalStore((listener) => {
    listeners.add(listener);
    return () => listeners.delete(listener);
  }, read);
  return { theme, setTheme };
}
