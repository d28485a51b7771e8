import { useSyncExternalStore } from 'react';

export type Theme = 'light' | 'dim';

const CHANGED = 'themechange';
const root = (): HTMLElement => document.documentElement;

/** Takes the theme chosen before, or else what the machine prefers. */
export function startTheme(): void {
  const chosen = localStorage.getItem('theme');
  const dark = matchMedia('(prefers-color-scheme: dark)').matches;
  root().dataset.theme = chosen ?? (dark ? 'dim' : 'light');
}

export function setTheme(theme: Theme): void {
  root().dataset.theme = theme;
  localStorage.setItem('theme', theme);
  window.dispatchEvent(new Event(CHANGED));
}

const subscribe = (listener: () => void): (() => void) => {
  window.addEventListener(CHANGED, listener);
  return () => window.removeEventListener(CHANGED, listener);
};

export const useTheme = (): Theme =>
  useSyncExternalStore(subscribe, () => (root().dataset.theme === 'dim' ? 'dim' : 'light'));
