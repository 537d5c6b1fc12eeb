import { useCallback, useSyncExternalStore } from 'react';

/** Whether the window is as a media query says, anew when that changes. */
export function useMedia(query: string): boolean {
  const subscribe = useCallback(
    (changed: () => void) => {
      const list = window.matchMedia(query);
      list.addEventListener('change', changed);
      return () => {
        list.removeEventListener('change', changed);
      };
    },
    [query],
  );
  return useSyncExternalStore(subscribe, () => window.matchMedia(query).matches);
}

/** A phone, or a window that is enlarged: one column, nothing side by side. The same bound as in the style sheet. */
export function usePhone(): boolean {
  return useMedia('(width < 700px)');
}
