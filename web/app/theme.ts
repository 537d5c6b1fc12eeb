import { useLayoutEffect } from 'react';
import { setPreferences, usePreferences } from '../ui/preferences.ts';

export type Theme = 'light' | 'dark';

/** The theme a person chose, else the one of the system; the same wherever it is asked for. */
export function useTheme(): [Theme, () => void] {
  const { theme } = usePreferences();
  const system = matchMedia('(prefers-color-scheme: dark)').matches ? 'dark' : 'light';
  const now = theme === 'system' ? system : theme;
  useLayoutEffect(() => {
    document.documentElement.dataset.theme = now;
  }, [now]);
  const turn = (): void => {
    setPreferences({ theme: now === 'light' ? 'dark' : 'light' });
  };
  return [now, turn];
}
