import { useSyncExternalStore } from 'react';

export type Theme = 'light' | 'dark';

const KEY = 'yellow-spool-theme';
const listeners = new Set<() => void>();
let theme: Theme | undefined;

function present(): Theme {
  if (theme === undefined) {
    const kept = localStorage.getItem(KEY);
    const system = matchMedia('(prefers-color-scheme: dark)').matches ? 'dark' : 'light';
    show(kept === 'light' || kept === 'dark' ? kept : system);
  }
  return theme ?? 'light';
}

function show(next: Theme): void {
  theme = next;
  document.documentElement.dataset.theme = next;
}

function turn(): void {
  const next = present() === 'light' ? 'dark' : 'light';
  localStorage.setItem(KEY, next);
  show(next);
  for (const listener of listeners) listener();
}

/** The theme a person chose, else the one of the system; the same wherever it is asked for. */
export function useTheme(): [Theme, () => void] {
  const now = useSyncExternalStore((changed) => {
    listeners.add(changed);
    return () => {
      listeners.delete(changed);
    };
  }, present);
  return [now, turn];
}
