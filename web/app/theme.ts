import { useEffect, useState } from 'react';

export type Theme = 'light' | 'dark';

const KEY = 'yellow-spool-theme';

function firstTheme(): Theme {
  const kept = localStorage.getItem(KEY);
  if (kept === 'light' || kept === 'dark') return kept;
  return matchMedia('(prefers-color-scheme: dark)').matches ? 'dark' : 'light';
}

/** The theme a person chose, else the one of the system. */
export function useTheme(): [Theme, () => void] {
  const [theme, setTheme] = useState<Theme>(firstTheme);
  useEffect(() => {
    document.documentElement.dataset.theme = theme;
  }, [theme]);
  const turn = (): void => {
    const next = theme === 'light' ? 'dark' : 'light';
    localStorage.setItem(KEY, next);
    setTheme(next);
  };
  return [theme, turn];
}
