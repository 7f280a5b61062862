import { useSyncExternalStore } from 'react';

export type Theme = 'light' | 'dark';
const KEY = 'crosspeen-theme';
const listeners = new Set<() => void>();

const stored = (): Theme => {
  const value = localStorage.getItem(KEY);
  if (value === 'light' || value === 'dark') return value;
  return matchMedia('(prefers-color-scheme: dark)').matches ? 'dark' : 'light';
};

export function setTheme(theme: Theme): void {
  localStorage.setItem(KEY, theme);
  document.documentElement.dataset['theme'] = theme;
  for (const listener of listeners) listener();
}

/** Puts the stored theme, or the device's own, on the page. */
export const applyTheme = (): void => { document.documentElement.dataset['theme'] = stored(); };

export const useTheme = (): Theme => useSyncExternalStore((listener) => { listeners.add(listener); return () => listeners.delete(listener); }, stored);
