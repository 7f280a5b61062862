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

/**
 * Puts the stored theme, or the device's own, on the page, and follows the device from then on where none is stored.
 */
export function applyTheme(): void {
  const apply = (): void => {
    document.documentElement.dataset['theme'] = stored();
    for (const listener of listeners) listener();
  };
  matchMedia('(prefers-color-scheme: dark)').addEventListener('change', apply);
  apply();
}

export const useTheme = (): Theme =>
  useSyncExternalStore((listener) => {
    listeners.add(listener);
    return () => listeners.delete(listener);
  }, stored);
